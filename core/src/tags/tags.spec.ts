import { mergeSuggestions, nearTags, tidyTag } from './tags.js';

describe('tags', () => {
  it.each([
    ['stern gear', 'Stern-gear', true],
    ['lock keeper', 'lock keepers', true],
    ['calorifier', 'calorifer', true],
    ['café', 'cafe', true],
    ['keepers lock', 'lock keepers', true],
    ['lock 21', 'lock 22', false],
    ['ice', 'icy', false],
    ['boat', 'coat', false],
    ['diesel', 'weasel', false],
    ['water', 'winter', false],
  ])('%s and %s: near is %s', (a, b, near) => {
    expect([nearTags(a, b), nearTags(b, a)]).toEqual([near, near]);
  });
  it('suggests to keep the one that is used more', () => {
    const tags = [
      { id: 1, name: 'pumps', posts: 2 },
      { id: 2, name: 'pump', posts: 7 },
      { id: 3, name: 'paint', posts: 1 },
    ];
    expect(mergeSuggestions(tags).map(({ keep, merge }) => [keep.name, merge.name])).toEqual([
      ['pump', 'pumps'],
    ]);
  });
  it('tidies what is typed', () => {
    expect([tidyTag('  #stern   gear, '), tidyTag(' , '), tidyTag('x'.repeat(99)).length]).toEqual([
      'stern gear',
      '',
      60,
    ]);
  });
});
