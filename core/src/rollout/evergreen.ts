import { addDays } from '../time/zone.js';
import type { WallTime } from '../time/zone.js';
import { spreadOut, type Due, type PacedOutlet } from './clash.js';

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
  standing: number;
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
 * A post's reads are compared with the middle of all by reads per day out, since older posts had longer to be
 * read.
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
  const pace = (p: OldPost) => p.reads / Math.sqrt(Math.max(1, daysBetween(p.released, today)));
  const middle = median(posts.map(pace)) || 1;
  const good = rested
    .map((p) => ({ ...p, standing: pace(p) / middle }))
    .filter((p) => p.standing > 1)
    .sort((a, b) => b.standing - a.standing || a.id - b.id);
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
      why: `${next!.reads.toLocaleString('en')} reads, ${next!.standing.toFixed(1)} × the middle post; ${since}.`,
    });
  }
  return chosen;
}

/**
 * A rotation: one post after the other, a day apart at this time, each at the next outlet, moved where an
 * outlet has enough.
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
  const moved = spreadOut(
    [
      ...taken.map((t) => ({ ...t, fixed: true })),
      ...wanted.map((w, i) => ({ id: -1 - i, outletId: w.outletId, local: w.local })),
    ],
    outlets,
  );
  return wanted.map((w, i) => ({ ...w, local: moved.get(-1 - i) ?? w.local }));
}
