import { deskText } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import type { EffectOn } from '../posts/effects.js';
import { sharedChangeOf } from '../work/computing.js';
import { addUpdate, contentsOf, readText } from './updates.js';

/**
 * A text that was changed elsewhere than at the desk (a batch, a program, a restore) goes into its shared document as
 * a change, so that people who have it open keep what they type, and see it.
 */
export async function pushTexts(trx: Trx, effects: readonly EffectOn<'text replaced'>[]): Promise<void> {
  const bodies = new Map(effects.map(({ on: { after } }) => [after.id, deskText(after)!]));
  const shared = (await trx('shared_texts')
    .whereRaw('post_id = any(?)', [[...bodies.keys()]])
    .orderBy('post_id')
    .forUpdate()
    .pluck('post_id')) as number[];
  for (const id of shared) {
    const kept = (await readText(trx, id))!;
    // Changed as the post's row has it; what was typed since and is not stored yet joins with that, and stays.
    const updates = kept.updates.filter((u) => u.fromPost || u.id <= kept.storedId);
    const change = await sharedChangeOf(contentsOf({ ...kept, updates }), bodies.get(id)!);
    if (change) await addUpdate(trx, id, null, change, true);
  }
}
