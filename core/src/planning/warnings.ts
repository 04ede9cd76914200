import type { DatedPost } from '../slots/filling.js';
import type { SlotDate } from '../slots/slots.js';
import { isReady, type Stage } from '../stages/stages.js';
import { addDays, daysBetween } from '../time/zone.js';
import { startOfWeek } from '../time/week.js';
import { formatCount } from '../time/format.js';
import { absenceOn, daysAway, fitting, formatAbsence, type Absence } from './load.js';
import { conflictsWithDate, type DateConstraint } from './date-constraint.js';

/** A dated post as warnings see it. */
export interface PlannedPost extends DatedPost {
  title: string;
  stage: Stage;
  bylineId: number | null;
  dateConstraint: DateConstraint;
}

export type WarningKind =
  | 'past'
  | 'slot taken'
  | 'two on a day'
  | 'category close'
  | 'byline close'
  | 'writer away'
  | 'over capacity'
  | 'little time'
  | 'other date wanted';

/** Something to think about before or after a post is put on a date. Never a refusal. */
export interface PlanWarning {
  kind: WarningKind;
  sentence: string;
}

/**
 * Days apart at least, for posts of one category or one byline; days still needed, by stage, to write and
 * review.
 */
export interface PlanRules {
  categoryDays: number;
  bylineDays: number;
  daysNeeded: Partial<Record<Stage, number>>;
}

/**
 * Steady beats bursts, and a post needs about a week from commission to release (common practice, no
 * published source).
 */
export const PLAN_RULES: PlanRules = {
  categoryDays: 3,
  bylineDays: 2,
  daysNeeded: { pitch: 6, commissioned: 5, drafting: 3, 'in review': 1 },
};

/** A writer of the blog as warnings name them. */
export interface Writer {
  id: number;
  name: string;
  /** Posts a week, or null when nobody said. */
  capacity: number | null;
}

/** All that a date is judged against. */
export interface Plan {
  posts: readonly PlannedPost[];
  slots: readonly SlotDate[];
  absences: readonly Absence[];
  writers: readonly Writer[];
  /** The blog's wall time. */
  nowLocal: string;
  firstWeekday?: number;
  rules?: PlanRules;
}

const put = <K, V>(map: Map<K, V[]>, key: K, value: V) => {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
};

/**
 * Judges dates against a plan. Posts are laid out by day and by writer's week first, so that thousands of
 * them can be judged at once.
 */
export class PlanJudge {
  private readonly byDay = new Map<string, PlannedPost[]>();
  private readonly byWriterWeek = new Map<string, PlannedPost[]>();
  private readonly weekStarts = new Map<string, string>();
  private readonly slotTimes: ReadonlySet<string>;
  private readonly writers: ReadonlyMap<number, Writer>;
  private readonly rules: PlanRules;

  constructor(private readonly plan: Plan) {
    this.rules = plan.rules ?? PLAN_RULES;
    this.slotTimes = new Set(plan.slots.map((s) => `${s.date}T${s.time}`));
    this.writers = new Map(plan.writers.map((w) => [w.id, w]));
    for (const post of plan.posts) {
      if (post.stage === 'withdrawn') continue;
      put(this.byDay, post.runLocal.slice(0, 10), post);
      if (post.bylineId !== null) put(this.byWriterWeek, this.writerWeek(post.bylineId, post.runLocal), post);
    }
  }

  private writerWeek(bylineId: number, runLocal: string): string {
    const date = runLocal.slice(0, 10);
    let start = this.weekStarts.get(date);
    if (start === undefined) this.weekStarts.set(date, (start = startOfWeek(date, this.plan.firstWeekday)));
    return `${bylineId}|${start}`;
  }

  /**
   * What is wrong with a post on its date, among the other dated posts; the post itself may be in the plan on
   * another date.
   * Posts that are published or withdrawn have nothing left to warn of, but others are warned of them.
   */
  warnings(post: PlannedPost): PlanWarning[] {
    if (post.stage === 'published' || post.stage === 'withdrawn') return [];
    return [
      ...this.time(post),
      ...this.dateConstraint(post),
      ...this.sameDay(post),
      ...this.close(post),
      ...this.writer(post),
    ];
  }

  private time(post: PlannedPost): PlanWarning[] {
    if (post.runLocal < this.plan.nowLocal) return [{ kind: 'past', sentence: 'Its run time has passed.' }];
    const left = daysBetween(this.plan.nowLocal, post.runLocal);
    const needed = this.rules.daysNeeded[post.stage] ?? 0;
    return left < needed
      ? [
          {
            kind: 'little time',
            sentence:
              `${left === 0 ? 'It runs today' : `${formatCount(left, 'day')} left`}; from ` +
              `${post.stage}, writing and review take about ${needed}.`,
          },
        ]
      : [];
  }

  private dateConstraint(post: PlannedPost): PlanWarning[] {
    const sentence = conflictsWithDate(post.dateConstraint, post.runLocal.slice(0, 10));
    return sentence ? [{ kind: 'other date wanted', sentence }] : [];
  }

  private sameDay(post: PlannedPost): PlanWarning[] {
    const others = this.others(post, 0);
    const there = others.find(
      (o) =>
        o.runLocal.slice(0, 16) === post.runLocal.slice(0, 16) && this.slotTimes.has(o.runLocal.slice(0, 16)),
    );
    if (there)
      return [
        {
          kind: 'slot taken',
          sentence: `The ${post.runLocal.slice(11, 16)} slot is taken by “${there.title}”.`,
        },
      ];
    const same = others[0];
    return same
      ? [
          {
            kind: 'two on a day',
            sentence:
              `“${same.title}” runs on the same ` +
              `day${others.length > 1 ? `, and ${formatCount(others.length - 1, 'other')}` : ''}.`,
          },
        ]
      : [];
  }

  private close(post: PlannedPost): PlanWarning[] {
    const { categoryDays, bylineDays } = this.rules;
    const closest = (
      within: number,
      fits: (o: PlannedPost) => boolean,
    ): { other: PlannedPost; days: number } | null => {
      for (let days = 1; days < within; days++) {
        const other = [...this.others(post, -days), ...this.others(post, days)]
          .filter(fits)
          .sort((a, b) => a.id - b.id)[0];
        if (other) return { other, days };
      }
      return null;
    };
    const category =
      post.categoryId === null ? null : closest(categoryDays, (o) => o.categoryId === post.categoryId);
    const byline = post.bylineId === null ? null : closest(bylineDays, (o) => o.bylineId === post.bylineId);
    return [
      ...(category
        ? [
            {
              kind: 'category close' as const,
              sentence:
                `“${category.other.title}”, of the same category, runs ` +
                `${formatCount(category.days, 'day')} away.`,
            },
          ]
        : []),
      ...(byline
        ? [
            {
              kind: 'byline close' as const,
              sentence: `“${byline.other.title}”, by the same writer, runs ${formatCount(byline.days, 'day')} away.`,
            },
          ]
        : []),
    ];
  }

  private others(post: PlannedPost, days: number): PlannedPost[] {
    return (this.byDay.get(addDays(post.runLocal.slice(0, 10), days)) ?? []).filter((o) => o.id !== post.id);
  }

  /**
   * Away while the post has to be written, or on its day; more in the week than fits. A post that is ready
   * needs its writer no longer.
   */
  private writer(post: PlannedPost): PlanWarning[] {
    const writer = post.bylineId === null ? undefined : this.writers.get(post.bylineId);
    if (!writer || isReady(post.stage) || post.runLocal < this.plan.nowLocal) return [];
    const found: PlanWarning[] = [];
    const [today, date] = [this.plan.nowLocal.slice(0, 10), post.runLocal.slice(0, 10)];
    const needed = this.rules.daysNeeded[post.stage] ?? 0;
    const windowed = addDays(date, -needed) > today ? addDays(date, -needed) : today;
    const onDay = absenceOn(this.plan.absences, writer.id, date);
    const away = daysAway(this.plan.absences, writer.id, windowed, date);
    if (onDay)
      found.push({ kind: 'writer away', sentence: `${writer.name} is ${formatAbsence(onDay, today)}.` });
    else if (away > 0 && post.stage !== 'in review')
      found.push({
        kind: 'writer away',
        sentence: `${writer.name} is away on ${formatCount(away, 'day')} of those it needs to be written.`,
      });
    if (writer.capacity !== null) {
      const start = startOfWeek(date, this.plan.firstWeekday);
      const fits = fitting(
        writer.capacity,
        daysAway(this.plan.absences, writer.id, start, addDays(start, 6)),
      );
      const count =
        1 +
        (this.byWriterWeek.get(this.writerWeek(writer.id, post.runLocal)) ?? []).filter(
          (o) => o.id !== post.id,
        ).length;
      if (count > fits)
        found.push({
          kind: 'over capacity',
          sentence:
            `${writer.name} has ${formatCount(count, 'post')} that week; ` +
            `${fits === 0 ? 'none fits' : fits === 1 ? '1 fits' : `${fits} fit`}.`,
        });
    }
    return found;
  }
}

/**
 * A day for the text and a day to review it: with less, a post that is not handed in will not make its date.
 */
const HOPELESS_DAYS = 1;

/**
 * Is a dated post past hope: not handed in, and its run time past or no more than a day away? Such posts can
 * be swept back to the tray.
 */
export function isHopeless(post: { stage: Stage; runLocal: string | null }, nowLocal: string): boolean {
  if (post.runLocal === null || (post.stage !== 'commissioned' && post.stage !== 'drafting')) return false;
  return (
    post.runLocal < nowLocal ||
    daysBetween(nowLocal.slice(0, 10), post.runLocal.slice(0, 10)) <= HOPELESS_DAYS
  );
}
