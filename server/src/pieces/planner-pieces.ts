import type { PlannerPiece, PlannerPiecesQuery } from '@keyroster/contract';
import { addDays } from '@keyroster/core';
import { seenSql } from '../posts/visible.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';

const MAX_DAYS = 400;

/** Pieces in a span of days, for the planner. */
export async function plannerPieces(
  db: Queryable,
  person: CurrentPerson,
  { from, to }: PlannerPiecesQuery,
): Promise<PlannerPiece[]> {
  if (to < from || to > addDays(from, MAX_DAYS))
    throw new ProblemError('invalid', `Ask for at most ${MAX_DAYS} days.`);
  const rows = await db('pieces as p')
    .join('posts', 'posts.id', 'p.post_id')
    .join('outlets as o', 'o.id', 'p.outlet_id')
    .leftJoin('sends as s', 's.piece_id', 'p.id')
    .where('p.blog_id', person.blogId)
    .where('p.due_local', '>=', from)
    .where('p.due_local', '<', addDays(to, 1))
    .orderBy('p.due_local')
    .orderBy('p.id')
    .limit(2000)
    .modify((q) => {
      const seen = seenSql(person, 'posts');
      void q.whereRaw(seen.text, seen.values);
    })
    .select<
      {
        id: number;
        postId: number;
        kind: PlannerPiece['kind'];
        outlet: string;
        local: string;
        state: PlannerPiece['state'] | null;
      }[]
    >('p.id', 'p.post_id as postId', 'p.kind', 'o.name as outlet', 'p.due_local as local', 's.state');
  return rows.map((r) => ({ ...r, state: r.state ?? 'draft' }));
}
