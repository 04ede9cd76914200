import { HANGING } from '../choose.js';
import { QUOTE, type Rule, signs } from '../maker.js';

export const quoteCard: Rule = (m) => {
  const able = m.ranked
    .best(m.wanted)
    .filter(
      (r) =>
        signs(r.text) <= QUOTE &&
        r.words >= 5 &&
        !HANGING.test(r.text) &&
        !/[?:]$/.test(r.text) &&
        !r.text.includes('http'),
    );
  const best = [...able].sort(
    (a, b) =>
      Number(b.sentence.kind === 'quote') * b.score * 3 +
      b.score -
      (Number(a.sentence.kind === 'quote') * a.score * 3 + a.score),
  )[0];
  if (!best) return 'No sentence of the post stands alone and is short enough to quote.';
  const words = `“${best.text.replace(/^[“"‘']|[”"’']$/gu, '')}”`;
  return {
    words,
    alt: `A ${m.ask.shape} card with a quotation: ${words}${m.source.byline ? ` ${m.source.byline}.` : ''}`,
    parts: [m.stack(m.source.title, [m.call, m.tags.join(' ')].filter(Boolean).join('\n'))].map((t) =>
      m.fits(t) ? t : m.link || m.source.title,
    ),
    tags: m.tags,
    used: [best],
  };
};
