import { cardAlt } from '../alt.js';
import { CARD, type Rule } from '../maker.js';

export const pictureCard: Rule = (m) => {
  const card = m.card(CARD);
  const made = m.fill(2, (text, call, tags) => m.stack(text, [call, tags].filter(Boolean).join('\n')), {
    ...m.wanted,
    used: new Map([
      ...(m.wanted.used ?? []),
      ...card.used.map((u) => [typeof u === 'number' ? u : u.at, 9] as const),
    ]),
  });
  return {
    words: card.words,
    alt: cardAlt({ kind: 'picture card', shape: m.ask.shape, words: card.words }),
    parts: [made?.text ?? m.stack(m.source.title, m.call)],
    tags: m.tags,
    used: [...card.used, ...(made?.used ?? [])],
  };
};
