import { type Rule, TOO_LITTLE } from '../maker.js';

export const professionalPost: Rule = (m) => {
  const points = m.ranked
    .headings()
    .slice(0, 4)
    .map((h) => `– ${h.text}`);
  const list = points.length >= 2 ? points.join('\n') : '';
  const made =
    m.fill(3, (text, call, tags) => m.stack(text, list, call, tags)) ??
    m.fill(3, (text, call, tags) => m.stack(text, call, tags));
  return made
    ? {
        parts: [made.text],
        tags: m.tags,
        used: [
          ...made.used,
          ...(made.text.includes('– ')
            ? m.ranked
                .headings()
                .slice(0, 4)
                .map((h) => h.at)
            : []),
        ],
      }
    : TOO_LITTLE;
};
