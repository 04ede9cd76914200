import type { LookTokens } from './tokens.js';

export const PLATE: LookTokens = {
  label: 'Plate',
  about: 'The picture comes first, as wide as the page, the title under it. Good for blogs that show.',
  titles: 'serif',
  text: 'serif',
  weight: 480,
  titleSize: 3.3,
  rule: '1px solid',
  radius: 0,
  head: 'center',
  list: 'columns',
};
