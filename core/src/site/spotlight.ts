import { formatList } from '../text/list.js';
import { formatCount, formatShortDate } from '../time/format.js';
import { addDays, daysBetween } from '../time/zone.js';
import { startOfWeek } from '../time/week.js';

/** A post that is held on top of the front page, on these days and all between. */
export interface Held {
  id: number;
  title: string;
  from: string;
  until: string;
}

/** Posts that take turns on top, each for a week; the first of them in the week of `since`. */
export interface Rotation {
  posts: readonly number[];
  since: string;
}

export const MAX_ROTATION = 52;
/** Posts that are on top at once; more would hide what is new. */
export const MAX_SPOTLIT = 3;

/** Whose turn it is on a day; null where nobody’s is. Common practice: the spotlight changes weekly. */
export function turnOn(rotation: Rotation | null, date: string, firstWeekday: number): number | null {
  if (!rotation || rotation.posts.length === 0) return null;
  const weeks = weeksSince(rotation, date, firstWeekday);
  return weeks < 0 ? null : rotation.posts[weeks % rotation.posts.length]!;
}

const weeksSince = ({ since }: Rotation, date: string, firstWeekday: number): number =>
  Math.round(daysBetween(startOfWeek(since, firstWeekday), startOfWeek(date, firstWeekday)) / 7);

/** The turns of the next weeks, this one first. */
export function turnsFrom(
  rotation: Rotation | null,
  today: string,
  firstWeekday: number,
  weeks: number,
): { start: string; postId: number }[] {
  const first = startOfWeek(today, firstWeekday);
  return Array.from({ length: weeks }, (_, i) => addDays(first, 7 * i)).flatMap((start) => {
    const postId = turnOn(rotation, start, firstWeekday);
    return postId === null ? [] : [{ start, postId }];
  });
}

/** In the order that was chosen; what was not put into it comes after, the newest begun first. */
export function inSpotlightOrder<T extends Pick<Held, 'id' | 'from'>>(
  held: readonly T[],
  order: readonly number[],
): T[] {
  const place = (id: number) => {
    const at = order.indexOf(id);
    return at < 0 ? order.length : at;
  };
  return [...held].sort((a, b) => place(a.id) - place(b.id) || b.from.localeCompare(a.from) || b.id - a.id);
}

/** What is on top on a day: what is held, in its order, then whose turn it is; at most three. */
export function spotlitOn(
  date: string,
  held: readonly Pick<Held, 'id' | 'from' | 'until'>[],
  order: readonly number[],
  turn: number | null,
): number[] {
  const now = inSpotlightOrder(
    held.filter((h) => h.from <= date && date <= h.until),
    order,
  ).map((h) => h.id);
  return [...new Set([...now, ...(turn === null ? [] : [turn])])].slice(0, MAX_SPOTLIT);
}

/** Days on which several posts are held on top at once, a sentence for each stretch of them. */
export function overlapsOf(held: readonly Held[], order: readonly number[], today: string): string[] {
  const coming = held.filter((h) => h.until >= today);
  const edges = [...new Set(coming.flatMap((h) => [h.from, addDays(h.until, 1)]))].sort();
  const stretches = edges.flatMap((from, i) => {
    const next = edges[i + 1];
    if (next === undefined) return [];
    const there = inSpotlightOrder(
      coming.filter((h) => h.from <= from && from <= h.until),
      order,
    );
    return there.length > 1 ? [{ from, until: addDays(next, -1), there }] : [];
  });
  return stretches.map(({ from, until, there }) => {
    const days =
      from === until
        ? `On ${formatShortDate(from, today)}`
        : `From ${formatShortDate(from, today)} to ${formatShortDate(until, today)}`;
    const names = formatList(there.map((h) => `“${h.title}”`));
    const over = there.length - MAX_SPOTLIT;
    const hidden = over > 0 ? ` The last ${formatCount(over, 'post')} will not be shown.` : '';
    return `${days} ${there.length} are on top: ${names}, in this order.${hidden}`;
  });
}
