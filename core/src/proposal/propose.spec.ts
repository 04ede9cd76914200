import loadHighs from 'highs';
import { series } from '../assignment/search.js';
import { lpOf } from '../assignment/lp.js';
import { absenceOn, daysAway, fitting } from '../planning/load.js';
import { conflictsWithDate } from '../planning/date-constraint.js';
import { startOfWeek } from '../time/week.js';
import { addDays, daysBetween } from '../time/zone.js';
import { compile } from './compile.js';
import { daysThere, deadlinesOf } from './deadlines.js';
import { explain } from './explain.js';
import { NO_WISHES, slotKey, type Placing, type Problem } from './problem.js';
import { propose } from './propose.js';
import { newsroom, pitchOf, problemOf, slotOn, writerOf } from './testing.js';
import { SPANS, sumOf, valueParts, WEIGHTS } from './value.js';

const planOf = (problem: Problem) => [...propose(problem)].at(-1)!;
const placed = (problem: Problem) =>
  planOf(problem)
    .placings.map((p) => [p.pitchId, p.slot.split('|')[1], p.writerId])
    .sort((a, b) => String(a[1]).localeCompare(String(b[1])));

/** What a plan is worth, reckoned from the meaning of each weight rather than from the model. */
function worthByMeaning(problem: Problem, placings: readonly Placing[]): number {
  const posts = placings.map((p) => {
    const slot = problem.slots.find((s) => slotKey(s) === p.slot)!;
    const pitch = problem.pitches.find((x) => x.id === p.pitchId)!;
    const writer = problem.writers.find((w) => w.id === p.writerId)!;
    return { slot, pitch, writer, date: slot.date, category: pitch.categoryId ?? slot.categoryId };
  });
  let worth = posts.reduce((sum, p) => sum + sumOf(valueParts(problem, p.pitch, p.slot, p.writer)), 0);
  const first = addDays(problem.slots[0]!.date, -10);
  const length = daysBetween(first, problem.slots.at(-1)!.date) + 1;
  const excess = (span: number, cost: number, planned: string[], placed: string[], wanted: string[]) => {
    for (let d = 0; d < length; d++) {
      const start = addDays(first, d);
      const inside = (dates: string[]) => dates.filter((x) => x >= start && x < addDays(start, span)).length;
      const max = Math.max(0, Math.max(1, inside(wanted)) - inside(placed));
      worth -= cost * Math.max(0, inside(planned) - max);
    }
  };
  for (const writer of problem.writers)
    excess(
      SPANS.byline,
      WEIGHTS.byline,
      posts.filter((p) => p.writer === writer).map((p) => p.date),
      problem.fixed.filter((f) => f.bylineId === writer.id).map((f) => f.date),
      [],
    );
  for (const tag of new Set(problem.pitches.flatMap((p) => p.tagIds)))
    excess(
      SPANS.tag,
      WEIGHTS.tag,
      posts.filter((p) => p.pitch.tagIds.includes(tag)).map((p) => p.date),
      problem.fixed.filter((f) => f.tagIds.includes(tag)).map((f) => f.date),
      [],
    );
  for (const { id } of problem.categories)
    excess(
      SPANS.category,
      WEIGHTS.category,
      posts.filter((p) => p.category === id).map((p) => p.date),
      problem.fixed.filter((f) => f.categoryId === id).map((f) => f.date),
      problem.wanted.filter((s) => s.categoryId === id).map((s) => s.date),
    );
  return worth;
}

/** Every rule of a plan, asked for anew. */
function brokenRules(problem: Problem, placings: readonly Placing[]): string[] {
  const broken: string[] = [];
  const rule = (holds: boolean, words: string) => holds || broken.push(words);
  rule(new Set(placings.map((p) => p.slot)).size === placings.length, 'a slot twice');
  rule(new Set(placings.map((p) => p.pitchId)).size === placings.length, 'a pitch twice');
  const weeks = new Map<string, number>();
  for (const p of placings) {
    const slot = problem.slots.find((s) => slotKey(s) === p.slot)!;
    const pitch = problem.pitches.find((x) => x.id === p.pitchId)!;
    const writer = problem.writers.find((w) => w.id === p.writerId)!;
    rule(conflictsWithDate(pitch.dateConstraint, slot.date) === null, 'another date');
    rule([pitch.categoryId ?? slot.categoryId, pitch.secondCategoryId].includes(slot.categoryId), 'category');
    rule(pitch.bylineId === null || pitch.bylineId === writer.id, 'byline');
    const copy = deadlinesOf(writer, slot.date, problem)!.copy;
    rule(absenceOn(problem.absences, writer.id, copy) === null, 'copy while away');
    let days = 0;
    for (let d = addDays(problem.today, 1); d <= copy; d = addDays(d, 1))
      if (!absenceOn(problem.absences, writer.id, d)) days++;
    rule(days >= writer.leadTime.days, 'no time');
    const week = `${writer.id}|${startOfWeek(slot.date)}`;
    weeks.set(week, (weeks.get(week) ?? 0) + 1);
  }
  for (const [key, count] of weeks) {
    const [id, week] = key.split('|') as [string, string];
    const writer = problem.writers.find((w) => w.id === Number(id))!;
    if (writer.capacity === null) continue;
    const end = addDays(week, 6);
    const fits = fitting(writer.capacity, daysAway(problem.absences, writer.id, week, end));
    const has = problem.fixed.filter((f) => f.bylineId === writer.id && f.date >= week && f.date <= end);
    rule(count + has.length <= Math.max(fits, has.length), 'over capacity');
  }
  return broken;
}

describe('a plan proposed', () => {
  it('puts the pitch that waited longest and is rated best into the soonest slot that it can make', () => {
    const problem = problemOf({
      slots: [slotOn('2026-11-26'), slotOn('2026-12-03')],
      pitches: [pitchOf(1), pitchOf(2, { rating: 5, since: '2026-06-01' }), pitchOf(3, { rating: 1 })],
      writers: [writerOf(7)],
    });
    // Four days to write and two to review: Thursday 26 November cannot be made by anybody (worked by hand).
    expect(placed(problem)).toEqual([[2, '2026-12-03', 7]]);
    expect(placed({ ...problem, today: '2026-11-16' })).toEqual([
      [2, '2026-11-26', 7],
      [1, '2026-12-03', 7],
    ]);
  });

  it('puts a pitch into a slot of its second category, too', () => {
    const problem = problemOf({
      slots: [slotOn('2026-12-08', 2)],
      pitches: [pitchOf(1), pitchOf(2, { secondCategoryId: 3 })],
      writers: [writerOf(7)],
    });
    expect(placed(problem)).toEqual([]);
    const both = [pitchOf(1), pitchOf(2, { secondCategoryId: 2 })];
    expect(placed({ ...problem, pitches: both })).toEqual([[2, '2026-12-08', 7]]);
  });

  it('holds to dates, categories, formats and who is credited', () => {
    const problem = problemOf({
      slots: [
        slotOn('2026-12-07', 1),
        slotOn('2026-12-08', 2, { format: 'how-to' }),
        slotOn('2026-12-24', 1),
      ],
      pitches: [
        pitchOf(1, { dateConstraint: { notBefore: null, notAfter: null, mustBeOn: '2026-12-24' } }),
        pitchOf(2, { categoryId: 2, format: 'interview' }),
        pitchOf(3, {
          dateConstraint: { notBefore: '2026-12-20', notAfter: null, mustBeOn: null },
          rating: 5,
        }),
        pitchOf(4, { bylineId: 8, rating: 1 }),
      ],
      writers: [writerOf(7), writerOf(8, { categoryIds: [5] })],
    });
    expect(placed(problem)).toEqual([
      [4, '2026-12-07', 8],
      [1, '2026-12-24', 7],
    ]);
  });

  it('gives a pitch to whoever pitched it, and not two to one writer on one day', () => {
    const problem = problemOf({
      slots: [slotOn('2026-12-07', 1), slotOn('2026-12-07', 2)],
      pitches: [pitchOf(1, { pitchedById: 8 }), pitchOf(2, { categoryId: 2 })],
      writers: [writerOf(8), writerOf(9)],
    });
    expect(placed(problem)).toEqual([
      [1, '2026-12-07', 8],
      [2, '2026-12-07', 9],
    ]);
  });

  it('keeps pins and what is left out, and plans round them', () => {
    const slots = [slotOn('2026-12-07'), slotOn('2026-12-14')];
    const problem = problemOf({
      slots,
      pitches: [pitchOf(1, { rating: 5 }), pitchOf(2), pitchOf(3, { rating: 1 })],
      writers: [writerOf(7, { capacity: 1 })],
    });
    expect(placed(problem)).toEqual([
      [1, '2026-12-07', 7],
      [2, '2026-12-14', 7],
    ]);
    const pinned = [{ pitchId: 3, slot: slotKey(slots[0]!), writerId: 7 }];
    expect(placed({ ...problem, wishes: { ...NO_WISHES, pinned } })).toEqual([
      [3, '2026-12-07', 7],
      [1, '2026-12-14', 7],
    ]);
    const excluded = { ...NO_WISHES.excluded, pitches: [1], slots: [slotKey(slots[0]!)] };
    expect(placed({ ...problem, wishes: { pinned: [], excluded } })).toEqual([[2, '2026-12-14', 7]]);
    const without = {
      ...NO_WISHES.excluded,
      placings: [{ pitchId: 1, slot: slotKey(slots[0]!), writerId: 7 }],
    };
    expect(placed({ ...problem, wishes: { pinned: [], excluded: without } })).toEqual([
      [2, '2026-12-07', 7],
      [1, '2026-12-14', 7],
    ]);
  });

  it('breaks no rule, and is worth what its weights mean', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const problem = newsroom(series(seed), { weeks: 3, pitches: 25, writers: 5 });
      const plan = planOf(problem);
      expect([seed, brokenRules(problem, plan.placings)]).toEqual([seed, []]);
      expect(plan.optimal).toBe(true);
      // Crowding of posts that stay is no matter of the plan, so the worth of the empty plan is taken off.
      expect(worthByMeaning(problem, plan.placings)).toBe(plan.worth);
      expect(explain(problem, plan.placings).open.every(({ why }) => why.length > 10)).toBe(true);
    }
  });

  it('is the best there is, by an independent solver', async () => {
    const highs = await loadHighs();
    for (const seed of [31, 33, 34]) {
      const problem = newsroom(series(seed), { weeks: 4, pitches: 40, writers: 6 });
      const { model, base } = compile(problem);
      const theirs = highs.solve(lpOf(model), { mip_rel_gap: 0, output_flag: false });
      expect(theirs.Status).toBe('Optimal');
      const plan = planOf(problem);
      expect([seed, plan.worth, plan.bound]).toEqual([
        seed,
        Math.round(theirs.ObjectiveValue) + base,
        plan.worth,
      ]);
    }
  });

  it('has no answer where there is none: nobody, nothing, everybody away, capacity zero', () => {
    const problem = problemOf({
      slots: [slotOn('2026-12-07')],
      pitches: [pitchOf(1)],
      writers: [writerOf(7)],
    });
    const away = [{ id: 1, personId: 7, from: '2026-11-01', to: '2026-12-31', note: '' }];
    const cases: [Partial<Problem>, string][] = [
      [{ writers: [] }, 'Nobody is there to write.'],
      [{ pitches: [] }, 'No pitch for Category 1 is in the tray.'],
      [{ pitches: [pitchOf(1, { categoryId: 2 })] }, 'No pitch for Category 1 is in the tray.'],
      [{ absences: away }, '“Pitch 1”: Writer 7 has 0 days until copy is due and takes 4 days.'],
      [{ writers: [writerOf(7, { capacity: 0 })] }, '“Pitch 1”: Writer 7 has 0 of 0 that week.'],
      [{ writers: [writerOf(7, { categoryIds: [2] })] }, '“Pitch 1”: Writer 7 does not write Category 1.'],
      [{ pitches: [pitchOf(1, { bylineId: 99 })] }, '“Pitch 1”: its writer is not in the newsroom any more.'],
      [
        {
          pitches: [
            pitchOf(1, { dateConstraint: { notBefore: '2027-01-05', notAfter: null, mustBeOn: null } }),
          ],
        },
        '“Pitch 1” must not run before Tue 5 Jan 2027.',
      ],
    ];
    for (const [over, why] of cases) {
      const plan = planOf({ ...problem, ...over });
      expect(plan).toMatchObject({ placings: [], worth: 0, bound: 0, optimal: true });
      expect(explain({ ...problem, ...over }, plan.placings).open[0]!.why).toBe(why);
    }
    expect(planOf(problemOf())).toMatchObject({ placings: [], optimal: true });
  });
});

describe('what is said of a plan', () => {
  const slots = [slotOn('2026-12-07'), slotOn('2026-12-08'), slotOn('2026-12-14')];
  const problem = problemOf({
    slots,
    pitches: [
      pitchOf(1, { title: 'Weirs', rating: 5, since: '2026-10-01', pitchedById: 7 }),
      pitchOf(2, { title: 'Stoves' }),
    ],
    writers: [writerOf(7, { name: 'Jun', capacity: 1, wrote: [{ categoryId: 1, count: 6 }] })],
  });
  it('gives reasons, deadlines and loads', () => {
    const plan = planOf(problem);
    const { placings, open } = explain(problem, plan.placings);
    expect(placings.map((p) => [p.pitchId, p.date, p.copy, p.cleared])).toEqual([
      [1, '2026-12-07', '2026-12-04', '2026-12-06'],
      [2, '2026-12-14', '2026-12-11', '2026-12-13'],
    ]);
    expect(placings[0]!.why).toEqual([
      'a slot for Category 1',
      'Jun pitched it',
      'rated 5 of 5',
      'has waited 7 weeks',
      'Jun has had 6 posts out in Category 1',
      'copy by Fri 4 Dec: Jun has 11 days and takes 4 days (median of 5 posts); 1 of 1 that week',
    ]);
    expect(open.map((o) => [o.slot.date, o.why])).toEqual([
      ['2026-12-08', '“Weirs” is better placed on Mon 7 Dec; “Stoves” is better placed on Mon 14 Dec.'],
    ]);
  });
  it('says which pin cannot be held, and why', () => {
    const pin = (pitchId: number, slot: number, writerId = 7) => ({
      pitchId,
      slot: slotKey(slots[slot]!),
      writerId,
    });
    const said = (pinned: Placing[], over: Partial<Problem> = {}) => {
      const asked = { ...problem, ...over, wishes: { ...NO_WISHES, pinned } };
      const plan = planOf(asked);
      return [plan.placings.length, ...explain(asked, plan.placings).unmet.map((u) => u.why)];
    };
    expect(said([pin(1, 0), pin(2, 0)])).toEqual([
      2,
      '“Stoves” on Mon 7 Dec by Jun cannot be held: another is to go into the same slot.',
    ]);
    expect(said([pin(1, 0), pin(1, 2)])[1]).toBe(
      '“Weirs” on Mon 14 Dec by Jun cannot be held: it is to go into another slot, too.',
    );
    expect(said([pin(1, 0), pin(2, 1)])[1]).toBe(
      '“Stoves” on Tue 8 Dec by Jun cannot be held: Jun has 1 of 1 that week.',
    );
    expect(said([pin(1, 0)], { today: '2026-12-03' })[1]).toBe(
      '“Weirs” on Mon 7 Dec by Jun cannot be held: Jun has 1 day until copy is due and takes 4 days.',
    );
    expect(said([pin(99, 0)])[1]).toBe('A pin cannot be held: the pitch is not in the tray any more.');
  });
});

describe('deadlines, worked by hand', () => {
  const context = { today: '2026-11-23', absences: [], review: { days: 2 }, clearedBy: null };
  const writer = { id: 7, leadTime: { days: 5, count: 3 } };
  it('count back from the run time', () => {
    expect(deadlinesOf(writer, '2026-12-01', context)).toEqual({ copy: '2026-11-28', cleared: '2026-11-30' });
    // From Tuesday 24 to Saturday 28 November are the five days that are needed; a day less is too few.
    expect(deadlinesOf(writer, '2026-11-30', context)).toBeNull();
  });
  it('leave out days away, and put no copy date into them', () => {
    const absences = [{ id: 1, personId: 7, from: '2026-11-27', to: '2026-11-29', note: '' }];
    expect(deadlinesOf(writer, '2026-12-02', { ...context, absences })).toBeNull();
    expect(deadlinesOf(writer, '2026-12-05', { ...context, absences })).toEqual({
      copy: '2026-12-02',
      cleared: '2026-12-04',
    });
    // An absence of one day, at either end or between, takes one day; one that only touches the days takes none.
    const there = (from: string, to = from) =>
      daysThere([{ id: 1, personId: 7, from, to, note: '' }], 7, '2026-11-23', '2026-11-28');
    expect(['2026-11-24', '2026-11-26', '2026-11-28'].map((day) => there(day))).toEqual([4, 4, 4]);
    expect([there('2026-11-20', '2026-11-23'), there('2026-11-29', '2026-12-02')]).toEqual([5, 5]);
    const over = [
      there('2026-11-20', '2026-11-24'),
      there('2026-11-23', '2026-11-24'),
      there('2026-11-28', '2026-12-02'),
    ];
    expect(over).toEqual([4, 4, 4]);
    // Away from tomorrow on, with nothing to write: today is the day for the copy, and yesterday is none.
    const quick = { id: 7, leadTime: { days: 0, count: 3 } };
    const from = (day: string) => [{ id: 1, personId: 7, from: day, to: '2026-12-31', note: '' }];
    const due = (absences: ReturnType<typeof from>) =>
      deadlinesOf(quick, '2026-12-08', { ...context, absences })?.copy;
    expect([due(from('2026-11-24')), due(from('2026-11-23'))]).toEqual(['2026-11-23', undefined]);
    const until = [{ id: 1, personId: 7, from: '2026-12-01', to: '2026-12-09', note: '' }];
    expect(deadlinesOf(writer, '2026-12-08', { ...context, absences: until })?.copy).toBe('2026-11-30');
  });
  // Common practice, no published source: a week's posts are prepared before a holiday, each set for its day.
  it('come before the days that are covered', () => {
    const week = { ...context, today: '2026-12-01', clearedBy: '2026-12-18' };
    expect(['2026-12-21', '2026-12-23', '2026-12-25'].map((d) => deadlinesOf(writer, d, week))).toEqual(
      Array.from({ length: 3 }, () => ({ copy: '2026-12-16', cleared: '2026-12-18' })),
    );
  });
});
