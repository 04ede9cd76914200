import type { LookTokens } from './tokens.js';

export const PRESS: LookTokens = {
  label: 'Press',
  about: 'Serif titles under a double rule, the picture beside the words. Good for long reading.',
  titles: 'serif',
  text: 'serif',
  weight: 560,
  titleSize: 2.9,
  rule: '3px double',
  radius: 3,
  head: 'start',
  list: 'beside',
};
