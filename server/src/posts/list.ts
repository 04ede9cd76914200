import { isDate } from '@keyroster/core';
import type { PostPage, PostQuery, PostSort } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import { onlyVisible } from './visible.js';
import type { Queryable } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { othersIn } from './open-posts.js';
import { postRows, type PostRow } from './store.js';
import { cardOf } from './view.js';

/** What each order sorts by: an expression that is never null, its type, and the direction. */
const SORTS: Record<PostSort, { by: string; cast: string; down: boolean; value: (row: PostRow) => string }> =
  {
    '-run': {
      by: `coalesce(posts.run_at, '-infinity')`,
      cast: 'timestamptz',
      down: true,
      value: (r) => r.run_at ?? '-infinity',
    },
    run: {
      by: `coalesce(posts.run_at, 'infinity')`,
      cast: 'timestamptz',
      down: false,
      value: (r) => r.run_at ?? 'infinity',
    },
    '-updated': { by: 'posts.updated_at', cast: 'timestamptz', down: true, value: (r) => r.updated_at },
    '-created': { by: 'posts.created_at', cast: 'timestamptz', down: true, value: (r) => r.created_at },
    title: { by: 'lower(posts.title)', cast: 'text', down: false, value: (r) => r.title.toLowerCase() },
  };

interface Cursor {
  sort: PostSort;
  value: string;
  id: number;
}

/** What a cursor may say of a time: an instant that there is, or one of the two ends of time. */
const isTime = (text: string): boolean =>
  /^-?infinity$/.test(text) ||
  (/^\d{4}-\d{2}-\d{2}T[\d:.]+Z$/.test(text) &&
    isDate(text.slice(0, 10)) &&
    Number.isFinite(Date.parse(text)));

function readCursor(text: string, sort: PostSort): Cursor {
  try {
    const cursor = JSON.parse(Buffer.from(text, 'base64url').toString('utf8')) as Partial<Cursor>;
    if (
      cursor.sort === sort &&
      typeof cursor.value === 'string' &&
      Number.isInteger(cursor.id) &&
      Math.abs(cursor.id!) < 2 ** 31 &&
      !cursor.value.includes('\u0000') &&
      (SORTS[sort].cast === 'text' || isTime(cursor.value))
    )
      return cursor as Cursor;
  } catch {
    /* falls through to the sentence */
  }
  throw new ProblemError('invalid', 'That cursor does not belong to this list.', {
    fields: [
      { field: 'cursor', sentence: 'Take the cursor from “next” of the page before, with the same sort.' },
    ],
  });
}

/** A page of posts by keyset on (sort value, id). */
export async function listPosts(
  db: Queryable,
  person: CurrentPerson,
  query: PostQuery,
  nowLocal: string,
): Promise<PostPage> {
  const sort = query.sort ?? '-run';
  const limit = query.limit ?? 50;
  const { by, cast, down, value } = SORTS[sort];
  const rows = onlyVisible(postRows(db), person).where('posts.blog_id', person.blogId);
  if (query.stage) void rows.whereIn('posts.stage', query.stage);
  if (query.category)
    void rows.where((w) =>
      w.where('posts.category_id', query.category!).orWhere('posts.second_category_id', query.category!),
    );
  if (query.byline) void rows.where('posts.byline_id', query.byline);
  if (query.words) void rows.whereRaw(`posts.search @@ websearch_to_tsquery('english', ?)`, [query.words]);
  if (query.cursor) {
    const cursor = readCursor(query.cursor, sort);
    void rows.whereRaw(`(${by}, posts.id) ${down ? '<' : '>'} (?::${cast}, ?)`, [cursor.value, cursor.id]);
  }
  const found = (await rows
    .orderByRaw(`${by} ${down ? 'desc' : 'asc'}, posts.id ${down ? 'desc' : 'asc'}`)
    .limit(limit + 1)) as PostRow[];
  const page = found.slice(0, limit);
  const last = page.at(-1);
  return {
    posts: page.map((row) => cardOf(row, nowLocal)),
    here: await othersIn(
      db,
      page.map((row) => row.id),
      person.id,
    ),
    next:
      found.length > limit && last
        ? Buffer.from(JSON.stringify({ sort, value: value(last), id: last.id } satisfies Cursor)).toString(
            'base64url',
          )
        : null,
  };
}
