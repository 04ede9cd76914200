import { FINDABLE_FIELDS, type PostField } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import { planMentions } from '../jobs/queue.js';
import type { EffectOn } from '../posts/effects.js';

/** What decides which pages a post links to before everybody. */
const LINKS: readonly PostField[] = ['body', ...FINDABLE_FIELDS];

/** Has posts tell the pages that they link to, of which readers see something else by then. */
export async function mentionLater(trx: Trx, effects: readonly EffectOn<'pages'>[]): Promise<void> {
  const ids = effects
    .filter(({ on }) => on.changed.some((f) => LINKS.includes(f)))
    .map(({ on }) => on.after.id);
  if (ids.length === 0) return;
  const rows = await trx('all_posts as p')
    .whereIn('p.id', ids)
    .where((w) =>
      w
        .whereRaw(`p.stage = 'published' and p.binned_at is null and p.body::text like '%"href": "http%'`)
        // Pages that were notified see that a post was withdrawn, too.
        .orWhereRaw('exists (select 1 from mentions_sent m where m.post_id = p.id)'),
    )
    .pluck<number[]>('p.id');
  await planMentions(trx, rows);
}
