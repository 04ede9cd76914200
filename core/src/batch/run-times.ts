import { Temporal } from 'temporal-polyfill';
import { refuse, type EditContext, type Refusal } from '../posts/context.js';
import type { RunTime } from '../posts/values.js';
import { meaningOf, type WallTime } from '../time/zone.js';

/** A wall time so many days and minutes later, by the clock on the wall: 08:00 stays 08:00 over a change of clocks. */
export function shifted(local: WallTime, { days, minutes }: { days: number; minutes: number }): WallTime {
  // One after the other: a duration may not hold days one way and minutes the other.
  const moved = Temporal.PlainDateTime.from(local).add({ days }).add({ minutes });
  return moved.toString({ fractionalSecondDigits: 0 });
}

/** The run time that a wall time means on the blog; a time that comes twice is meant the first time, as everywhere. */
export function runTimeAt(
  local: WallTime,
  { zone }: Pick<EditContext, 'zone'>,
): { ok: true; run: RunTime } | Refusal {
  const meaning = meaningOf(local, zone);
  if (!meaning) return refuse('bad-time', 'It would run at a time that does not exist.');
  if (meaning.kind === 'gap') return refuse('bad-time', 'It would run at a time that the clocks leave out.');
  const at = meaning.kind === 'exact' ? meaning.at : meaning.choices[0].at;
  return { ok: true, run: { local, zone, at } };
}

/** Gives posts, in their order, the earliest open slots of their category that are still to come. */
export function spreadOver(
  posts: readonly { id: number; categoryId: number | null }[],
  open: readonly { local: WallTime; categoryId: number }[],
  nowLocal: WallTime,
): Map<number, WallTime> {
  const byCategory = new Map<number, WallTime[]>();
  for (const slot of open.filter((s) => s.local > nowLocal).sort((a, b) => (a.local < b.local ? -1 : 1)))
    byCategory.set(slot.categoryId, [...(byCategory.get(slot.categoryId) ?? []), slot.local]);
  const places = new Map<number, WallTime>();
  for (const post of posts) {
    const local = post.categoryId === null ? undefined : byCategory.get(post.categoryId)?.shift();
    if (local !== undefined) places.set(post.id, local);
  }
  return places;
}
