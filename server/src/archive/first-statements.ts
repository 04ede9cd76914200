import type { Filter, FilterToken } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import type { OrderSql, Stretch } from './order.js';
import { sql, type Sql } from './sql.js';

/** How many rows the database expects to match. */
export async function expected(db: Queryable, from: string, where: Sql): Promise<number> {
  const { rows } = await db.raw<{ rows: { 'QUERY PLAN': [{ Plan: { 'Plan Rows': number } }] }[] }>(
    `explain (format json) select from ${from} where ${where.text}`,
    where.values as never[],
  );
  return rows[0]!['QUERY PLAN'][0].Plan['Plan Rows'];
}

/** Sorts all that match. They are found by the filter alone: an index in the wanted order would be read to its end. */
export const sorted = ({ joined, by }: OrderSql, where: Sql, limit: number): Sql =>
  sql(
    `
      select p.id
      from (select p.* from all_posts p where ${where.text} offset 0) p ${joined}
      order by ${by}
      limit ?
    `,
    ...where.values,
    limit,
  );

/** The same of as many as are found first, with their number: below `many`, these are all. */
export const sortedOf = (many: number, { joined, by }: OrderSql, where: Sql, limit: number): Sql =>
  sql(
    `
      select p.id, count(*) over ()::int as n
      from (select p.* from all_posts p where ${where.text} limit ?) p ${joined}
      order by ${by}
      limit ?
    `,
    ...where.values,
    many,
    limit,
  );

/** Reads an order off its index, looking at each post until there are enough. */
export const readPlain = ({ by, where: only }: Stretch, where: Sql, limit: number): Sql =>
  sql(
    `select p.id from all_posts p where ${only ? `${only} and ` : ''}${where.text} order by ${by} limit ?`,
    ...where.values,
    limit,
  );

/** A filter without what it asks for by a key. */
export const withoutKey = (filter: Filter, key: FilterToken['key']): Filter => ({
  ...filter,
  tokens: filter.tokens.filter((t) => t.key !== key || t.not),
});
