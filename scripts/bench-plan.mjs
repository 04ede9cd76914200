// A plan for 60 slots from 200 pitches by 15 writers: how near to the best possible it is after a second.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { root } from './machine.mjs';

const { NO_WISHES, addDays, propose } = await import('@keyroster/core');
const core = (part) => import(join(root, 'core', 'dist', part));
const { compile } = await core('proposal/compile.js');
const { lpOf } = await core('assignment/lp.js');
const { series } = await core('assignment/search.js');

const TODAY = '2026-11-23';
const [WEEKS, PITCHES, WRITERS, TAGS] = [12, 200, 15, 25];
const LONG_MS = 20_000;
const OTHERS_S = 60;

/** Twelve weeks of five themed weekdays, and what may go into them, at random. */
function newsroom(seed) {
  const random = series(seed);
  const int = (n) => Math.floor(random() * n);
  const slots = Array.from({ length: WEEKS * 5 }, (_, i) => ({
    slotId: (i % 5) + 1,
    date: addDays('2026-11-30', Math.floor(i / 5) * 7 + (i % 5)),
    time: '08:00',
    categoryId: (i % 5) + 1,
    format: '',
    movedFrom: null,
  }));
  return {
    today: TODAY,
    firstWeekday: 1,
    slots,
    wanted: slots,
    pitches: Array.from({ length: PITCHES }, (_, i) => ({
      id: i + 1,
      title: `Pitch ${i + 1}`,
      categoryId: random() < 0.05 ? null : 1 + int(5),
      secondCategoryId: random() < 0.2 ? 1 + int(5) : null,
      format: '',
      tagIds: [...new Set([int(TAGS), int(TAGS)])],
      dateConstraint: {
        notBefore: random() < 0.1 ? addDays(TODAY, int(WEEKS * 7)) : null,
        notAfter: null,
        mustBeOn: random() < 0.05 ? slots[int(slots.length)].date : null,
      },
      rating: random() < 0.5 ? 1 + int(5) : null,
      since: addDays(TODAY, -int(150)),
      pitchedById: random() < 0.6 ? 1 + int(WRITERS) : null,
      bylineId: random() < 0.1 ? 1 + int(WRITERS) : null,
    })),
    writers: Array.from({ length: WRITERS }, (_, i) => ({
      id: i + 1,
      name: `Writer ${i + 1}`,
      capacity: random() < 0.1 ? null : int(3),
      categoryIds: random() < 0.3 ? [] : [...new Set([1 + int(5), 1 + int(5)])],
      leadTime: { days: 3 + int(12), count: int(9) },
      wrote: [{ categoryId: 1 + int(5), count: int(30) }],
    })),
    absences: Array.from({ length: 8 }, (_, i) => {
      const from = addDays(TODAY, int(WEEKS * 7));
      return { id: i, personId: 1 + int(WRITERS), from, to: addDays(from, int(14)), note: '' };
    }),
    fixed: Array.from({ length: WEEKS }, (_, i) => ({
      id: 1000 + i,
      date: addDays('2026-11-30', int(WEEKS * 7)),
      categoryId: 1 + int(5),
      bylineId: 1 + int(WRITERS),
      tagIds: [int(TAGS)],
    })),
    review: { days: 2, count: 9 },
    clearedBy: null,
    categories: [],
    wishes: NO_WISHES,
  };
}

const percent = (worth, best) => `${((100 * (best - worth)) / best).toFixed(2)}%`;

export async function benchPlan(row) {
  const require = createRequire(join(root, 'core', 'package.json'));
  const highs = await require('highs')();
  for (const seed of [1, 2, 3]) {
    const problem = newsroom(seed);
    const began = performance.now();
    let soon = null;
    let last = null;
    const fell = [];
    for (const progress of propose(problem)) {
      const ms = performance.now() - began;
      if (ms <= 1000) soon = progress;
      for (const mark of [500, 1000, 3000, 10_000])
        if (ms <= mark) fell[mark] = `${(100 * progress.gap).toFixed(2)}% at ${mark / 1000} s`;
      last = progress;
      if (ms > LONG_MS) break;
    }
    const { model, base } = compile(problem);
    const theirs = highs.solve(lpOf(model), { time_limit: OTHERS_S, output_flag: false });
    const others = Number.isFinite(theirs.ObjectiveValue) ? Math.round(theirs.ObjectiveValue) + base : null;
    row(
      `a plan for 60 slots, 200 pitches, 15 writers (${model.choices.length.toLocaleString('en')} choices), newsroom ${seed}`,
      `${soon ? percent(soon.worth, last.bound) : 'nothing yet'} from the best possible at most after 1 s (${soon?.worth ?? 0} of ${last.bound}); distance shown: ${Object.values(fell).join(', ')}; after ${LONG_MS / 1000} s ${last.worth}${last.optimal ? ', proven' : ''}`,
      `HiGHS on the same model, ${OTHERS_S} s: ${others ?? 'nothing'} (${theirs.Status})`,
      'within 1% of the proven optimum within 1 s',
    );
  }
}
