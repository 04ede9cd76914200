import {
  ARCHIVE_TEXTS,
  type ArchiveCounts,
  type ArchiveIds,
  type ArchiveQuery,
  type ArchiveRow,
  type ArchiveRows,
  type PickedRows,
  type PickQuery,
} from '@keyroster/contract';
import { type Spotlight, type Stage } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import { textColumn } from '../posts/columns.js';
import { seenSql } from '../posts/visible.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { allSql, firstIds } from './first.js';
import { placesOf } from './passages.js';

export const COLUMNS = `
  p.id,
  p.version,
  p.stage,
  p.title,
  p.excerpt,
  p.slug,
  p.category_id as "categoryId",
  p.second_category_id as "secondCategoryId",
  p.byline_id,
  (select name from people where id = p.byline_id) as byline_name,
  array(
    select tags.name from post_tags t join tags on tags.id = t.tag_id where t.post_id = p.id order by 1
  ) as tags,
  p.format_id as "formatId",
  p.run_local as "runLocal",
  p.words,
  p.access,
  p.comments,
  ${ARCHIVE_TEXTS.map((f) => `p.${textColumn(f)} as "${f}",`).join(' ')}
  p.spotlight_from,
  p.spotlight_until,
  p.check_blocks,
  p.check_warns,
  p.created_at as "createdAt",
  p.updated_at as "updatedAt",
  p.binned_at as "binnedAt"
`;

export interface Found extends Omit<ArchiveRow, 'byline' | 'spotlight' | 'checks'> {
  byline_id: number | null;
  byline_name: string | null;
  spotlight_from: string | null;
  spotlight_until: string | null;
  check_blocks: number;
  check_warns: number;
}

function rowOf({
  byline_id,
  byline_name,
  spotlight_from,
  spotlight_until,
  check_blocks,
  check_warns,
  ...row
}: Found): ArchiveRow {
  return {
    ...row,
    byline: byline_id === null ? null : personRef({ id: byline_id, name: byline_name ?? '' }),
    spotlight:
      spotlight_from === null
        ? null
        : ({ from: spotlight_from, until: spotlight_until! } satisfies Spotlight),
    checks: { blocks: check_blocks, warns: check_warns },
  };
}

export async function archiveRows(
  db: Queryable,
  person: CurrentPerson,
  query: ArchiveQuery,
): Promise<ArchiveRows> {
  const { rows } = await db.raw<{ rows: Found[] }>(
    `
      select
        ${COLUMNS}
      from
        unnest(?::int[]) with ordinality as w (id, at)
        join all_posts p on p.id = w.id
      order by
        w.at
    `,
    [await firstIds(db, person, query)],
  );
  return { rows: rows.map(rowOf) };
}

/**
 * Ids of all that match, in order, as JSON that PostgreSQL has written: a hundred thousand rows are not made
 * into objects first.
 */
export async function archiveIds(db: Queryable, person: CurrentPerson, query: ArchiveQuery): Promise<string> {
  const { where, joined, by } = await allSql(db, person, query);
  const { rows } = await db.raw<{ rows: { ids: string }[] }>(
    `
      select
        coalesce(
          string_agg(
            id::text,
            ','
            order by
              at
          ),
          ''
        ) as ids
      from
        (
          select
            p.id,
            row_number() over (
              order by
                ${by}
            ) as at
          from
            all_posts p ${joined}
          where
            ${where.text}
        ) f
    `,
    where.values as never[],
  );
  return `{"ids":[${rows[0]!.ids}]}`;
}

/** The same as a list. */
export async function matchingIds(
  db: Queryable,
  person: CurrentPerson,
  query: ArchiveQuery,
): Promise<number[]> {
  return (JSON.parse(await archiveIds(db, person, query)) as ArchiveIds).ids;
}

export async function archiveCounts(
  db: Queryable,
  person: CurrentPerson,
  query: ArchiveQuery,
): Promise<ArchiveCounts> {
  const { where } = await allSql(db, person, query);
  const seen = seenSql(person, 'p');
  const [{ rows }, bin] = await Promise.all([
    db.raw<{ rows: { stage: Stage; n: number }[] }>(
      `select p.stage, count(*)::int as n from all_posts p where ${where.text} group by p.stage`,
      where.values as never[],
    ),
    db('all_posts as p')
      .where({ blog_id: person.blogId })
      .whereNotNull('binned_at')
      .whereRaw(seen.text, seen.values)
      .count<{ count: string }[]>('id as count'),
  ]);
  return {
    total: rows.reduce((sum, r) => sum + r.n, 0),
    stages: Object.fromEntries(rows.map((r) => [r.stage, r.n])),
    bin: Number(bin[0]!.count),
  };
}

/**
 * Rows by id, those that are visible, in the order they were asked for; with words, the places where they
 * were found.
 */
export async function rowsByIds(
  db: Queryable,
  person: CurrentPerson,
  { ids, words }: PickQuery,
): Promise<PickedRows> {
  const seen = seenSql(person, 'p');
  const { rows } = await db.raw<{ rows: Found[] }>(
    `
      select
        ${COLUMNS}
      from
        unnest(?::int[]) with ordinality as w (id, at)
        join all_posts p on p.id = w.id
      where
        p.blog_id = ?
        and ${seen.text}
      order by
        w.at
    `,
    [ids, person.blogId, ...seen.values] as never[],
  );
  return {
    rows: rows.map(rowOf),
    places: words
      ? await placesOf(
          db,
          rows.map((r) => r.id),
          words,
        )
      : [],
  };
}
