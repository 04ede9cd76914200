import { inTurns } from '../work/turns.js';
import type { Knex } from 'knex';
import type { BodyNode, Post, PostFacts } from '@keyroster/core';
import type { Queryable, Trx } from '../db/connect.js';
import { LIGHT_COLUMNS, valuesOf, type ColumnRow, type TextField } from './columns.js';

/** A row of `posts` with what is read alongside it. Wall times and dates are text, instants RFC 3339 text. */
export interface PostRow extends Omit<ColumnRow, TextField> {
  id: number;
  blog_id: number;
  version: number;
  copied_from_id: number | null;
  check_blocks: number;
  check_warns: number;
  alike_id: number | null;
  alike_share: number | null;
  created_by: number | null;
  created_at: string;
  updated_at: string;
  coauthor_ids: number[];
  tag_ids: number[];
  byline_name: string | null;
  open_notes: number;
}
export interface WholePostRow extends PostRow {
  body: BodyNode;
  suggested: BodyNode | null;
  body_text: string;
}

const LIGHT = [
  'id',
  'blog_id',
  'version',
  ...LIGHT_COLUMNS,
  'copied_from_id',
  'check_blocks',
  'check_warns',
  'alike_id',
  'alike_share',
  'created_by',
  'created_at',
  'updated_at',
].map((c) => `posts.${c}`);

/** Posts without their text, with byline name, co-authors and count of open notes. */
export function postRows(db: Queryable): Knex.QueryBuilder<PostRow, PostRow[]> {
  return db('posts')
    .leftJoin('people as by', 'by.id', 'posts.byline_id')
    .select<PostRow[]>(
      ...LIGHT,
      'by.name as byline_name',
      db.raw(
        'array(select person_id from post_coauthors c where c.post_id = posts.id order by 1) as coauthor_ids',
      ),
      db.raw('array(select tag_id from post_tags t where t.post_id = posts.id order by 1) as tag_ids'),
      db.raw(
        '(select count(*) from notes n where n.post_id = posts.id and n.parent_id is null ' +
          'and n.settled_at is null) as open_notes',
      ),
    ) as unknown as Knex.QueryBuilder<PostRow, PostRow[]>;
}

export async function findPost(db: Queryable, blogId: number, id: number): Promise<WholePostRow | null> {
  const row = (await postRows(db)
    .select('posts.body', 'posts.suggested', 'posts.body_text')
    .where('posts.blog_id', blogId)
    .where('posts.id', id)
    .first()) as unknown as WholePostRow | undefined;
  return row ?? null;
}

/** The same, with the row held until the transaction ends. */
export async function lockPost(trx: Trx, blogId: number, id: number): Promise<WholePostRow | null> {
  const held = await trx('posts').where({ blog_id: blogId, id }).forUpdate().first('id');
  return held ? findPost(trx, blogId, id) : null;
}

/**
 * Holds posts until the transaction ends, in the order of their ids, so that two who hold many never wait in
 * a circle.
 */
export async function lockPosts(trx: Trx, ids: readonly number[]): Promise<void> {
  await trx.raw(
    `
      select
        id
      from
        all_posts
      where
        id = any (?)
      order by
        id
      for update
    `,
    [[...ids]],
  );
}

interface LoadedRow extends Omit<PostRow, 'byline_name' | 'open_notes'> {
  binned: boolean;
  body?: BodyNode;
  suggested?: BodyNode | null;
}

/** Posts of a blog as edits see them, in the order of the ids, in the bin or not; those that are gone are left out. */
export async function loadPosts(
  db: Queryable,
  blogId: number,
  ids: readonly number[],
  { text = false }: { text?: boolean } = {},
): Promise<Post[]> {
  const columns = [...LIGHT_COLUMNS, ...(text ? ['body', 'suggested'] : [])].map((c) => `p.${c}`).join(', ');
  const { rows } = await db.raw<{ rows: LoadedRow[] }>(
    `
      select
        p.id,
        p.version,
        p.created_by,
        p.binned_at is not null as binned,
        ${columns},
        coalesce(c.ids, '{}') as coauthor_ids,
        coalesce(t.ids, '{}') as tag_ids
      from
        unnest(?::int[]) with ordinality as w (id, at)
        join all_posts p on p.id = w.id
        left join (
          select post_id, array_agg(person_id order by person_id) as ids
          from post_coauthors
          where post_id = any (?)
          group by post_id
        ) c on c.post_id = p.id
        left join (
          select post_id, array_agg(tag_id order by tag_id) as ids
          from post_tags
          where post_id = any (?)
          group by post_id
        ) t on t.post_id = p.id
      where
        p.blog_id = ?
      order by
        w.at
    `,
    [[...ids], [...ids], [...ids], blogId],
  );
  return inTurns(rows, postOf);
}

/** A row as edits see it. */
export function postOf(
  row: Pick<LoadedRow, 'id' | 'version' | 'created_by' | 'coauthor_ids' | 'tag_ids'> &
    Omit<ColumnRow, TextField> & { binned?: boolean; body?: BodyNode; suggested?: BodyNode | null },
): Post {
  return Object.assign(valuesOf(row), {
    id: row.id,
    version: row.version,
    createdById: row.created_by,
    coauthorIds: row.coauthor_ids,
    tagIds: row.tag_ids,
    binned: row.binned ?? false,
  });
}

export function factsOf(row: PostRow): PostFacts {
  return {
    stage: row.stage,
    categoryId: row.category_id,
    bylineId: row.byline_id,
    coauthorIds: row.coauthor_ids,
    proofreaderId: row.proofreader_id,
    proofreaderWrites: row.proofreader_writes,
    createdById: row.created_by,
    readersVersion: row.readers_version,
  };
}
