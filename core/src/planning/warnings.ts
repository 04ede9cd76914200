import type { DatedPost } from '../slots/slots.js';
import type { Stage } from '../stages/stages.js';
import { daysBetween } from '../time/zone.js';
import { sayCount } from '../time/say.js';

/** A dated post as warnings see it. */
export interface PlannedPost extends DatedPost {
  title: string;
  stage: Stage;
  bylineId: number | null;
}

export type WarningKind = 'past' | 'two on a day' | 'category close' | 'byline close' | 'little time';

/** Something to think about before or after a post is put on a date. Never a refusal. */
export interface PlanWarning {
  kind: WarningKind;
  sentence: string;
}

/** Days apart at least, for posts of one category or one byline; days still needed, by stage, to write and review. */
export interface PlanRules {
  categoryDays: number;
  bylineDays: number;
  daysNeeded: Partial<Record<Stage, number>>;
}

/** Steady beats bursts, and a post needs about a week from commission to release (common practice, no published source). */
export const PLAN_RULES: PlanRules = { categoryDays: 3, bylineDays: 2, daysNeeded: { pitch: 6, commissioned: 5, drafting: 3, 'in review': 1 } };

/**
 * What is wrong with a post on its date, among the other dated posts. `nowLocal` is the blog's wall time.
 * Posts that are published or withdrawn have nothing left to warn of, but others are warned of them.
 */
export function warningsFor(post: PlannedPost, others: readonly PlannedPost[], nowLocal: string, rules: PlanRules = PLAN_RULES): PlanWarning[] {
  if (post.stage === 'published' || post.stage === 'withdrawn') return [];
  const date = post.runLocal.slice(0, 10);
  const warnings: PlanWarning[] = [];
  if (post.runLocal < nowLocal) warnings.push({ kind: 'past', sentence: 'Its run time has passed.' });
  else {
    const left = daysBetween(nowLocal.slice(0, 10), date);
    const needed = rules.daysNeeded[post.stage] ?? 0;
    if (left < needed) warnings.push({ kind: 'little time', sentence: `${left === 0 ? 'It runs today' : `${sayCount(left, 'day')} left`}; from ${post.stage}, writing and review take about ${needed}.` });
  }
  const near = others.filter((o) => o.id !== post.id && o.stage !== 'withdrawn').map((o) => ({ other: o, days: Math.abs(daysBetween(date, o.runLocal.slice(0, 10))) }));
  const closest = (fits: (o: PlannedPost) => boolean, within: number) =>
    near.filter((n) => n.days > 0 && n.days < within && fits(n.other)).sort((a, b) => a.days - b.days || a.other.id - b.other.id)[0];
  const same = near.find((n) => n.days === 0)?.other;
  if (same) warnings.push({ kind: 'two on a day', sentence: `“${same.title}” runs on the same day.` });
  const category = closest((o) => post.categoryId !== null && o.categoryId === post.categoryId, rules.categoryDays);
  if (category) warnings.push({ kind: 'category close', sentence: `“${category.other.title}”, of the same category, runs ${sayCount(category.days, 'day')} away.` });
  const byline = closest((o) => post.bylineId !== null && o.bylineId === post.bylineId, rules.bylineDays);
  if (byline) warnings.push({ kind: 'byline close', sentence: `“${byline.other.title}”, by the same writer, runs ${sayCount(byline.days, 'day')} away.` });
  return warnings;
}

/** A day for the text and a day to review it: with less, a post that is not handed in will not make its date. */
const HOPELESS_DAYS = 1;

/** Is a dated post past hope: not handed in, and its run time past or no more than a day away? Such posts can be swept back to the tray. */
export function isHopeless(post: { stage: Stage; runLocal: string | null }, nowLocal: string): boolean {
  if (post.runLocal === null || (post.stage !== 'commissioned' && post.stage !== 'drafting')) return false;
  return post.runLocal < nowLocal || daysBetween(nowLocal.slice(0, 10), post.runLocal.slice(0, 10)) <= HOPELESS_DAYS;
}

/** What a post still lacks before it can go out, in the order in which it is usually mended. */
export function lacks(post: { stage: Stage; bylineId: number | null; categoryId: number | null; words: number; excerpt: string; openNotes: number }): string[] {
  if (post.stage === 'published' || post.stage === 'withdrawn') return [];
  return [
    ...(post.bylineId === null ? ['a writer'] : []),
    ...(post.categoryId === null ? ['a category'] : []),
    ...(post.words === 0 ? ['its text'] : []),
    ...(post.excerpt.trim() === '' ? ['an excerpt'] : []),
    ...(post.openNotes > 0 ? [post.openNotes === 1 ? 'an answer to 1 note' : `answers to ${post.openNotes} notes`] : []),
    ...({ pitch: ['commissioning'], commissioned: ['handing in'], drafting: ['handing in'], 'in review': ['clearing'], cleared: ['scheduling'] }[post.stage as string] ?? []),
  ];
}
