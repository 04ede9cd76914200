import type { Ranked } from '../choose.js';
import type { Rule } from '../maker.js';
import { isStep } from '../words.js';

export const checklist: Rule = (m) => {
  const allowed = (r: Ranked) => !m.wanted.only || m.wanted.only.has(r.at);
  const first = (list: readonly Ranked[]) =>
    list.filter((r, i) => i === 0 || list[i - 1]!.sentence.block !== r.sentence.block);
  const listed = first(m.ranked.ranked.filter((r) => r.sentence.kind === 'list' && allowed(r)));
  const steps = m.ranked.ranked.filter((r) => isStep(r.text) && allowed(r));
  const from = listed.length >= 2 ? listed : steps.length >= 2 ? steps : null;
  const best = from
    ? new Set(
        m.ranked
          .best(m.wanted)
          .filter((b) => from.some((f) => f.at === b.at))
          .slice(0, Math.min(7, m.max(7)))
          .map((b) => b.at),
      )
    : null;
  const items: { text: string; used: Ranked | number }[] = from
    ? from.filter((r) => best!.has(r.at)).map((r) => ({ text: r.text, used: r }))
    : m.ranked
        .headings()
        .slice(0, 7)
        .map((h) => ({ text: h.text, used: h.at }));
  if (items.length < 2) return 'The post has no steps, list or headings to make a checklist of.';
  for (let n = items.length; n >= 2; n--) {
    for (const end of [m.stack(m.call, m.tags.join(' ')), m.link, '']) {
      const text = m.stack(
        m.audience(m.source.title),
        items
          .slice(0, n)
          .map((i) => `☐ ${i.text.replace(/[.;]$/u, '')}`)
          .join('\n'),
        end,
      );
      if (m.fits(text)) return { parts: [text], tags: m.tags, used: items.slice(0, n).map((i) => i.used) };
    }
  }
  return 'There is not room for even two steps.';
};
