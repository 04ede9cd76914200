import { addDays, wallTimeOf } from '@keyroster/core';
import type { Db, Trx } from '@keyroster/server';
import { ZONE } from './load-posts.js';

const NAME = 'Winter stoppages';
/** How many posts of each kind the campaign has: some are out, some are on their way. */
const OUT = 4;
const COMING = 4;

/** A campaign under way: posts before and after today, two outlets that everything goes to, and a gap or two. */
export const loadCampaign = (db: Db): Promise<void> => db.transaction((trx) => load(trx));

async function load(trx: Trx): Promise<void> {
  const { id: blogId } = (await trx('blogs').orderBy('id').first<{ id: number }>('id'))!;
  const today = wallTimeOf(new Date().toISOString(), ZONE).slice(0, 10);
  const out = await trx('posts')
    .where({ blog_id: blogId, stage: 'published', access: 'everyone' })
    .where('words', '>', 150)
    .orderBy('run_at', 'desc')
    .limit(OUT)
    .pluck<number[]>('id');
  const coming = await trx('posts')
    .where({ blog_id: blogId })
    .whereIn('stage', ['drafting', 'in review', 'cleared', 'scheduled'])
    .whereNotNull('run_local')
    .where('run_local', '>', today)
    .orderBy('run_local')
    .limit(COMING)
    .pluck<number[]>('id');
  await trx('all_posts')
    .whereIn('id', [...out, ...coming])
    .update({ campaign: NAME });
  const [campaign] = await trx('campaigns')
    .insert({
      blog_id: blogId,
      name: NAME,
      about: 'What is shut from November to March, where to wait it out, and how to keep warm meanwhile.',
      from_date: addDays(today, -21),
      until_date: addDays(today, 24),
    })
    .returning<{ id: number }[]>('id');
  const outlets = await trx('outlets')
    .where({ blog_id: blogId })
    .whereIn('name', ['Towline', 'Slipway'])
    .pluck<number[]>('id');
  await trx('campaign_outlets').insert(
    outlets.map((outlet_id) => ({ campaign_id: campaign!.id, outlet_id })),
  );
}
