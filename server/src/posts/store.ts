import type { Knex } from 'knex';
import type { BodyNode, FormatValues, PostFacts, Stage } from '@keyroster/core';
import type { Access } from '@keyroster/contract';
import type { Reader, Trx } from '../db/connect.js';

/** A row of `posts` with what is read alongside it. Wall times and dates are text, instants RFC 3339 text. */
export interface PostRow {
  id: number;
  blog_id: number;
  version: number;
  stage: Stage;
  stage_since: string;
  title: string;
  thought: string;
  excerpt: string;
  address: string | null;
  category_id: number | null;
  second_category_id: number | null;
  byline_id: number | null;
  editor_id: number | null;
  proofreader_id: number | null;
  access: Access;
  words: number;
  lead_media_id: number | null;
  lead_alt: string;
  run_local: string | null;
  run_zone: string | null;
  run_at: string | null;
  scheduled_at: string | null;
  released_at: string | null;
  brief_angle: string;
  brief_length: number | null;
  copy_date: string | null;
  not_before: string | null;
  not_after: string | null;
  must_be_on: string | null;
  rating: number | null;
  subtitle: string;
  format_id: number | null;
  format_values: FormatValues;
  share_media_id: number | null;
  search_title: string;
  search_description: string;
  source_url: string;
  title_links: boolean;
  place: string;
  comments: boolean;
  comment_call: string;
  campaign: string;
  spotlight_from: string | null;
  spotlight_until: string | null;
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
  body_text: string;
}

export const POST_FIELDS = [
  'title', 'thought', 'excerpt', 'address', 'category_id', 'second_category_id', 'byline_id', 'editor_id', 'proofreader_id', 'access',
  'lead_media_id', 'lead_alt', 'run_local', 'run_zone', 'run_at', 'scheduled_at', 'released_at', 'brief_angle', 'brief_length', 'copy_date',
  'not_before', 'not_after', 'must_be_on', 'rating', 'subtitle', 'format_id', 'format_values', 'share_media_id', 'search_title', 'search_description',
  'source_url', 'title_links', 'place', 'comments', 'comment_call', 'campaign', 'spotlight_from', 'spotlight_until',
  'stage', 'stage_since', 'words',
] as const;

const LIGHT = ['id', 'blog_id', 'version', ...POST_FIELDS, 'copied_from_id', 'check_blocks', 'check_warns', 'alike_id', 'alike_share', 'created_by', 'created_at', 'updated_at'].map((c) => `posts.${c}`);

/** Posts without their text, with byline name, co-authors and count of open notes. */
export function postRows(db: Reader): Knex.QueryBuilder<PostRow, PostRow[]> {
  return db('posts').leftJoin('people as by', 'by.id', 'posts.byline_id').select<PostRow[]>(
    ...LIGHT, 'by.name as byline_name',
    db.raw('array(select person_id from post_coauthors c where c.post_id = posts.id order by 1) as coauthor_ids'),
    db.raw('array(select tag_id from post_tags t where t.post_id = posts.id order by 1) as tag_ids'),
    db.raw('(select count(*) from notes n where n.post_id = posts.id and n.parent_id is null and n.settled_at is null) as open_notes'),
  ) as unknown as Knex.QueryBuilder<PostRow, PostRow[]>;
}

/** Posts with their text, in order of run time. The caller holds their locks. */
export async function wholePosts(db: Reader, ids: readonly number[]): Promise<WholePostRow[]> {
  return (await postRows(db).select('posts.body', 'posts.body_text').whereIn('posts.id', [...ids]).orderBy('posts.run_at').orderBy('posts.id')) as unknown as WholePostRow[];
}

export async function findPost(db: Reader, blogId: number, id: number): Promise<WholePostRow | null> {
  const row = (await postRows(db).select('posts.body', 'posts.body_text').where('posts.blog_id', blogId).where('posts.id', id).first()) as unknown as WholePostRow | undefined;
  return row ?? null;
}

/** The same, with the row held until the transaction ends. */
export async function lockPost(trx: Trx, blogId: number, id: number): Promise<WholePostRow | null> {
  const held = await trx('posts').where({ blog_id: blogId, id }).forUpdate().first('id');
  return held ? findPost(trx, blogId, id) : null;
}

export function factsOf(row: PostRow): PostFacts {
  return {
    stage: row.stage, categoryId: row.category_id, bylineId: row.byline_id, coauthorIds: row.coauthor_ids,
    proofreaderId: row.proofreader_id, createdById: row.created_by,
  };
}

/** The database's clock, which is the one that counts. */
export async function databaseNow(db: Reader): Promise<string> {
  const { rows } = await db.raw<{ rows: { now: string }[] }>('select clock_timestamp() as now');
  return rows[0]!.now;
}
