import type { LookTokens } from './tokens.js';

export const MARGIN: LookTokens = {
  label: 'Margin',
  about: 'What there is to know of a post stands in a margin beside it. Good for how-tos and reports.',
  titles: 'sans',
  text: 'serif',
  weight: 650,
  titleSize: 2.5,
  rule: '1px solid',
  radius: 0,
  head: 'start',
  list: 'titles',
};
