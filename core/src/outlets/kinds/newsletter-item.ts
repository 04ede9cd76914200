import { type Rule, TOO_LITTLE, signs } from '../maker.js';

export const newsletterItem: Rule = (m) => {
  const made = m.fill(3, (text, call) => m.stack(text, call));
  if (!made) return TOO_LITTLE;
  const subjects = [m.source.title, ...m.ranked.headings().map((h) => h.text)].filter((t) => signs(t) <= 70);
  return {
    subject: m.turn === 0 || subjects.length < 2 ? m.source.title : m.choice(subjects),
    parts: [made.text],
    used: made.used,
  };
};
