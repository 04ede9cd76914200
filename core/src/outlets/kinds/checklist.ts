import type { Ranked } from '../choose.js';
import type { Rule } from '../maker.js';
import { hasVerb, isImperative } from '../../text/clause.js';
import { isClosed } from '../source.js';

/** Fewer are no list to tick off. */
const FEWEST = 3;

export const checklist: Rule = (m) => {
  const allowed = (r: Ranked) => !m.wanted.only || m.wanted.only.has(r.at);
  const able = (r: Ranked) => allowed(r) && isClosed(r.text) && !/[?:]$/u.test(r.text);
  const lists = listsOf(m.ranked.ranked).map((list) => list.filter(able));
  const steps = m.ranked.ranked.filter(
    (r, i) =>
      isImperative(r.text) &&
      able(r) &&
      (r.needs === null || isImperative(m.ranked.ranked[i - 1]?.text ?? '')),
  );
  // Things to do, else things to bring; a list that tells of something is none to tick off.
  const share = (list: readonly Ranked[], holds: (text: string) => boolean) =>
    list.filter((r) => holds(r.text)).length / list.length;
  const longest = (holds: (text: string) => boolean) =>
    lists
      .filter((list) => list.length >= FEWEST && share(list, holds) >= 2 / 3)
      .sort((a, b) => b.length - a.length)[0];
  const list = longest(isImperative) ?? longest((text) => isImperative(text) || !hasVerb(text));
  const from = list ?? steps;
  if (from.length < FEWEST) return 'The post has no list and no steps to make a checklist of.';
  const max = Math.min(7, m.max(7));
  const best = new Set(
    m.ranked
      .best(m.wanted)
      .filter((b) => from.some((f) => f.at === b.at))
      .slice(0, max)
      .map((b) => b.at),
  );
  // A step that goes on from the one before it comes with that or not at all.
  const items = from.filter(
    (r) => best.has(r.at) && (list !== undefined || r.needs === null || best.has(r.needs)),
  );
  for (let n = items.length; n >= FEWEST; n--) {
    // A list that is cut short leads to the rest, as long as anything here leads anywhere.
    const mayEnd = n === from.length || m.link === '';
    for (const end of [m.stack(m.call, m.tags.join(' ')), m.link, ...(mayEnd ? [''] : [])]) {
      const text = m.stack(
        m.audience,
        m.source.title,
        items
          .slice(0, n)
          .map((i) => `☐ ${i.text.replace(/[.;]$/u, '')}`)
          .concat(n < from.length ? [`… and ${from.length - n} more`] : [])
          .join('\n'),
        end,
      );
      if (m.fits(text)) return { parts: [text], tags: m.tags, used: items.slice(0, n) };
    }
  }
  return 'There is not room for even three steps.';
};

/** The lists of a post, each by the first sentences of its items. */
function listsOf(ranked: readonly Ranked[]): Ranked[][] {
  const lists: Ranked[][] = [];
  for (const r of ranked) {
    if (r.sentence.kind !== 'list') continue;
    const last = lists.at(-1)?.at(-1)?.sentence;
    if (last?.block === r.sentence.block) continue;
    if (last && last.block === r.sentence.block - 1 && last.section === r.sentence.section)
      lists.at(-1)!.push(r);
    else lists.push([r]);
  }
  return lists;
}
