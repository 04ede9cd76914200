import type {
  BatchItemsQuery,
  BatchItemView,
  BatchPreview,
  BatchView,
  ItemChanges,
  ItemState,
} from '@keyroster/contract';
import { activeSubscribers } from '../letters/of-post.js';
import { differencesOf, type BatchChange, type BatchItem } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { OPEN_FOR } from '../posts/open-posts.js';
import { batchNames } from './batch-names.js';

interface BatchRow {
  id: number;
  state: BatchView['state'];
  sentence: string;
  person_id: number;
  person: string;
  changes: BatchChange[];
  takes_back: number | null;
  at_once: boolean;
  taken_back_by: number | null;
  changed: number;
  done: number;
  chosen: number;
  error: string;
  made_at: string;
  applied_at: string | null;
  counts: Partial<Record<ItemState, number>> | null;
  chores: number;
}

const batchRows = (db: Queryable, blogId: number) =>
  db('batches as b')
    .join('people as p', 'p.id', 'b.person_id')
    .where('b.blog_id', blogId)
    .select<BatchRow[]>(
      'b.id',
      'b.state',
      'b.sentence',
      'b.person_id',
      'p.name as person',
      'b.changes',
      'b.takes_back',
      'b.at_once',
      'b.changed',
      'b.done',
      db.raw('coalesce(cardinality(b.chosen), 0) as chosen'),
      'b.error',
      'b.made_at',
      'b.applied_at',
      db.raw('(select count(*)::int from batch_chores k where k.batch_id = b.id) as chores'),
      db.raw(
        `
          (
            select
              max(c.id)
            from
              batches c
            where
              c.takes_back = b.id
              and c.state = 'applied'
              and not exists (
                select
                  1
                from
                  batches d
                where
                  d.takes_back = c.id
                  and d.state = 'applied'
              )
          ) as taken_back_by
        `,
      ),
      db.raw(
        `
          (
            select
              json_object_agg(state, n)
            from
              (
                select
                  state,
                  count(*) as n
                from
                  batch_items i
                where
                  i.batch_id = b.id
                group by
                  state
              ) s
          ) as counts
        `,
      ),
    );

const viewOf = (row: BatchRow): BatchView => ({
  id: row.id,
  state: row.state,
  sentence: row.sentence,
  by: personRef({ id: row.person_id, name: row.person }),
  changes: row.changes,
  reverts: row.takes_back,
  atOnce: row.at_once,
  takenBackBy: row.taken_back_by,
  counts: { changes: 0, same: 0, refused: 0, left: 0, ...row.counts },
  chores: row.chores,
  done: row.done,
  chosen: row.chosen,
  error: row.error,
  madeAt: row.made_at,
  appliedAt: row.applied_at,
});

export async function listBatches(db: Queryable, person: CurrentPerson): Promise<BatchView[]> {
  return (
    (await batchRows(db, person.blogId)
      .whereNotIn('b.state', ['looking', 'previewed'])
      .orderBy('b.id', 'desc')
      .limit(100)) as BatchRow[]
  ).map(viewOf);
}

export async function seeBatch(db: Queryable, person: CurrentPerson, id: number): Promise<BatchPreview> {
  const row = (await batchRows(db, person.blogId).where('b.id', id).first()) as unknown as
    BatchRow | undefined;
  if (!row) throw notFound('That batch');
  const open =
    row.state !== 'previewed'
      ? []
      : await db('open_posts as o')
          .join('batch_items as i', 'i.post_id', 'o.post_id')
          .join('people as p', 'p.id', 'o.person_id')
          .where({ 'i.batch_id': id, 'i.state': 'changes' })
          .whereNot('o.person_id', person.id)
          .whereRaw(`o.seen_at > now() - interval '${OPEN_FOR}'`)
          .groupBy('p.name')
          .orderBy('p.name')
          .select<{ name: string; posts: number }[]>('p.name', db.raw('count(*)::int as posts'));
  const [{ letters } = { letters: 0 }] =
    row.state !== 'previewed'
      ? []
      : await db('batch_items as i')
          .join('all_posts as p', 'p.id', 'i.post_id')
          .where({ 'i.batch_id': id, 'i.state': 'changes', 'p.mail_at_release': true })
          .whereRaw(`i.after ->> 'stage' in ('scheduled', 'published')`)
          .select<{ letters: number }[]>(db.raw('count(*)::int as letters'));
  const subscribers = letters === 0 ? 0 : await activeSubscribers(db, person.blogId);
  return { ...viewOf(row), open, letters: { letters, subscribers } };
}

/**
 * What a batch does, post by post; first those that there is something to say of: refused, or changed since.
 */
export async function batchItems(
  db: Queryable,
  person: CurrentPerson,
  id: number,
  { state, from = 0, limit = 50 }: BatchItemsQuery,
): Promise<BatchItemView[]> {
  if (!(await db('batches').where({ blog_id: person.blogId, id }).first('id'))) throw notFound('That batch');
  const items = await db('batch_items as i')
    .join('all_posts as p', 'p.id', 'i.post_id')
    .where('i.batch_id', id)
    .modify((q) => {
      if (state) void q.where('i.state', state);
    })
    .orderByRaw(`(i.sentence = ''), i.at`)
    .offset(from)
    .limit(limit)
    .select<({ post_id: number; title: string; state: ItemState; sentence: string } & BatchItem)[]>(
      'i.post_id',
      'p.title',
      'i.state',
      'i.sentence',
      db.raw(
        `
          i.before - 'body' || case
            when i.before \\? 'body' then '{"body":null}'::jsonb
            else '{}'
          end as before
        `,
      ),
      db.raw(
        `
          i.after - 'body' || case
            when i.after \\? 'body' then '{"body":null}'::jsonb
            else '{}'
          end as after
        `,
      ),
    );
  const pictures = items.flatMap((i) => [i.before.leadPicture?.media, i.after.leadPicture?.media]);
  const names = await batchNames(
    db,
    person.blogId,
    pictures.flatMap((id) => id ?? []),
  );
  return items.map((i) => ({
    postId: i.post_id,
    title: i.before.title ?? i.title,
    state: i.state,
    sentence: i.sentence,
    differences: differencesOf(i, names),
  }));
}

/** Leaves posts out of a previewed batch, or takes them in again. */
export async function chooseItems(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  { leave = [], include = [] }: ItemChanges,
): Promise<BatchPreview> {
  await ownPreview(trx, person, id);
  await trx('batch_items')
    .where({ batch_id: id, state: 'changes' })
    .whereRaw('post_id = any(?)', [leave])
    .update({ state: 'left' });
  await trx('batch_items')
    .where({ batch_id: id, state: 'left' })
    .whereRaw('post_id = any(?)', [include])
    .update({ state: 'changes' });
  return seeBatch(trx, person, id);
}

/** The person's own previewed batch, held. */
export async function ownPreview(trx: Trx, person: CurrentPerson, id: number): Promise<void> {
  const batch = await trx('batches')
    .where({ blog_id: person.blogId, id, person_id: person.id })
    .forUpdate()
    .first<{ state: string } | undefined>('state');
  if (!batch) throw notFound('That batch');
  if (batch.state === 'looking') throw new ProblemError('invalid', 'That batch is not looked through yet.');
  if (batch.state !== 'previewed') throw new ProblemError('invalid', 'That batch is on its way already.');
}
