import type { Ranked, Wanted } from '../choose.js';
import { MAX_PARTS, type Rule } from '../maker.js';

export const thread: Rule = (m) => {
  const headings = m.headings(4 * MAX_PARTS);
  const bySection = (section: number): Wanted => ({
    ...m.wanted,
    underHeading: section > 0,
    only: new Set(
      m.ranked.ranked
        .filter((r) => r.sentence.section === section && (!m.wanted.only || m.wanted.only.has(r.at)))
        .map((r) => r.at),
    ),
  });
  const inBlock = (block: number): Wanted => ({
    ...m.wanted,
    only: new Set(
      m.ranked.ranked
        .filter((r) => r.sentence.block === block && m.wanted.only?.has(r.at) !== false)
        .map((r) => r.at),
    ),
  });
  const sections = [0, ...headings.map((h) => h.section)]
    .filter((s) => m.ranked.pick(1, bySection(s)).length > 0)
    .slice(0, MAX_PARTS - 1);
  const parts: { text: string; used: (Ranked | number)[] }[] = [];
  const number = (text: string) => `${text} 8/8`;
  const put = (usual: number, wanted: Wanted, head: string) => {
    const made = m.fill(usual, (text) => number(m.stack(head, text)), wanted);
    if (made) parts.push({ text: made.text.replace(/ 8\/8$/, ''), used: made.used });
  };
  if (sections.length >= 2)
    for (const s of sections)
      put(2, bySection(s), s === 0 ? '' : headings.find((h) => h.section === s)!.text);
  else {
    // Without sections, a part is what a paragraph opens with.
    const opening = m.ranked
      .alone(m.wanted)
      .filter((r) => r.opens)
      .slice(0, MAX_PARTS - 2);
    for (const { sentence } of opening.sort((a, b) => a.at - b.at)) put(2, inBlock(sentence.block), '');
  }
  if (parts.length < 2) return 'The post says too little for a thread; a short post holds it.';
  const last = m.stack(m.source.title, m.call, m.tags.join(' '));
  if (m.link !== '')
    parts.push({
      text: [last, m.stack(m.source.title, m.call), m.link].find((t) => m.fits(number(t))) ?? m.link,
      used: [],
    });
  return {
    parts: parts.map((p, i) => `${p.text} ${i + 1}/${parts.length}`),
    tags: m.tags,
    used: parts.flatMap((p) => p.used),
  };
};
