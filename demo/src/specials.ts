import type { Look } from '@keyroster/core';
import type { Db, Trx } from '@keyroster/server';

const LOOK: Look = {
  look: 'plate',
  palette: 'harbour',
  measure: 'medium',
  size: 'medium',
  facts: ['byline', 'reading time'],
};
/** How many of its posts can be read. */
const POSTS = 7;

/** A special that readers have: posts about winter with a cover, and one that was withdrawn since it was chosen. */
export const loadSpecial = (db: Db): Promise<void> => db.transaction((trx) => load(trx));

async function load(trx: Trx): Promise<void> {
  const { id: blogId } = (await trx('blogs').orderBy('id').first<{ id: number }>('id'))!;
  const chosen = await trx('posts as p')
    .join('post_tags as t', 't.post_id', 'p.id')
    .join('tags', 'tags.id', 't.tag_id')
    .where({ 'p.blog_id': blogId, 'p.stage': 'published', 'p.access': 'everyone', 'tags.name': 'winter' })
    .whereNotNull('p.lead_media_id')
    .orderBy('p.run_at', 'desc')
    .limit(POSTS)
    .select<{ id: number; cover: number; alt: string }[]>(
      'p.id',
      'p.lead_media_id as cover',
      'p.lead_alt as alt',
    );
  const withdrawn = await trx('posts')
    .where({ blog_id: blogId, stage: 'withdrawn' })
    .orderBy('id')
    .limit(1)
    .pluck<number[]>('id');
  const [special] = await trx('specials')
    .insert({
      blog_id: blogId,
      title: 'A winter on the water',
      intro:
        'From the first frost on the ropes to the day the ice goes out: what we learned about keeping a boat, and ' +
        'ourselves, through the cold months.\n\nRead it in order, or begin where your own winter pinches.',
      slug: 'winter-on-the-water',
      look: JSON.stringify(LOOK),
      cover_media_id: chosen.at(-1)?.cover ?? null,
      cover_alt: chosen.at(-1)?.alt ?? '',
      published_at: trx.raw(`now() - interval '3 days'`),
    })
    .returning<{ id: number }[]>('id');
  const ids = [...chosen.slice(0, 3).map((p) => p.id), ...withdrawn, ...chosen.slice(3).map((p) => p.id)];
  await trx('special_posts').insert(
    ids.map((post_id, position) => ({ special_id: special!.id, post_id, position })),
  );
}
