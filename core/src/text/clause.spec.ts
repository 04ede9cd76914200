import { hasVerb, isImperative } from './clause.js';

// Common practice, no published source: what any reader of English takes for a sentence.
describe('a sentence and a fragment', () => {
  it.each([
    'A slack belt squeals and tells you.',
    'Two people stood and one watched.',
    'Barley makes a soup that stands by itself.',
    'A sharp spade halves the work.',
    'Drain, turn, fill, date.',
    'Young painters write to her every week.',
    'Pound 3 holds 21 boats.',
    'Do not say that somebody else could weld it.',
    'It’s shut.',
    'A swing bridge that sticks wants grease and patience.',
    '冬天之前要排空水泵。',
  ])('“%s” has a verb', (text) => expect(hasVerb(text)).toBe(true));

  it.each([
    'Four hours, eleven locks, one flask.',
    'A long Russian one.',
    'A bird guide with somebody’s notes in it.',
    'A short detective story with the last page missing, which improves it.',
    'Thin gloves under thick ones, because you will want your fingers for the map.',
    'Field mushrooms, from a field I know.',
    '200 g pearl barley',
  ])('“%s” has none of its own', (text) => expect(hasVerb(text)).toBe(false));

  it('an order begins with what is to be done', () => {
    expect(['Tighten it by hand.', 'Meet the boat behind.'].every(isImperative)).toBe(true);
    expect(['The gland drips.', 'Fill it?', 'Then tighten it.', ''].some(isImperative)).toBe(false);
  });
});
