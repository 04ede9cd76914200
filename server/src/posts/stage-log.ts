import type { Trx } from '../db/connect.js';
import type { EffectOn } from './effects.js';

/** Writes every move down, with its time and person. */
export async function logMoves(trx: Trx, effects: readonly EffectOn<'moved'>[]): Promise<void> {
  await trx('stage_moves').insert(
    effects.map(({ step, on }) => ({
      blog_id: on.blogId,
      post_id: on.after.id,
      from_stage: step.from,
      to_stage: step.to,
      person_id: on.personId,
      note: step.log ?? step.note,
    })),
  );
}
