import { changesOf } from './changes.js';
import { coverLines } from './cover.js';
import { explain } from './explain.js';
import { openSlots, problemFor, type PlanFacts, type PlanPost, type PlanTask } from './facts.js';
import { NO_WISHES } from './problem.js';
import { propose } from './propose.js';
import { pitchOf, slotOn, writerOf } from './testing.js';

let id = 100;
const post = (date: string, bylineId: number | null, over: Partial<PlanPost> = {}): PlanPost => ({
  id: ++id,
  title: `Post ${id}`,
  stage: 'commissioned',
  runLocal: `${date}T08:00:00`,
  copyDate: null,
  categoryId: 1,
  secondCategoryId: null,
  format: '',
  bylineId,
  tagIds: [],
  mine: true,
  ...over,
});

const facts = (over: Partial<PlanFacts> = {}): PlanFacts => ({
  today: '2026-11-23',
  nowLocal: '2026-11-23T09:00:00',
  firstWeekday: 1,
  slots: [],
  posts: [],
  pitches: [],
  writers: [],
  absences: [],
  review: { days: 2, count: 9 },
  deskFor: null,
  categories: [{ id: 1, name: 'Locks' }],
  ...over,
});

const solved = (known: PlanFacts, task: PlanTask) => {
  const problem = problemFor(known, task, NO_WISHES);
  const { placings } = [...propose(problem)].at(-1)!;
  return { problem, placings };
};

describe('what is open', () => {
  it('is a slot to come that no post fills', () => {
    const known = facts({
      slots: ['2026-11-23', '2026-11-30', '2026-12-07', '2026-12-14'].map((d) => slotOn(d)),
      posts: [post('2026-12-07', 7)],
    });
    expect(openSlots(known, '2026-11-01', '2026-12-31').map((s) => s.date)).toEqual([
      '2026-11-30',
      '2026-12-14',
    ]);
    expect(openSlots(known, '2026-12-10', '2026-12-13')).toEqual([]);
  });
});

// Common practice, no published source: a week's posts are prepared before a holiday, each set for its day at
// 08:00; five themed weekdays; forty ideas in the tray.
describe('covering a holiday', () => {
  const days = ['2026-12-21', '2026-12-22', '2026-12-23', '2026-12-24', '2026-12-25'];
  const known = facts({
    slots: days.map((d, i) => slotOn(d, i + 1)),
    posts: [
      post('2026-12-21', 7, { id: 51, stage: 'scheduled', categoryId: 1 }),
      post('2026-12-22', 7, { id: 52, stage: 'in review', categoryId: 2 }),
      post('2026-12-23', 8, { id: 53, stage: 'drafting', categoryId: 3 }),
    ],
    pitches: Array.from({ length: 40 }, (_, i) => pitchOf(i + 1, { categoryId: (i % 5) + 1 })),
    writers: [writerOf(7, { capacity: 3 }), writerOf(8)],
    absences: [{ id: 1, personId: 8, from: '2026-12-14', to: '2026-12-18', note: '' }],
  });
  const span = { from: '2026-12-21', to: '2026-12-27' };
  it('fills every open slot, so that all is cleared before the first day', () => {
    const { problem, placings } = solved(known, { kind: 'cover', ...span });
    const explained = explain(problem, placings);
    expect(explained.placings.map((p) => [p.date, p.time, p.cleared])).toEqual([
      ['2026-12-24', '08:00', '2026-12-20'],
      ['2026-12-25', '08:00', '2026-12-20'],
    ]);
    // Writer 8 is away from Monday 14 to Friday 18, so their copy is due on the Sunday before (worked by hand).
    for (const p of explained.placings) expect(p.copy).toBe(p.writerId === 8 ? '2026-12-13' : '2026-12-18');
    const lines = coverLines(known, span, explained.placings);
    expect(lines.map((l) => [l.date, l.post?.id ?? null, l.steps.map((s) => `${s.deed} ${s.by}`)])).toEqual([
      ['2026-12-21', 51, []],
      ['2026-12-22', 52, ['clear 2026-12-20', 'schedule 2026-12-20']],
      ['2026-12-23', 53, ['hand in 2026-12-13', 'clear 2026-12-20', 'schedule 2026-12-20']],
      ...[explained.placings[0]!, explained.placings[1]!].map((p) => [
        p.date,
        p.pitchId,
        ['commission 2026-11-23', `hand in ${p.copy}`, 'clear 2026-12-20', 'schedule 2026-12-20'],
      ]),
    ]);
  });
  it('says what is too late, and what stays open', () => {
    const late = { ...known, today: '2026-12-19', nowLocal: '2026-12-19T09:00:00' };
    const { placings } = solved(late, { kind: 'cover', ...span });
    expect(placings).toEqual([]);
    const lines = coverLines(late, span, []);
    expect(lines.at(-1)).toMatchObject({ post: null, steps: [] });
    expect(lines[2]!.steps.map((s) => [s.deed, s.late])).toEqual([
      ['hand in', true],
      ['clear', false],
      ['schedule', false],
    ]);
  });
});

describe('when a writer drops out', () => {
  const task: PlanTask = { kind: 'without', writerId: 7, from: '2026-11-23', to: '2026-12-31' };
  const changes = (known: PlanFacts) => {
    const { problem, placings } = solved(known, task);
    return changesOf(known, problem, placings).map((c) => [
      c.postId,
      c.to && `${c.to.date} by ${c.to.writerId}`,
    ]);
  };
  const slots = ['2026-12-07', '2026-12-14', '2026-12-21'].map((d) => slotOn(d));
  it('gives their posts to others on the same day, and leaves the rest alone', () => {
    const known = facts({
      slots,
      posts: [
        post('2026-12-07', 7, { id: 1 }),
        post('2026-12-14', 8, { id: 2 }),
        post('2026-12-21', 7, { id: 3, stage: 'scheduled' }),
      ],
      writers: [writerOf(7), writerOf(8), writerOf(9)],
    });
    const made = changes(known);
    expect(made).toHaveLength(1);
    expect(made[0]).toEqual([1, expect.stringMatching(/^2026-12-07 by [89]$/)]);
  });
  it('moves a post only where nobody can take it on its day', () => {
    const known = facts({
      slots,
      posts: [post('2026-12-07', 7, { id: 1 })],
      // Three weeks to write: the first slot is too near for the only one who is left.
      writers: [writerOf(7), writerOf(8, { leadTime: { days: 15, count: 4 } })],
    });
    expect(changes(known)).toEqual([[1, '2026-12-14 by 8']]);
  });
  it('shifts somebody else’s work where that keeps more', () => {
    const known = facts({
      slots,
      categories: [
        { id: 1, name: 'Locks' },
        { id: 2, name: 'Boats' },
      ],
      posts: [post('2026-12-07', 7, { id: 1 }), post('2026-12-09', 8, { id: 2, categoryId: 2 })],
      writers: [
        writerOf(7),
        // Who alone writes about locks has no room that week, unless another takes over what they have.
        writerOf(8, { capacity: 1 }),
        writerOf(9, { capacity: 1, categoryIds: [2] }),
      ],
    });
    expect(changes(known)).toEqual([
      [1, '2026-12-07 by 8'],
      [2, '2026-12-09 by 9'],
    ]);
  });
  it('keeps what stands, though it is more than fits, and says what nobody can take', () => {
    const known = facts({
      slots,
      posts: [
        post('2026-12-07', 7, { id: 1 }),
        post('2026-12-08', 8, { id: 2 }),
        post('2026-12-09', 8, { id: 3 }),
        post('2026-12-14', 7, { id: 4 }),
        post('2026-12-21', 7, { id: 5 }),
      ],
      writers: [writerOf(7), writerOf(8, { capacity: 1 })],
    });
    expect(changes(known)).toEqual([
      [1, null],
      [4, '2026-12-14 by 8'],
      [5, '2026-12-21 by 8'],
    ]);
  });
});
