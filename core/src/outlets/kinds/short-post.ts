import { type Rule, TOO_LITTLE } from '../maker.js';

export const shortPost: Rule = (m) => {
  const made = m.fill(2, (text, call, tags) => m.stack(text, [call, tags].filter(Boolean).join('\n')));
  return made ? { parts: [made.text], tags: m.tags, used: made.used } : TOO_LITTLE;
};
