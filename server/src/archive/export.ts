import { stringify } from 'csv-stringify/sync';
import type { ArchiveQuery } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Reader } from '../db/connect.js';
import { plainCell } from '../documents/plain-cell.js';
import { COLUMNS, type Found } from './find.js';
import { allSql } from './first.js';

/** The table as CSV (RFC 4180), all that matches, in its order. */
export async function archiveCsv(db: Reader, person: CurrentPerson, query: ArchiveQuery): Promise<string> {
  const { where, joined, by } = await allSql(db, person, query);
  const { rows } = await db.raw<{ rows: (Found & { category: string | null; format: string | null })[] }>(
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
    where.values as never[],
  );
  return stringify(
    rows.map((r) => [
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
      plainCell(r.campaign),
      plainCell(r.format),
      plainCell(r.excerpt),
    ]),
    {
      header: true,
      bom: true,
      record_delimiter: 'windows',
      columns: [
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
        'campaign',
        'format',
        'excerpt',
      ],
    },
  );
}
