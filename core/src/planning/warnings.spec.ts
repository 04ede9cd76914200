import { fc } from '../testing.js';
import { isHopeless, PlanJudge, type Plan, type PlannedPost } from './warnings.js';
import { NO_DATE_CONSTRAINT } from './date-constraint.js';

const now = '2026-11-25T09:00:00';
let id = 1;
const post = (date: string, over: Partial<PlannedPost> = {}): PlannedPost => ({
  id: id++,
  title: `Post ${id}`,
  runLocal: `${date}T08:00:00`,
  categoryId: 1,
  bylineId: 7,
  stage: 'scheduled',
  dateConstraint: NO_DATE_CONSTRAINT,
  ...over,
});
const warningsFor = (p: PlannedPost, posts: PlannedPost[], more: Partial<Plan> = {}) =>
  new PlanJudge({ posts, slots: [], absences: [], writers: [], nowLocal: now, ...more }).warnings(p);
const kinds = (p: PlannedPost, others: PlannedPost[], more: Partial<Plan> = {}) =>
  warningsFor(p, others, more).map((w) => w.kind);

describe('warnings about a date', () => {
  it(
    'finds nothing wrong with five themed weekdays by five writers (common practice, no ' +
      'published source)',
    () => {
      const week = ['2026-12-07', '2026-12-08', '2026-12-09', '2026-12-10', '2026-12-11'].map((d, i) =>
        post(d, { categoryId: i, bylineId: i }),
      );
      for (const p of week) expect(kinds(p, week)).toEqual([]);
    },
  );
  it('warns of bursts: two on a day, one category or one writer too close', () => {
    const first = post('2026-12-07', { title: 'First' });
    expect(warningsFor(post('2026-12-07', { categoryId: 2, bylineId: 8 }), [first])).toEqual([
      { kind: 'two on a day', sentence: '“First” runs on the same day.' },
    ]);
    expect(kinds(post('2026-12-08'), [first])).toEqual(['category close', 'byline close']);
    expect(kinds(post('2026-12-09'), [first])).toEqual(['category close']);
    expect(kinds(post('2026-12-10'), [first])).toEqual([]);
    expect(
      kinds(post('2026-12-08', { categoryId: null, bylineId: null }), [
        post('2026-12-07', { categoryId: null, bylineId: null }),
      ]),
    ).toEqual([]);
    expect(kinds(post('2026-12-07'), [post('2026-12-07', { stage: 'withdrawn' })])).toEqual([]);
  });
  it('warns when too little time is left, by stage, and of the past', () => {
    expect(warningsFor(post('2026-11-27', { stage: 'commissioned' }), [])[0]?.sentence).toBe(
      '2 days left; from commissioned, writing and review take about 5.',
    );
    expect(kinds(post('2026-11-26', { stage: 'in review' }), [])).toEqual([]);
    expect(kinds(post('2026-11-25', { stage: 'in review', runLocal: '2026-11-25T12:00:00' }), [])).toEqual([
      'little time',
    ]);
    expect(kinds(post('2026-11-25', { stage: 'drafting' }), [])).toEqual(['past']);
    expect(kinds(post('2026-11-20', { stage: 'published' }), [post('2026-11-20')])).toEqual([]);
  });
  it('warns of a slot that is taken, by the one who has it', () => {
    const there = post('2026-12-08', { title: 'There first' });
    const slots = [
      { slotId: 1, date: '2026-12-08', time: '08:00', categoryId: 1, format: '', movedFrom: null },
    ];
    expect(warningsFor(post('2026-12-08', { categoryId: 2, bylineId: 8 }), [there], { slots })).toEqual([
      { kind: 'slot taken', sentence: 'The 08:00 slot is taken by “There first”.' },
    ]);
    expect(
      kinds(post('2026-12-08', { categoryId: 2, bylineId: 8, runLocal: '2026-12-08T09:00:00' }), [there], {
        slots,
      }),
    ).toEqual(['two on a day']);
  });
  it('warns when the writer is away on the day or while it has to be written, and when the week is full', () => {
    const writers = [{ id: 7, name: 'Tobias Orme', capacity: 1 }];
    const absences = [{ id: 1, personId: 7, from: '2026-12-07', to: '2026-12-13', note: '' }];
    const unwritten = { stage: 'commissioned' as const };
    expect(
      warningsFor(post('2026-12-08', unwritten), [], { writers, absences }).map((w) => w.sentence),
    ).toEqual(['Tobias Orme is away Mon 7 to Sun 13 Dec.', 'Tobias Orme has 1 post that week; none fits.']);
    expect(
      warningsFor(post('2026-12-15', unwritten), [], { writers, absences }).map((w) => w.sentence),
    ).toEqual(['Tobias Orme is away on 4 days of those it needs to be written.']);
    expect(kinds(post('2026-12-20', unwritten), [], { writers, absences })).toEqual([]);
    expect(kinds(post('2026-12-08'), [], { writers, absences })).toEqual([]);
    const other = post('2026-12-18', { categoryId: 2 });
    expect(warningsFor(post('2026-12-14', unwritten), [other], { writers }).map((w) => w.sentence)).toEqual([
      'Tobias Orme has 2 posts that week; 1 fits.',
    ]);
  });
  it('warns of a date that was not wanted', () => {
    expect(
      warningsFor(
        post('2026-12-08', { dateConstraint: { ...NO_DATE_CONSTRAINT, mustBeOn: '2026-12-24' } }),
        [],
      ),
    ).toEqual([{ kind: 'other date wanted', sentence: 'It must be on Thu 24 Dec.' }]);
  });
  it('judges thousands as it judges one (against the plain rule over all pairs)', () => {
    const many = Array.from({ length: 600 }, (_, i) =>
      post(`2027-0${1 + (i % 3)}-${String(1 + (i % 28)).padStart(2, '0')}`, {
        categoryId: i % 5,
        bylineId: i % 7,
      }),
    );
    const judge = new PlanJudge({ posts: many, slots: [], absences: [], writers: [], nowLocal: now });
    for (const p of many) {
      const near = (days: number, same: (o: PlannedPost) => boolean) =>
        many.some(
          (o) =>
            o.id !== p.id &&
            same(o) &&
            Math.abs(Date.parse(`${o.runLocal}Z`) - Date.parse(`${p.runLocal}Z`)) === days * 86_400_000,
        );
      const plain = [
        ...(near(0, () => true) ? ['two on a day'] : []),
        ...([1, 2].some((d) => near(d, (o) => o.categoryId === p.categoryId)) ? ['category close'] : []),
        ...(near(1, (o) => o.bylineId === p.bylineId) ? ['byline close'] : []),
      ];
      expect(judge.warnings(p).map((w) => w.kind)).toEqual(plain);
    }
  });
  it('warns both of two that are close, or neither (property)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 28 }),
        fc.integer({ min: 1, max: 28 }),
        fc.constantFrom(1, 2, null),
        fc.constantFrom(1, 2, null),
        (a, b, c, d) => {
          const date = (n: number) => `2027-02-${String(n).padStart(2, '0')}`;
          const [p, q] = [
            post(date(a), { categoryId: c, bylineId: d }),
            post(date(b), { categoryId: d, bylineId: c }),
          ];
          expect(kinds(p, [p, q])).toEqual(kinds(q, [p, q]));
        },
      ),
    );
  });
});

describe('past hope', () => {
  it.each([
    ['commissioned', '2026-11-24T08:00:00', true],
    ['drafting', '2026-11-26T12:00:00', true],
    ['drafting', '2026-11-27T08:00:00', false],
    ['in review', '2026-11-24T08:00:00', false],
    ['scheduled', '2026-11-25T10:00:00', false],
    ['drafting', null, false],
  ] as const)('%s for %s: %s', (stage, runLocal, hopeless) => {
    expect(isHopeless({ stage, runLocal }, now)).toBe(hopeless);
  });
});
