import type { Ranked } from '../choose.js';
import { type Rule, TOO_LITTLE } from '../maker.js';

/** A question to readers: one of the post's own, or what the post tells, with a question behind it. */
export const question: Rule = (m) => {
  const how = /^how (?:to|we|I)\s+(.+)$/i.exec(m.source.title)?.[1];
  const own: { text: string; used: Ranked[] }[] = [
    ...m.asked().map((r) => ({ text: r.text, used: [r] })),
    ...(how ? [{ text: `How do you ${how.replace(/[.?!]$/u, '')}?`, used: [] }] : []),
  ];
  const chosen = m.turn < own.length ? own[m.turn]! : null;
  const made = m.fill(
    2,
    (text, call, tags) =>
      chosen
        ? m.stack(chosen.text, text, [call, tags].filter(Boolean).join('\n'))
        : m.stack(
            m.read.question ? text : m.stack(text, m.questionAfter(text)),
            [call, tags].filter(Boolean).join('\n'),
          ),
    {
      ...m.wanted,
      used: new Map([...(m.wanted.used ?? []), ...(chosen?.used ?? []).map((r) => [r.at, 9] as const)]),
    },
  );
  if (made) return { parts: [made.text], tags: m.tags, used: [...(chosen?.used ?? []), ...made.used] };
  return chosen && m.fits(chosen.text)
    ? { parts: [chosen.text], tags: m.tags, used: chosen.used }
    : TOO_LITTLE;
};
