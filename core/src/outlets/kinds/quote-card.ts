import { cardAlt } from '../alt.js';
import type { Ranked } from '../choose.js';
import { QUOTE, type Rule, signs } from '../maker.js';

const MARKS = /[“”"„«»]/u;
/** Is this a quotation from its first mark to its last, with nothing of the narrator's in it? */
const isQuotation = (text: string) => /^(?:“[^“”]*”|"[^"]*"|„[^„“]*“|«[^«»]*»)$/u.test(text);

/** What stands on the card: the author's own words, or those of somebody else as a whole. */
const quotable = ({ text, sentence }: Ranked) =>
  isQuotation(text) || (!MARKS.test(text) && sentence.kind !== 'list');

export const quoteCard: Rule = (m) => {
  const able = m.ranked
    .alone(m.wanted)
    .filter((r) => signs(r.text) <= QUOTE && r.words >= 6 && quotable(r) && !r.text.includes('http'));
  const worth = (r: Ranked) => r.score * (r.sentence.kind === 'quote' ? 4 : 1);
  const best = [...able].sort((a, b) => worth(b) - worth(a))[0];
  if (!best) return 'No sentence of the post stands alone and is short enough to quote.';
  const words = `“${best.text.replace(/^[“"„«]|[”"“»]$/gu, '')}”`;
  return {
    words,
    alt: cardAlt({ kind: 'quote card', shape: m.ask.shape, words }),
    parts: [m.stack(m.source.title, [m.call, m.tags.join(' ')].filter(Boolean).join('\n'))].map((t) =>
      m.fits(t) ? t : m.link || m.source.title,
    ),
    tags: m.tags,
    used: [best],
  };
};
