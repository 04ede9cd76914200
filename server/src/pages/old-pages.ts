import type { Queryable, Trx } from '../db/connect.js';

export type OldPageKind = 'category' | 'tag';

/**
 * The page of what is merged away leads permanently to that of what it went into; so do pages that led to it
 * before.
 */
export async function storeOldPage(
  trx: Trx,
  blogId: number,
  kind: OldPageKind,
  from: { id: number; slug: string },
  into: number,
): Promise<void> {
  await trx('old_pages').where({ blog_id: blogId, kind, target_id: from.id }).update({ target_id: into });
  await trx('old_pages')
    .insert({ blog_id: blogId, kind, slug: from.slug, target_id: into })
    .onConflict(['blog_id', 'kind', 'slug'])
    .merge();
}

/** Where a page that was merged away leads, or null. */
export async function movedTo(
  db: Queryable,
  blogId: number,
  kind: OldPageKind,
  slug: string,
): Promise<string | null> {
  const row = await db('old_pages as o')
    .join(`${kind === 'tag' ? 'tags' : 'categories'} as t`, 't.id', 'o.target_id')
    .where({ 'o.blog_id': blogId, 'o.kind': kind, 'o.slug': slug })
    .first<{ slug: string } | undefined>('t.slug');
  return row?.slug ?? null;
}
