import type { SlotDate } from '../slots/slots.js';
import { isReady, type Stage } from '../stages/stages.js';
import { addDays, daysBetween } from '../time/zone.js';
import { isoWeek, startOfWeek } from '../time/week.js';
import { formatCount } from '../time/format.js';

/** A post as rhythm sees it: a run time and a stage. */
export interface RhythmPost {
  runLocal: string;
  stage: Stage;
}

export interface RhythmWeek {
  /** First day of the week. */
  start: string;
  week: number;
  released: number;
  /** Cleared or scheduled. */
  ready: number;
  /** Commissioned, drafting or in review. */
  underWay: number;
  /** Dates of standing slots. */
  wanted: number;
}

export type Evenness = 'steady' | 'uneven' | 'in bursts';

export interface Steadiness {
  /** Burstiness, −1 (always the same gap) to 1 (everything at once); null with fewer than four releases. */
  burstiness: number | null;
  evenness: Evenness | null;
  /** Mean days from one release to the next, and their standard deviation. */
  meanGap: number;
  deviation: number;
  /** Days with more than one release. */
  crowdedDays: number;
  /** The longest wait between two releases, in days. */
  longestGap: number;
}

export interface Rhythm {
  weeks: RhythmWeek[];
  past: Steadiness;
  ahead: Steadiness;
}

/** Below it releases count as steady, above its opposite as bursts. */
const STEADY = -0.2;
const FEWEST = 4;

/**
 * How evenly posts follow each other. The burstiness of the gaps in days between consecutive posts,
 * B = (σ − μ) / (σ + μ), after K.-I. Goh and A.-L. Barabási, "Burstiness and memory in complex systems",
 * EPL 81 (2008) 48002: −1 when every gap is the same, 0 when posts fall at random, towards 1 in bursts.
 */
export function steadiness(dates: readonly string[]): Steadiness {
  const sorted = [...dates].sort();
  const gaps = sorted.slice(1).map((date, i) => daysBetween(sorted[i]!, date));
  const meanGap = gaps.length > 0 ? gaps.reduce((a, b) => a + b, 0) / gaps.length : 0;
  const deviation =
    gaps.length > 0 ? Math.sqrt(gaps.reduce((sum, gap) => sum + (gap - meanGap) ** 2, 0) / gaps.length) : 0;
  const perDay = new Map<string, number>();
  for (const date of sorted) perDay.set(date, (perDay.get(date) ?? 0) + 1);
  const burstiness =
    sorted.length < FEWEST
      ? null
      : deviation + meanGap === 0
        ? 1
        : (deviation - meanGap) / (deviation + meanGap);
  return {
    burstiness,
    meanGap,
    deviation,
    evenness:
      burstiness === null
        ? null
        : burstiness <= STEADY
          ? 'steady'
          : burstiness < -STEADY
            ? 'uneven'
            : 'in bursts',
    crowdedDays: [...perDay.values()].filter((n) => n > 1).length,
    longestGap: Math.max(0, ...gaps),
  };
}

/**
 * The `span` weeks before the one that holds `today`, that week, and the ones after it, `2 × span` in all:
 * what went out, what is to come, what was wanted.
 */
export function rhythm(input: {
  posts: readonly RhythmPost[];
  slots: readonly SlotDate[];
  today: string;
  firstWeekday?: number;
  span?: number;
  /** Posts that are wanted in each week; null: as many as there are slots. */
  wanted?: number | null;
}): Rhythm {
  const { posts, slots, today, firstWeekday = 1, span = 13, wanted = null } = input;
  const first = addDays(startOfWeek(today, firstWeekday), -7 * span);
  const weeks = Array.from({ length: 2 * span }, (_, i): RhythmWeek => {
    const start = addDays(first, 7 * i);
    return {
      start,
      week: isoWeek(addDays(start, 3)).week,
      released: 0,
      ready: 0,
      underWay: 0,
      wanted: wanted ?? 0,
    };
  });
  const weekOf = (date: string) => weeks[Math.floor(daysBetween(first, date) / 7)];
  for (const { runLocal, stage } of posts) {
    const week = weekOf(runLocal.slice(0, 10));
    if (!week || stage === 'withdrawn' || stage === 'pitch') continue;
    if (stage === 'published') week.released++;
    else if (isReady(stage)) week.ready++;
    else week.underWay++;
  }
  for (const slot of wanted === null ? slots : []) {
    const week = weekOf(slot.date);
    if (week) week.wanted++;
  }
  const last = addDays(first, 14 * span - 1);
  const dates = (keep: (p: RhythmPost) => boolean) =>
    posts
      .filter((p) => keep(p) && p.runLocal.slice(0, 10) >= first && p.runLocal.slice(0, 10) <= last)
      .map((p) => p.runLocal.slice(0, 10));
  return {
    weeks,
    past: steadiness(dates((p) => p.stage === 'published')),
    ahead: steadiness(
      dates(
        (p) =>
          p.stage !== 'published' &&
          p.stage !== 'withdrawn' &&
          p.stage !== 'pitch' &&
          p.runLocal.slice(0, 10) >= today,
      ),
    ),
  };
}

/** `Steady: a post every 1.4 days, give or take 0.8.` */
export function formatSteadiness(s: Steadiness): string {
  if (s.evenness === null) return 'Too few posts to say.';
  const word = { steady: 'Steady', uneven: 'Uneven', 'in bursts': 'In bursts' }[s.evenness];
  const crowded = s.crowdedDays > 0 ? `; ${formatCount(s.crowdedDays, 'day')} with more than one` : '';
  return (
    `${word}: a post every ${s.meanGap.toFixed(1)} days, give or take ` +
    `${s.deviation.toFixed(1)}; the longest wait was ` +
    `${formatCount(s.longestGap, 'day')}${crowded}.`
  );
}
