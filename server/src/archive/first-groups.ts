import type { Groups, Stretch } from './order.js';
import { join, sql, type Sql } from './sql.js';

/** What a filter says of the names that an order goes by. */
export interface Naming {
  /** Ids of the names that it asks for, where it leaves no others. */
  asked: number[] | null;
  /** Ids of those that it rules out. */
  ruledOut: number[];
}

const arrayOf = (ids: readonly number[]) => `'{${ids.join(',')}}'::int[]`;

/**
 * Reads the posts of some groups, one group after the other, each in order. Where names of the groups are
 * asked for, `where` does not ask for them again.
 */
function readGroups(
  by: string,
  groups: Groups,
  some: readonly number[],
  where: Sql,
  limit: number,
  asked: number[] | null,
): Sql {
  const parts = asked ? groups.asked(arrayOf(asked)) : [groups.all];
  const belonging = join(
    parts.map((part) =>
      sql(
        `
          (
            select p.id, row_number() over (order by ${by}) as at
            from all_posts p
            where ${part} and ${where.text}
            order by ${by}
            limit ?
          )`,
        ...where.values,
        limit,
      ),
    ),
    ' union all ',
  );
  return sql(
    `
      select m.id
      from
        unnest(${arrayOf(some)}) with ordinality as g (id, place)
        cross join lateral (${belonging.text}) m
      order by g.place, m.at
      limit ?
    `,
    ...belonging.values,
    limit,
  );
}

/** How many groups are read at once: one first, since it is mostly enough, and then more and more. */
const AT_ONCE = [1, 3, 12, 48, 192];

/** The first posts by the names of groups; those that are ruled out are not looked into. */
export async function firstOfGroups(
  idsOf: (statement: Sql) => Promise<number[]>,
  { by, groups }: Stretch & { groups: Groups },
  where: Sql,
  limit: number,
  { asked, ruledOut }: Naming,
  blogId: number,
): Promise<number[]> {
  const { table, way } = groups;
  // People belong to several blogs.
  const ofBlog = table === 'people' ? sql('true') : sql('blog_id = ?', blogId);
  const names = await idsOf(
    sql(
      `
        select id from ${table}
        where ${ofBlog.text} and not id = any(${arrayOf(ruledOut)})
        order by lower(name) ${way}, id ${way}
      `,
      ...ofBlog.values,
    ),
  );
  const ids: number[] = [];
  for (let [at, step] = [0, 0]; at < names.length && ids.length < limit; step++) {
    const some = names.slice(at, at + (AT_ONCE[step] ?? AT_ONCE.at(-1)!));
    at += some.length;
    ids.push(...(await idsOf(readGroups(by, groups, some, where, limit - ids.length, asked))));
  }
  return ids;
}
