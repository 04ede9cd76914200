import { formatCount, may, openMoves, type Stage } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { factsOf, postRows } from '../posts/store.js';
import type { Context } from './context.js';
import { rootOf } from './places.js';

/** What somebody of the newsroom may do with a post from the blog itself. */
export interface StaffNote {
  version: number;
  stage: Stage;
  /** In the newsroom. */
  href: string;
  /** Changed since readers were given it. */
  waits: boolean;
  write: boolean;
  details: boolean;
  withdraw: boolean;
  comments: boolean;
  /** Held on top by its own dates. */
  held: boolean;
  /** What came of it, in a few words each. */
  figures: string[];
}

/** Notes for the posts of a page; null for who does not work here. */
export async function staffNotes(
  { db, blog, settings, person }: Context,
  ids: readonly number[],
): Promise<Map<number, StaffNote> | null> {
  if (!person) return null;
  if (ids.length === 0) return new Map();
  const rows = await postRows(db).where('posts.blog_id', blog.id).whereIn('posts.id', ids);
  const reads = await readsOf(db, ids);
  return new Map(
    rows.map((row) => {
      const facts = factsOf(row);
      const details = may(person, 'details', facts);
      return [
        row.id,
        {
          version: row.version,
          stage: row.stage,
          href: `${rootOf(settings.publicUrl)}/desk/posts/${row.id}?blog=${blog.id}`,
          waits: row.readers_version !== null,
          write: may(person, 'write', facts),
          details,
          withdraw: openMoves(person, facts).some((m) => m.to === 'withdrawn'),
          comments: row.comments,
          held: row.spotlight_from !== null,
          figures: reads.get(row.id) ?? ['not read yet'],
        },
      ];
    }),
  );
}

async function readsOf(db: Queryable, ids: readonly number[]): Promise<Map<number, string[]>> {
  const { rows } = await db.raw<{ rows: { id: number; all: number; week: number; said: number }[] }>(
    `
      select
        p.id,
        coalesce((select sum(reads) from post_reads r where r.post_id = p.id), 0)::int as all,
        coalesce(
          (select sum(reads) from post_reads r where r.post_id = p.id and r.day > current_date - 7),
          0
        )::int as week,
        (
          select count(*) from comments c
          where c.post_id = p.id and c.state = 'approved' and c.kind = 'comment'
        )::int as said
      from
        unnest(?::int[]) as p (id)
    `,
    [[...ids]],
  );
  return new Map(
    rows.map(({ id, all, week, said }) => [
      id,
      [
        `read ${formatCount(all, 'time')}`,
        `${formatCount(week, 'time')} in the last seven days`,
        formatCount(said, 'comment'),
      ],
    ]),
  );
}
