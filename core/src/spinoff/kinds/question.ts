import { HANGING, type Ranked } from '../choose.js';
import { type Rule, TOO_LITTLE } from '../maker.js';

export const question: Rule = (m) => {
  const asked = m.ranked.best(m.wanted).filter((r) => r.text.endsWith('?') && !HANGING.test(r.text));
  const how = /^how (?:to|we|I)\s+(.+)$/i.exec(m.source.title)?.[1];
  const headings = m.ranked.headings().map((h) => h.text.replace(/[.?!]$/u, ''));
  const questions: { text: string; used: (Ranked | number)[] }[] = [
    ...asked.map((r) => ({ text: r.text, used: [r] })),
    ...(how ? [{ text: `How do you ${how.replace(/[.?!]$/u, '')}?`, used: [] }] : []),
    ...(headings.length >= 2
      ? [
          {
            text: `Where would you begin: “${headings[0]!}” or “${headings.at(-1)!}”?`,
            used: [m.ranked.headings()[0]!.at, m.ranked.headings().at(-1)!.at],
          },
        ]
      : []),
    { text: `What would you add to “${m.source.title}”?`, used: [] },
    { text: `“${m.source.title}”: how is it where you are?`, used: [] },
    { text: `What has “${m.source.title}” taught you the hard way?`, used: [] },
  ];
  const { text: question, used } = m.choice(questions);
  const made = m.fill(
    1,
    (text, call, tags) => m.stack(question, text, [call, tags].filter(Boolean).join('\n')),
    {
      ...m.wanted,
      used: new Map([
        ...(m.wanted.used ?? []),
        ...used.map((u) => [typeof u === 'number' ? u : u.at, 9] as const),
      ]),
    },
  );
  if (made) return { parts: [made.text], tags: m.tags, used: [...used, ...made.used] };
  return m.fits(question) ? { parts: [question], tags: m.tags, used } : TOO_LITTLE;
};
