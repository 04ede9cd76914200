import { inSpotlightOrder, overlapsOf, spotlitOn, turnOn, turnsFrom, type Held } from '../index.js';

const held = (id: number, from: string, until: string): Held => ({ id, title: `Post ${id}`, from, until });

describe('posts that take turns on top', () => {
  const rotation = { posts: [7, 8, 9], since: '2026-11-25' };

  // ISO 8601 weeks: 25 November 2026 lies in week 48, Monday the 23rd to Sunday the 29th.
  it.each([
    ['2026-11-22', null],
    ['2026-11-23', 7],
    ['2026-11-29', 7],
    ['2026-11-30', 8],
    ['2026-12-13', 9],
    ['2026-12-14', 7],
    ['2027-01-04', 7],
  ])('on %s it is the turn of %s', (date, id) => {
    expect(turnOn(rotation, date, 1)).toBe(id);
  });

  it('change on the first day of the blog’s own week', () => {
    // Where weeks begin on Sunday, the 29th is in the second one.
    expect(turnOn(rotation, '2026-11-28', 7)).toBe(7);
    expect(turnOn(rotation, '2026-11-29', 7)).toBe(8);
  });

  it('are nobody’s where nobody is chosen, and are told for the weeks to come', () => {
    expect([turnOn(null, '2026-11-25', 1), turnOn({ ...rotation, posts: [] }, '2026-11-25', 1)]).toEqual([
      null,
      null,
    ]);
    expect(turnsFrom(rotation, '2026-11-27', 1, 4)).toEqual([
      { start: '2026-11-23', postId: 7 },
      { start: '2026-11-30', postId: 8 },
      { start: '2026-12-07', postId: 9 },
      { start: '2026-12-14', postId: 7 },
    ]);
  });
});

describe('posts that are held on top', () => {
  const all = [
    held(1, '2026-11-20', '2026-11-30'),
    held(2, '2026-11-28', '2026-12-02'),
    held(3, '2026-12-02', '2026-12-02'),
  ];

  it('stand in the order that was chosen, then the newest begun first, then whose turn it is', () => {
    expect(inSpotlightOrder(all, [3]).map((h) => h.id)).toEqual([3, 2, 1]);
    expect(spotlitOn('2026-11-29', all, [1, 2], 9)).toEqual([1, 2, 9]);
    expect(spotlitOn('2026-11-29', all, [], 2)).toEqual([2, 1]);
    expect(spotlitOn('2026-12-03', all, [], null)).toEqual([]);
    // The first day and the last belong to it.
    expect(spotlitOn('2026-11-28', all, [], null)).toEqual([2, 1]);
    expect(spotlitOn('2026-12-02', all, [], null)).toEqual([3, 2]);
    expect(spotlitOn('2026-11-27', all, [], null)).toEqual([1]);
    const many = [1, 2, 3, 4].map((id) => held(id, '2026-11-01', '2026-11-30'));
    expect(spotlitOn('2026-11-05', many, [4, 3, 2, 1], 9)).toEqual([4, 3, 2]);
  });

  it('say when they overlap, and which will not be shown', () => {
    expect(overlapsOf(all, [], '2026-11-27')).toEqual([
      'From Sat 28 Nov to Mon 30 Nov 2 are on top: “Post 2” and “Post 1”, in this order.',
      'On Wed 2 Dec 2 are on top: “Post 3” and “Post 2”, in this order.',
    ]);
    expect(overlapsOf(all.slice(0, 1), [], '2026-11-27')).toEqual([]);
    expect(overlapsOf(all, [], '2026-12-02')).toHaveLength(1);
    expect(overlapsOf(all, [], '2026-12-05')).toEqual([]);
    const many = [1, 2, 3, 4].map((id) => held(id, '2026-12-01', '2026-12-01'));
    expect(overlapsOf(many, [], '2026-11-27')[0]).toContain('The last 1 post will not be shown.');
  });
});
