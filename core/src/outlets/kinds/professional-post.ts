import { type Rule, TOO_LITTLE } from '../maker.js';

const POINTS = 4;

export const professionalPost: Rule = (m) => {
  const points = m.headings(POINTS);
  const list = points.length >= 2 ? `What it covers:\n${points.map((h) => `– ${h.text}`).join('\n')}` : '';
  const withList = list && m.fill(3, (text, call, tags) => m.stack(text, list, call, tags));
  if (withList)
    return {
      parts: [withList.text],
      tags: m.tags,
      used: [...withList.used, ...points.map((h) => h.at)],
    };
  const made = m.fill(3, (text, call, tags) => m.stack(text, call, tags));
  return made ? { parts: [made.text], tags: m.tags, used: made.used } : TOO_LITTLE;
};
