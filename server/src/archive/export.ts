import { ARCHIVE_TEXTS, type ArchiveQuery } from '@keyroster/contract';
import { POST_FIELDS } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import { rowBatches } from '../db/batches.js';
import type { Db } from '../db/connect.js';
import { plainCell } from '../documents/plain-cell.js';
import { COLUMNS, type Found } from './find.js';
import { allSql } from './first.js';

export const ARCHIVE_CSV_COLUMNS = [
  'number',
  'title',
  'byline',
  'category',
  'tags',
  'run time',
  'stage',
  'words',
  'slug',
  'access',
  'comments',
  ...ARCHIVE_TEXTS.map((field) => POST_FIELDS[field].label),
  'format',
  'excerpt',
];

type Row = Found & { category: string | null; format: string | null };

/** The table as rows of a CSV file, all that matches, in its order. */
export async function* csvRows(
  db: Db,
  person: CurrentPerson,
  query: ArchiveQuery,
): AsyncGenerator<(string | number | null)[][]> {
  const { where, joined, by } = await allSql(db, person, query);
  const batches = rowBatches<Row>(
    db,
    `
      select
        ${COLUMNS},
        (
          select
            name
          from
            categories
          where
            id = p.category_id
        ) as category,
        (
          select
            name
          from
            formats
          where
            id = p.format_id
        ) as format
      from
        all_posts p ${joined}
      where
        ${where.text}
      order by
        ${by}
    `,
    where.values,
  );
  for await (const rows of batches)
    yield rows.map((r) => [
      r.id,
      plainCell(r.title),
      plainCell(r.byline_name),
      plainCell(r.category),
      plainCell(r.tags.join('; ')),
      r.runLocal?.replace('T', ' ') ?? '',
      r.stage,
      r.words,
      r.slug ?? '',
      r.access,
      r.comments ? 'open' : 'closed',
      ...ARCHIVE_TEXTS.map((field) => plainCell(r[field])),
      plainCell(r.format),
      plainCell(r.excerpt),
    ]);
}
