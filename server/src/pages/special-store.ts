import type { SpecialDraft } from '@keyroster/contract';
import { lookOf, partState, SPECIALS_PATH, type Instant, type PartState, type Stage } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { readable } from '../access/readable.js';

export interface SpecialRow extends SpecialDraft {
  id: number;
  version: number;
  publishedAt: Instant | null;
}

/** Specials of a blog with the posts chosen for each, in order. */
export async function specialRows(
  db: Queryable,
  blogId: number,
  where: Partial<{ id: number; slug: string }> = {},
): Promise<SpecialRow[]> {
  const rows = await db('specials as s')
    .where({ 's.blog_id': blogId })
    .modify((q) => {
      if (where.id !== undefined) void q.where('s.id', where.id);
      if (where.slug !== undefined) void q.where('s.slug', where.slug);
    })
    .orderByRaw('s.published_at desc nulls first, s.id desc')
    .select<(Omit<SpecialRow, 'look'> & { look: unknown })[]>(
      's.id',
      's.version',
      's.title',
      's.intro',
      's.slug',
      's.host',
      's.look',
      's.cover_media_id as coverId',
      's.cover_alt as coverAlt',
      's.published_at as publishedAt',
      db.raw(
        `
          array(
            select
              p.post_id
            from
              special_posts p
            where
              p.special_id = s.id
            order by
              p.position
          ) as "postIds"
        `,
      ),
    );
  return rows.map((row) => ({ ...row, look: lookOf(row.look) }));
}

export interface SpecialPart {
  id: number;
  title: string;
  slug: string | null;
  stage: Stage;
  state: PartState;
}

/** The posts chosen for a special, in its order, each with what readers get of it. */
export async function partsOf(
  db: Queryable,
  blogId: number,
  postIds: readonly number[],
): Promise<SpecialPart[]> {
  if (postIds.length === 0) return [];
  const open = new Set(
    await readable(db, { id: blogId })
      .whereIn('posts.id', [...postIds])
      .pluck<number[]>('posts.id'),
  );
  const rows = await db('all_posts')
    .where({ blog_id: blogId })
    .whereIn('id', [...postIds])
    .select<(Omit<SpecialPart, 'state'> & { binned: boolean })[]>(
      'id',
      'title',
      'slug',
      'stage',
      db.raw('binned_at is not null as binned'),
    );
  const byId = new Map(rows.map((row) => [row.id, row]));
  return postIds.flatMap((id) => {
    const row = byId.get(id);
    if (!row) return [];
    const { binned, ...part } = row;
    return [{ ...part, state: partState({ stage: part.stage, binned, readable: open.has(id) }) }];
  });
}

/** The whole address of a special, with a slash at the end. */
export const specialHome = (
  { slug, host }: Pick<SpecialDraft, 'slug' | 'host'>,
  home: string,
  publicUrl: string,
): string =>
  host === null ? `${home}${SPECIALS_PATH}/${slug}/` : `${new URL(publicUrl).protocol}//${host}/`;

/** Does a special stand at this host? */
export const specialAtHost = async (db: Queryable, host: string): Promise<boolean> =>
  (await db('specials').where({ host }).first('id')) !== undefined;
