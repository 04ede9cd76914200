import type { EvergreenPlan, EvergreenQuery, EvergreenView, PiecesMade } from '@keyroster/contract';
import {
  addDays,
  evergreens,
  isDesk,
  rotation,
  wallTimeOf,
  type Due,
  type OldPost,
  type OutletKind,
  type PacedOutlet,
  type PieceKind,
} from '@keyroster/core';
import { mayReadSql } from '../access/readable.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { databaseNow } from '../db/now.js';
import { type ReadyPieces, storePieces, preparePieces } from './pieces.js';

/** Outlets that a rotation goes to: those for short things, open and not paused. */
const ROTATED = ['short-post network', 'picture network', 'professional network', 'shop’s news page'];
const LOOK_AHEAD_DAYS = 120;

/**
 * Older posts that did well and were not passed on lately, each with an outlet and a time within the outlet's
 * pace.
 */
export async function proposeEvergreens(
  db: Queryable,
  person: CurrentPerson,
  { restDays = 60, everyDays = 2, time = '12:30', max = 10 }: EvergreenQuery,
): Promise<EvergreenView[]> {
  const zone = (await db('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone;
  const today = wallTimeOf(await databaseNow(db), zone).slice(0, 10);
  const posts = await db('posts as p')
    .where({ 'p.blog_id': person.blogId })
    .whereRaw(mayReadSql('p'))
    .whereNotNull('p.run_local')
    .select<(Omit<OldPost, 'released' | 'passedOn'> & { run: string; last: string | null })[]>(
      'p.id',
      'p.title',
      'p.category_id as categoryId',
      'p.run_local as run',
      db.raw(`
        coalesce(
          (
            select
              sum(reads)::int
            from
              post_reads r
            where
              r.post_id = p.id
          ),
          0
        ) as reads
      `),
      db.raw(
        `
          (
            select
              max(coalesce(c.due_local, s.sent_at at time zone ?))
            from
              pieces c
              join sends s on s.piece_id = c.id
            where
              c.post_id = p.id
              and s.state in ('sent', 'waiting', 'sending', 'unsure')
          ) as last
        `,
        [zone],
      ),
    );
  const own = posts.filter((p) => isDesk(person, { categoryId: p.categoryId }));
  const chosen = evergreens(
    own.map((p) => ({
      id: p.id,
      title: p.title,
      categoryId: p.categoryId,
      reads: p.reads,
      released: p.run.slice(0, 10),
      passedOn: p.last?.slice(0, 10) ?? null,
    })),
    { today, restDays, max },
  );
  const outlets = await db('outlets')
    .where({ blog_id: person.blogId, closed_at: null, paused_at: null })
    .whereIn('kind', ROTATED)
    .orderBy('id')
    .select<PacedOutlet[]>('id', 'name', 'limits');
  const taken = await db('pieces as p')
    .leftJoin('sends as s', 's.piece_id', 'p.id')
    .where('p.blog_id', person.blogId)
    .whereBetween('p.due_local', [today, addDays(today, LOOK_AHEAD_DAYS)])
    .whereRaw(`coalesce(s.state, 'draft') not in ('stopped','failed')`)
    .select<Due[]>('p.id', 'p.outlet_id as outletId', 'p.due_local as local');
  const places = rotation(chosen, outlets, { from: addDays(today, 1), time, everyDays, taken });
  return places.map(({ postId, outletId, local }) => {
    const { title, released, why } = chosen.find((c) => c.id === postId)!;
    const outlet = outlets.find((o) => o.id === outletId)!.name;
    return { id: postId, title, released, why, outletId, outlet, local };
  });
}

const SUITING: Partial<Record<OutletKind, PieceKind>> = {
  'picture network': 'quote card',
  'professional network': 'professional post',
  newsletter: 'newsletter item',
};
const suiting = async (db: Queryable, outletId: number): Promise<PieceKind> =>
  SUITING[
    (await db('outlets').where({ id: outletId }).first<{ kind: OutletKind } | undefined>('kind'))?.kind ??
      'special'
  ] ?? 'short post';

/** Makes new pieces for a rotation, each for its outlet and time, to be kept after. */
export async function prepareEvergreens(
  db: Queryable,
  person: CurrentPerson,
  { stops, kind, instruction }: EvergreenPlan,
): Promise<ReadyPieces[]> {
  const ready: ReadyPieces[] = [];
  for (const stop of stops) {
    const ask = {
      kind: kind ?? (await suiting(db, stop.outletId)),
      outletId: stop.outletId,
      instruction,
      style: 'wave' as const,
      shape: 'square' as const,
      timing: { kind: 'date' as const, local: `${stop.local.slice(0, 16)}:00` },
    };
    ready.push(await preparePieces(db, person, stop.postId, { asks: [ask] }));
  }
  return ready;
}

/** Keeps them; they wait to be approved like any other. */
export async function planEvergreens(
  trx: Trx,
  person: CurrentPerson,
  ready: readonly ReadyPieces[],
): Promise<PiecesMade> {
  const done: PiecesMade = { made: [], refused: [] };
  // In the order of posts, as all who hold several.
  for (const pieces of [...ready].sort((a, b) => a.post.id - b.post.id)) {
    const made = await storePieces(trx, person, pieces);
    done.made.push(...made.made);
    done.refused.push(...made.refused);
  }
  if (done.made.length === 0 && done.refused.length > 0)
    throw new ProblemError('invalid', done.refused.join(' '));
  return done;
}
