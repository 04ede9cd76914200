import type { SlotDate } from './slots.js';

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
 * Gives each slot date its post: first by category and time, then by time alone (a guest in the slot), then
 * by category alone (the slot's post, moved within its day). A post fills at most one slot.
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
    const there = byDate.get(date);
    if (there) there.push(post);
    else byDate.set(date, [post]);
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

/** A slot date whose post changes when the slots do. */
export interface SlotEffect<P extends DatedPost> {
  post: P;
  /** `loses`: it stood in a slot and would stand in none; `gains`: the other way round. */
  what: 'loses' | 'gains';
}

/**
 * What a change of slots does to the posts of a span: which would no longer stand in a slot, and which would.
 * Posts keep their run times.
 */
export function slotEffects<P extends DatedPost>(
  before: readonly SlotDate[],
  after: readonly SlotDate[],
  posts: readonly P[],
): { effects: SlotEffect<P>[]; openBefore: number; openAfter: number } {
  const [was, will] = [fillSlots(before, posts), fillSlots(after, posts)];
  const inSlot = (filling: Filling<P>) => new Set(filling.slots.flatMap((f) => (f.post ? [f.post] : [])));
  const [wasIn, willBeIn] = [inSlot(was), inSlot(will)];
  const open = (filling: Filling<P>) => filling.slots.filter((f) => f.post === null).length;
  const effects = posts.flatMap((post): SlotEffect<P>[] =>
    wasIn.has(post) && !willBeIn.has(post)
      ? [{ post, what: 'loses' }]
      : !wasIn.has(post) && willBeIn.has(post)
        ? [{ post, what: 'gains' }]
        : [],
  );
  return { effects, openBefore: open(was), openAfter: open(will) };
}
