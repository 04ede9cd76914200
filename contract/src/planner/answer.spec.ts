import { unpackCards, unpackPlanner, type PackedCard, type PlannerAnswer } from './answer.js';

const card = (over: Partial<Record<number, unknown>> = {}): PackedCard => {
  const values: unknown[] = [
    7,
    3,
    'drafting',
    'Frost on the steps',
    'A thought',
    'One sentence.',
    1,
    4,
    '2026-12-01T08:00:00',
    '2026-11-26',
    120,
    null,
    '2026-12-24',
    null,
    5,
    2,
    '2026-11-01T00:00:00Z',
    1,
    3,
    ['Pictures'],
    2,
    1204,
  ];
  for (const [i, value] of Object.entries(over)) values[Number(i)] = value;
  return values as PackedCard;
};
const people = [{ id: 4, name: 'Isla Nettle', initials: 'IN' }];

describe('the planner’s packed answer', () => {
  it('names every value again', () => {
    expect(unpackCards({ cards: [card()], people, nowLocal: '2026-11-25T09:00:00' })).toEqual([
      {
        id: 7,
        version: 3,
        stage: 'drafting',
        title: 'Frost on the steps',
        thought: 'A thought',
        excerpt: 'One sentence.',
        categoryId: 1,
        byline: people[0],
        runLocal: '2026-12-01T08:00:00',
        copyDate: '2026-11-26',
        words: 120,
        dateConstraint: { notBefore: null, notAfter: '2026-12-24', mustBeOn: null },
        rating: 5,
        late: false,
        openNotes: 2,
        createdAt: '2026-11-01T00:00:00Z',
        checks: { blocks: 1, warns: 3 },
        openChores: ['Pictures'],
        doneChores: 2,
        reads: 1204,
      },
    ]);
  });

  it('says what is late by the time of the answer, and keeps a byline of somebody unknown', () => {
    const [late, strange, nobody] = unpackCards({
      cards: [card(), card({ 7: 99 }), card({ 7: null })],
      people,
      nowLocal: '2026-11-27T09:00:00',
    });
    expect(late!.late).toBe(true);
    expect(strange!.byline).toEqual({ id: 99, name: '', initials: '' });
    expect(nobody!.byline).toBeNull();
  });

  it('parts what is dated from what waits, and tells only what is late as late', () => {
    const answer: PlannerAnswer = {
      from: '2026-11-23',
      to: '2026-12-20',
      today: '2026-11-25',
      nowLocal: '2026-11-25T09:00:00',
      slots: [],
      absences: [],
      writers: [],
      people,
      onTop: [],
      cards: [card({ 0: 1 }), card({ 0: 2, 2: 'pitch', 8: null }), card({ 0: 3, 2: 'scheduled' })],
      late: [card({ 0: 4, 9: '2026-11-20' }), card({ 0: 5 })],
    };
    const view = unpackPlanner(answer);
    expect([view.dated.map((p) => p.id), view.pitches.map((p) => p.id), view.late.map((p) => p.id)]).toEqual([
      [1, 3],
      [2],
      [4],
    ]);
    expect(view).not.toHaveProperty('cards');
  });
});
