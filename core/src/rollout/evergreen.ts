import { addDays } from '../time/zone.js';
import type { WallTime } from '../time/zone.js';
import { clashes, spreadOut, type Due, type PacedOutlet } from './clash.js';

/** An older post, with what is known of how it did. */
export interface OldPost {
  id: number;
  title: string;
  categoryId: number | null;
  /** Date of its release. */
  released: string;
  reads: number;
  /** Date it was last passed on anywhere; null: never. */
  passedOn: string | null;
}

export interface EvergreenAsk {
  today: string;
  /** Days a post rests after its release, and after it was passed on. */
  restDays: number;
  max: number;
}

export interface EvergreenPost extends OldPost {
  /** How it did beside the middle post of its age: 1 is the middle. */
  ratio: number;
  why: string;
}

const daysBetween = (a: string, b: string) => Math.round((Date.parse(b) - Date.parse(a)) / 86_400_000);
const median = (list: number[]) => {
  const s = [...list].sort((a, b) => a - b);
  return s.length === 0 ? 0 : (s[(s.length - 1) >> 1]! + s[s.length >> 1]!) / 2;
};

/**
 * Older posts that did well and were not passed on lately, best first, no category twice in a row while
 * another has one.
 * A post's reads are compared with the middle of all by reads per day since its release, since older posts had
 * longer to be read.
 */
export function evergreens(
  posts: readonly OldPost[],
  { today, restDays, max }: EvergreenAsk,
): EvergreenPost[] {
  const rested = posts.filter(
    (p) =>
      daysBetween(p.released, today) >= restDays &&
      (p.passedOn === null || daysBetween(p.passedOn, today) >= restDays),
  );
  const pace = (p: OldPost) => p.reads / Math.max(1, daysBetween(p.released, today));
  const middle = median(posts.map(pace)) || 1;
  const good = rested
    .map((p) => ({ ...p, ratio: pace(p) / middle }))
    .filter((p) => p.ratio > 1)
    .sort((a, b) => b.ratio - a.ratio || a.id - b.id);
  const chosen: EvergreenPost[] = [];
  while (chosen.length < max && good.length > 0) {
    const other = good.findIndex((p) => p.categoryId !== chosen.at(-1)?.categoryId);
    const [next] = good.splice(Math.max(0, other), 1);
    const since =
      next!.passedOn === null
        ? 'never passed on'
        : `last passed on ${daysBetween(next!.passedOn, today)} days ago`;
    chosen.push({
      ...next!,
      why: `${next!.reads.toLocaleString('en')} reads, a day ${next!.ratio.toFixed(1)} times those of the middle post; ${since}.`,
    });
  }
  return chosen;
}

/**
 * A rotation: one post after the other, so many days apart at this time, each at the next outlet, moved where an
 * outlet has enough. A post for which its outlet has no free time within sixty days is left out.
 */
export function rotation(
  posts: readonly { id: number }[],
  outlets: readonly PacedOutlet[],
  { from, time, everyDays, taken }: { from: string; time: string; everyDays: number; taken: readonly Due[] },
): { postId: number; outletId: number; local: WallTime }[] {
  if (outlets.length === 0) return [];
  const wanted = posts.map((p, i) => ({
    postId: p.id,
    outletId: outlets[i % outlets.length]!.id,
    local: `${addDays(from, i * everyDays)}T${time}:00`,
  }));
  // Numbers below zero, so that no piece that exists has them.
  const own = (i: number) => -1 - i;
  const others = taken.map((t) => ({ ...t, fixed: true }));
  const moved = spreadOut(
    [...others, ...wanted.map((w, i) => ({ id: own(i), outletId: w.outletId, local: w.local }))],
    outlets,
  );
  const placed = wanted.map((w, i) => ({ ...w, local: moved.get(own(i)) ?? w.local }));
  const clashing = new Set(
    clashes([...others, ...placed.map((p, i) => ({ id: own(i), ...p }))], outlets).map((c) => c.pieceId),
  );
  return placed.filter((_, i) => !clashing.has(own(i)));
}
