import type { LookTokens } from './tokens.js';

export const COLUMN: LookTokens = {
  label: 'Column',
  about: 'Plain and close-set, facts before the title, the picture small. Good for short posts and many.',
  titles: 'sans',
  text: 'sans',
  weight: 700,
  titleSize: 2.1,
  rule: '4px solid',
  radius: 4,
  head: 'start',
  list: 'beside',
};
