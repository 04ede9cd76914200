import { addDays, daysBetween } from '../time/zone.js';
import { startOfWeek, weekday } from '../time/week.js';

/** A recurring opening on the calendar. Times are wall times of the blog's zone. */
export interface StandingSlot {
  id: number;
  /** ISO weekday, 1 is Monday. */
  weekday: number;
  /** `HH:mm` */
  time: string;
  categoryId: number;
  /** First and last date, `YYYY-MM-DD`, inclusive; null is without end. */
  from: string | null;
  until: string | null;
}

/** One date of a standing slot. */
export interface SlotDate {
  slotId: number;
  date: string;
  time: string;
  categoryId: number;
}

/** Every date of the slots from `from` to `to`, both inclusive, in order of time. */
export function slotDates(slots: readonly StandingSlot[], from: string, to: string): SlotDate[] {
  const found: SlotDate[] = [];
  for (const slot of slots) {
    let date = addDays(startOfWeek(from), slot.weekday - 1);
    if (date < from) date = addDays(date, 7);
    for (; date <= to; date = addDays(date, 7)) {
      if ((slot.from && date < slot.from) || (slot.until && date > slot.until)) continue;
      found.push({ slotId: slot.id, date, time: slot.time, categoryId: slot.categoryId });
    }
  }
  return found.sort((a, b) => `${a.date}${a.time}`.localeCompare(`${b.date}${b.time}`) || a.slotId - b.slotId);
}

/** What slot filling needs to know of a post that has a run time. */
export interface DatedPost {
  id: number;
  /** `YYYY-MM-DDTHH:mm:ss` */
  runLocal: string;
  categoryId: number | null;
}

export interface Filling<P extends DatedPost> {
  /** Slot dates in order, each with the post that fills it or null when it is open. */
  slots: { slot: SlotDate; post: P | null }[];
  /** Posts that fill no slot. */
  extra: P[];
}

/**
 * Gives each slot date its post: first by category and time, then by time alone (a guest in the slot), then by
 * category alone (the slot's post, moved within its day). A post fills at most one slot.
 */
export function fillSlots<P extends DatedPost>(dates: readonly SlotDate[], posts: readonly P[]): Filling<P> {
  const free = new Set(posts);
  const filled = new Map<SlotDate, P>();
  const passes: ((s: SlotDate, p: P) => boolean)[] = [
    (s, p) => p.categoryId === s.categoryId && p.runLocal.slice(11, 16) === s.time,
    (s, p) => p.runLocal.slice(11, 16) === s.time,
    (s, p) => p.categoryId === s.categoryId,
  ];
  const byDate = new Map<string, P[]>();
  for (const post of posts) {
    const date = post.runLocal.slice(0, 10);
    byDate.set(date, [...(byDate.get(date) ?? []), post]);
  }
  for (const fits of passes) {
    for (const slot of dates) {
      if (filled.has(slot)) continue;
      const post = byDate.get(slot.date)?.find((p) => free.has(p) && fits(slot, p));
      if (post) {
        filled.set(slot, post);
        free.delete(post);
      }
    }
  }
  return {
    slots: dates.map((slot) => ({ slot, post: filled.get(slot) ?? null })),
    extra: posts.filter((p) => free.has(p)),
  };
}

/** The next date on or after `from` that a slot opens, or null within `weeks` weeks. */
export function nextDateOf(slot: StandingSlot, from: string, weeks = 60): string | null {
  const ahead = (slot.weekday - weekday(from) + 7) % 7;
  let date = addDays(from, ahead);
  if (slot.from && date < slot.from) date = addDays(date, Math.ceil(daysBetween(date, slot.from) / 7) * 7);
  if (daysBetween(from, date) > weeks * 7) return null;
  return slot.until && date > slot.until ? null : date;
}
