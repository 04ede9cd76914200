import type { Filter, FilterToken } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { expected, readPlain, sorted, withoutKey } from './first-statements.js';
import { NEWEST, type OrderSql } from './order.js';
import { join, sql, type Sql } from './sql.js';
import { nameKey, whereOf, type WhereContext } from './where.js';

/** More than so many posts are not found one by one. */
const MANY = 2500;
/** So many changes are looked at for a guess, and so many of the posts that they changed. */
const CHANGES_LOOKED_AT = 1000;
const POSTS_LOOKED_AT = 200;

/**
 * How many posts people ever changed that match: known where they made few changes, else guessed from a sample, since
 * who changed a post has much to do with whose it is.
 */
export async function changedByAndMatching(
  db: Queryable,
  context: Omit<WhereContext, 'rows'>,
  by: FilterToken,
  filter: Filter,
): Promise<number> {
  const ids = context.named.get(nameKey(by)) ?? [];
  const changes = sql('t.blog_id = ? and t.person_id = any(?)', context.person.blogId, ids);
  const where = whereOf(withoutKey(filter, by.key), { ...context, rows: 'read' });
  const { rows } = await db.raw<{
    rows: [{ changes: number; posts: number; looked: number; matching: number }];
  }>(
    `
      with
        changes as materialized (select t.post_id from post_versions t where ${changes.text} limit ?),
        posts as materialized (select distinct post_id from changes),
        looked as materialized (select post_id from posts limit ?)
      select
        (select count(*) from changes)::int as changes,
        (select count(*) from posts)::int as posts,
        (select count(*) from looked)::int as looked,
        (
          select count(*) from all_posts p where p.id = any (array(select post_id from looked)) and ${where.text}
        )::int as matching
    `,
    [...changes.values, CHANGES_LOOKED_AT, POSTS_LOOKED_AT, ...where.values] as never[],
  );
  const seen = rows[0];
  const all =
    seen.changes < CHANGES_LOOKED_AT
      ? seen.posts
      : ((await expected(db, 'post_versions t', changes)) * seen.posts) / seen.changes;
  return seen.looked === 0 ? 0 : (all * seen.matching) / seen.looked;
}

/**
 * The first by bylines of what one person changed. That is mostly what they wrote: the few others are found, and of
 * their own the first are read. Null where that is not so, or not asked for.
 */
export async function firstChangedBy(
  idsOf: (statement: Sql) => Promise<number[]>,
  filter: Filter,
  { person: { blogId }, named }: Pick<WhereContext, 'person' | 'named'>,
  order: OrderSql,
  where: Sql,
  limit: number,
): Promise<number[] | null> {
  const [ids, ...more] = filter.tokens
    .filter((t) => t.key === 'changed-by' && !t.not)
    .map((t) => named.get(nameKey(t)) ?? []);
  if (ids?.length !== 1 || more.length > 0) return null;
  const others = await idsOf(
    sql(
      `
        select distinct t.post_id as id
        from post_versions t
        where
          t.blog_id = ?
          and t.person_id = any (?)
          and not exists (
            select from all_posts o where o.blog_id = ? and o.byline_id = any (?) and o.id = t.post_id
          )
        limit ?
      `,
      ...[blogId, ids, blogId, ids, MANY + 1],
    ),
  );
  if (others.length > MANY) return null;
  const own = await idsOf(readPlain({ by: NEWEST, where: `p.byline_id = ${ids[0]}` }, where, limit));
  // Of one byline, newest first is the order.
  if (others.length === 0) return own;
  const among = join([sql('p.id = any (?)', [...others, ...own]), where], ' and ');
  return idsOf(sorted(order, among, limit));
}
