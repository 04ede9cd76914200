import type { Trx } from '../db/connect.js';
import type { EffectOn } from './effects.js';

/** Readers who knew an address are led to the post permanently. */
export async function storeOldSlugs(trx: Trx, effects: readonly EffectOn<'slug left'>[]): Promise<void> {
  await trx('old_slugs')
    .insert(effects.map(({ slug, on }) => ({ blog_id: on.blogId, slug, post_id: on.after.id })))
    .onConflict(['blog_id', 'slug'])
    .ignore();
}

/** An address that a post stands at again is no former one. */
export async function dropOldSlugs(trx: Trx, effects: readonly EffectOn<'slug taken'>[]): Promise<void> {
  await trx.raw(
    `
      delete from old_slugs o using jsonb_to_recordset(?::jsonb) as t (post_id int, slug text)
      where
        o.post_id = t.post_id
        and o.slug = t.slug
    `,
    [JSON.stringify(effects.map(({ slug, on }) => ({ post_id: on.after.id, slug })))],
  );
}
