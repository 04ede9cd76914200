import type { Filter } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import type { OrderSql } from './order.js';
import { idsHavingPhrases, whereOf, type WhereContext } from './where.js';

/**
 * The first of what has a filter's phrases. The posts that have them are gathered first, which tells how many they are
 * sooner than a guess would. Null where there are no phrases, or above `many` posts with them: none is looked at then.
 */
export async function firstHavingPhrases(
  db: Queryable,
  context: Omit<WhereContext, 'rows'>,
  filter: Filter,
  { joined, by }: OrderSql,
  limit: number,
  many: number,
): Promise<number[] | null> {
  if (context.phrases.pairs.length === 0 || many === 0) return null;
  const having = idsHavingPhrases(context.phrases);
  const where = whereOf(filter, { ...context, rows: 'gathered' });
  const { rows } = await db.raw<{ rows: [{ n: number; ids: number[] }] }>(
    `
      with
        gathered as materialized (select * from (${having.text}) w limit ?),
        having_phrases as materialized (
          select post_id from gathered where (select count(*) from gathered) <= ?
        )
      select
        (select count(*) from gathered)::int as n,
        array(
          select p.id
          from (select p.* from all_posts p where ${where.text} offset 0) p ${joined}
          order by ${by}
          limit ?
        ) as ids
    `,
    [...having.values, many + 1, many, ...where.values, limit] as never[],
  );
  return rows[0].n > many ? null : rows[0].ids;
}
