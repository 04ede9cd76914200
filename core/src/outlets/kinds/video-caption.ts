import { fitSentence } from '../length.js';
import { type Rule, TOO_LITTLE, signs } from '../maker.js';

export const videoCaption: Rule = (m) => {
  const made = m.fill(2, (text, call, tags) =>
    m.stack(m.source.title, text, [call, tags].filter(Boolean).join('\n')),
  );
  return made
    ? {
        subject: fitSentence(m.source.title, (t) => signs(t) <= 90) ?? m.source.title,
        parts: [made.text],
        tags: m.tags,
        used: made.used,
      }
    : TOO_LITTLE;
};
