import type { PlanFacts, PlanPost } from './facts.js';
import { slotKey, type Placing, type Problem } from './problem.js';

/** What a plan changes for a post that is on the calendar already. */
export interface PlanChange {
  postId: number;
  title: string;
  from: { runLocal: string; writerId: number | null };
  /** Null: nobody can take it, and it stays where it is, without anybody who will write it. */
  to: { date: string; time: string; writerId: number } | null;
}

/** The posts whose writer or date a plan changes, in order of time; those that stay as they are left out. */
export function changesOf(facts: PlanFacts, problem: Problem, placings: readonly Placing[]): PlanChange[] {
  const posts = new Map<number, PlanPost>(facts.posts.map((p) => [p.id, p]));
  const slots = new Map(problem.slots.map((s) => [slotKey(s), s]));
  const byPost = new Map(placings.map((p) => [p.pitchId, p]));
  return problem.pitches
    .flatMap((pitch): PlanChange[] => {
      if (!pitch.stands) return [];
      const post = posts.get(pitch.id)!;
      const placing = byPost.get(pitch.id);
      const same = placing?.slot === pitch.stands.slot && placing.writerId === pitch.stands.writerId;
      if (same) return [];
      const slot = placing && slots.get(placing.slot)!;
      return [
        {
          postId: post.id,
          title: post.title,
          from: { runLocal: post.runLocal, writerId: post.bylineId },
          to: slot ? { date: slot.date, time: slot.time, writerId: placing.writerId } : null,
        },
      ];
    })
    .sort((a, b) => a.from.runLocal.localeCompare(b.from.runLocal));
}
