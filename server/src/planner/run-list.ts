import { stringify } from 'csv-stringify/sync';
import type { RunListQuery } from '@keyroster/contract';
import { lacks, formatClock } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { plainCell } from '../documents/plain-cell.js';
import { plannerView } from './planner-view.js';

/** The run list as CSV (RFC 4180), with the byte order mark that spreadsheets want to see in UTF-8. */
export async function runListCsv(db: Queryable, person: CurrentPerson, query: RunListQuery): Promise<string> {
  const view = await plannerView(db, person, { from: query.from, weeks: query.weeks });
  const categories = new Map(
    (
      await db('categories')
        .where({ blog_id: person.blogId })
        .select<{ id: number; name: string }[]>('id', 'name')
    ).map((c) => [c.id, c.name]),
  );
  const { zone } = (await db('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!;
  const slugs = new Map(
    (
      await db('posts')
        .where({ blog_id: person.blogId })
        .whereNotNull('slug')
        .whereBetween('run_local', [`${view.from}T00:00:00`, `${view.to}T23:59:59`])
        .select<{ id: number; slug: string }[]>('id', 'slug')
    ).map((p) => [p.id, p.slug]),
  );
  const rows = view.dated
    .filter(
      (p) =>
        (!query.category || p.categoryId === query.category) &&
        (!query.person || p.byline?.id === query.person) &&
        (!query.stage || p.stage === query.stage),
    )
    .map((p) => ({
      date: p.runLocal!.slice(0, 10),
      time: formatClock(p.runLocal!),
      zone,
      title: plainCell(p.title),
      writer: plainCell(p.byline?.name ?? ''),
      category: plainCell(categories.get(p.categoryId ?? 0) ?? ''),
      stage: p.stage,
      'copy date': p.copyDate ?? '',
      words: p.words,
      late: p.late ? 'late' : '',
      'still lacks': lacks({ ...p, bylineId: p.byline?.id ?? null }).join(', '),
      slug: slugs.get(p.id) ?? '',
    }));
  return stringify(rows, {
    header: true,
    bom: true,
    record_delimiter: 'windows',
    columns: [
      'date',
      'time',
      'zone',
      'title',
      'writer',
      'category',
      'stage',
      'copy date',
      'words',
      'late',
      'still lacks',
      'slug',
    ],
  });
}
