import { howTitlesDid, measureTitle, TitleIndex, type FormResult } from '@keyroster/core';
import { show } from '../../testing/newsroom';
import { TitleFactsList } from './title-facts-list';

const none = { most: 20, bits: () => 8 };
const told = async (did: FormResult, title = 'Is the lock deep?') => {
  const { page } = await show(TitleFactsList, {
    inputs: { facts: { ...measureTitle(title, none, new TitleIndex([]), ['lock']), did } },
  });
  return page;
};
const reads = (n: number, title: string, first: number) =>
  Array.from({ length: n }, (_, i) => ({ title, reads: first + i }));

describe('how titles of a form did', () => {
  const plain = reads(20, 'Locks', 100);
  it.each([
    ['That is more.', howTitlesDid('question', [...plain, ...reads(8, 'Why?', 300)])],
    ['That is less.', howTitlesDid('question', [...plain, ...reads(8, 'Why?', 10)])],
    ['It may be chance.', howTitlesDid('question', [...plain, ...reads(8, 'Why?', 106)])],
  ])('is told with what it rests on: %s', async (verdict, did) => {
    const page = await told(did);
    const words = page.querySelector('dd:last-child')!.textContent!;
    expect(words).toMatch(
      /^8 titles that ask a question were read .* times in their first week, in the middle \(\d+ to \d+ with 95%/,
    );
    expect(words.endsWith(verdict)).toBe(true);
  });

  it('says when there are too few', async () => {
    const page = await told(howTitlesDid('question', reads(5, 'Why?', 300)));
    expect(page.querySelector('dd:last-child')!.textContent).toBe(
      '5 published titles that ask a question with figures: too few to tell.',
    );
  });

  it('marks what readers will notice, and gives no points', async () => {
    const page = await told(howTitlesDid('question', []), 'W'.repeat(70));
    expect([...page.querySelectorAll('.alert')].map((e) => e.textContent)).toEqual([
      '70 characters; about 55 are usual, 60 at most.',
      expect.stringMatching(/it is cut at 600\.$/),
    ]);
    expect(page.querySelector('[role=img], progress, mat-progress-bar')).toBeNull();
  });
});
