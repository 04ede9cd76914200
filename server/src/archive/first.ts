import type { ArchiveOrder, ArchiveQuery } from '@keyroster/contract';
import { parseFilter, seesEverything, type Filter, type FilterToken } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Reader } from '../db/connect.js';
import { orderOf, type OrderSql, type Stretch } from './order.js';
import { nameKey, namedIds, sql, type NamedIds, type Sql, type WhereContext, whereOf } from './where.js';

/** How many rows are shown first. */
const FIRST = 60;
/** Above this many matches, reading an order until enough match is quicker than sorting them all. */
const MANY = 2500;

/**
 * What a query needs looked up. The zone only where a filter reckons by it: the quickest filters take less time
 * than asking.
 */
export async function contextFor(
  db: Reader,
  person: CurrentPerson,
  filter: Filter,
): Promise<Omit<WhereContext, 'rows'>> {
  const zone = filter.tokens.some((t) => t.key === 'changed')
    ? (await db('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone
    : 'UTC';
  return { person, zone, named: await namedIds(db, person.blogId, filter) };
}

/** How many posts the database expects to match. */
async function expected(db: Reader, where: Sql): Promise<number> {
  const { rows } = await db.raw<{ rows: { 'QUERY PLAN': [{ Plan: { 'Plan Rows': number } }] }[] }>(
    `explain (format json) select from all_posts p where ${where.text}`,
    where.values as never[],
  );
  return rows[0]!['QUERY PLAN'][0].Plan['Plan Rows'];
}

/** How many match, counted up to what is many. */
async function counted(db: Reader, where: Sql, many: number): Promise<number> {
  const { rows } = await db.raw<{ rows: [{ n: number }] }>(
    `select count(*)::int as n from (select from all_posts p where ${where.text} limit ${many}) m`,
    where.values as never[],
  );
  return rows[0].n;
}

/** Conditions on other tables, whose numbers the database guesses wrongly. */
const GUESSED = new Set(['changed-by', 'batch']);
const isGuessed = ({ key, value }: FilterToken) =>
  GUESSED.has(key) || ((key === 'has' || key === 'lacks') && value.toLowerCase() === 'notes');

/**
 * Orders by names are read name by name, and where the filter leaves one of them, all that belongs to the others is
 * read for nothing. A category that is asked for may be a second one, so that it fixes no order; and who changed a
 * post last is mostly who wrote it.
 */
const ONE_NAME: Partial<Record<string, FilterToken['key']>> = {
  tags: 'tag',
  category: 'category',
  byline: 'changed-by',
};

/** Whether so few match, or so few are worth reading, that they are best found and sorted. */
async function few(
  db: Reader,
  { person, named }: Pick<WhereContext, 'person' | 'named'>,
  filter: Filter,
  sort: ArchiveOrder,
  where: Sql,
  many: number,
): Promise<boolean> {
  if (many === 0) return false;
  const own = ONE_NAME[sort.replace('-', '')];
  if (own && filter.tokens.some((t) => t.key === own && !t.not)) return true;
  const [only, ...others] = filter.tokens;
  // One index says it, without looking at a post.
  if (only?.key === 'changed-by' && !only.not && others.length === 0 && filter.words === '')
    return (await touched(db, person.blogId, named.get(nameKey(only)) ?? [], many)) < many;
  const count = filter.tokens.some(isGuessed) ? counted : expected;
  return (await count(db, where, many)) < many;
}

/** How many posts people ever changed, counted up to what is many. */
async function touched(db: Reader, blogId: number, ids: readonly number[], many: number): Promise<number> {
  const { rows } = await db.raw<{ rows: [{ n: number }] }>(
    `
      select
        count(*)::int as n
      from
        (
          select distinct
            post_id
          from
            post_versions
          where
            blog_id = ?
            and person_id = any (?)
          limit
            ?
        ) t
    `,
    [blogId, [...ids], many],
  );
  return rows[0].n;
}

/** Sorts all that match. */
const sorted = ({ joined, by }: OrderSql, where: Sql, limit: number): Sql =>
  sql(
    `
      with found as materialized (select p.id from all_posts p where ${where.text})
      select p.id
      from found join all_posts p on p.id = found.id ${joined}
      order by ${by}
      limit ?
    `,
    ...where.values,
    limit,
  );

/**
 * Reads an order off its index, looking at each post until there are enough; of its groups only `own`, where the
 * filter leaves no other.
 */
function read({ by, where: only, groups }: Stretch, where: Sql, limit: number, own: number[] | null): Sql {
  const matching = `${only ? `${only} and ` : ''}${where.text}`;
  if (!groups)
    return sql(
      `select p.id from all_posts p where ${matching} order by ${by} limit ?`,
      ...where.values,
      limit,
    );
  return sql(
    `
      select m.id
      from
        (select id, lower(name) as key from ${groups.table} where ? or id = any(?) order by 2 ${groups.way}, 1 ${groups.way}) g
        cross join lateral (
          select p.id, row_number() over (order by ${by}) as at
          from ${groups.from}
          where ${groups.where} and ${matching}
          order by ${by}
          limit ?
        ) m
      order by g.key ${groups.way}, g.id ${groups.way}, m.at
      limit ?
    `,
    own === null,
    own ?? [],
    ...where.values,
    limit,
    limit,
  );
}

/** The ids that a filter names for a key, when it leaves no others. */
function onlyNamed(filter: Filter, named: NamedIds, key: FilterToken['key']): number[] | null {
  const tokens = filter.tokens.filter((t) => t.key === key && !t.not);
  return tokens.length === 0 ? null : tokens.flatMap((t) => named.get(nameKey(t)) ?? []);
}

/** Keys of a filter that leave one value only of what an order goes by. */
const FIXES: Partial<Record<string, FilterToken['key']>> = {
  byline: 'byline',
  stage: 'stage',
  access: 'access',
  campaign: 'campaign',
  format: 'format',
};

/** The order within what the filter leaves: where all are alike in what it goes by, that is newest first. */
function orderWithin(filter: Filter, named: NamedIds, sort: ArchiveOrder): OrderSql {
  const key = FIXES[sort.replace('-', '')];
  const fixed = filter.tokens.filter((t) => t.key === key && !t.not);
  // Two people may have one name, and then they do not stand mixed.
  const isOne = fixed.length === 1 && (named.get(nameKey(fixed[0]!)) ?? []).length <= 1;
  return orderOf(isOne ? '-run' : sort);
}

/** Ids of the first that match, in order. Where `many` do, the order is read; else they are sorted. */
export async function firstIds(
  db: Reader,
  person: CurrentPerson,
  query: ArchiveQuery,
  many = MANY,
): Promise<number[]> {
  const filter = parseFilter(query.line ?? '');
  const context = await contextFor(db, person, filter);
  const sort = query.sort ?? '-run';
  const order = orderWithin(filter, context.named, sort);
  const limit = query.limit ?? FIRST;
  const ask = async ({ text, values }: Sql) =>
    (await db.raw<{ rows: { id: number }[] }>(text, values as never[])).rows.map((r) => r.id);

  const found = whereOf(filter, { ...context, rows: 'found' });
  const narrow = filter.tokens.length > 0 || filter.words !== '' || !seesEverything(person.role);
  if (narrow && (await few(db, context, filter, sort, found, many))) return ask(sorted(order, found, limit));
  const where = whereOf(filter, { ...context, rows: 'read' });
  const own = sort.endsWith('byline') ? onlyNamed(filter, context.named, 'byline') : null;
  const ids: number[] = [];
  for (const stretch of order.stretches) {
    ids.push(...(await ask(read(stretch, where, limit - ids.length, own))));
    if (ids.length >= limit) break;
  }
  return ids;
}

/** What finds and orders all that match. */
export async function allSql(
  db: Reader,
  person: CurrentPerson,
  { line, sort }: ArchiveQuery,
): Promise<{ where: Sql; joined: string; by: string }> {
  const filter = parseFilter(line ?? '');
  const context = await contextFor(db, person, filter);
  return { where: whereOf(filter, { ...context, rows: 'found' }), ...orderOf(sort ?? '-run') };
}
