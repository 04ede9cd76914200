import type {
  NewSubscriber,
  RestoredSubscribers,
  RestoreSubscribers,
  SubscriberChanges,
  SubscribersPage,
  SubscribersQuery,
  SubscriberView,
} from '@keyroster/contract';
import { SUBSCRIBER_STATES, type SubscriberState } from '@keyroster/core';
import { saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { planConfirmation } from '../jobs/queue.js';
import { erasedAmong, rememberErasure } from './erased.js';
import { reachableAgain } from './refusals.js';

const PAGE = 100;
const REASONS = 20;

interface Row extends Omit<SubscriberView, 'post'> {
  postId: number | null;
  postTitle: string | null;
}
const viewOf = ({ postId, postTitle, ...row }: Row): SubscriberView => ({
  ...row,
  post: postId === null || postTitle === null ? null : { id: postId, title: postTitle },
});

const rows = (db: Queryable, blogId: number) =>
  db('subscribers as s').leftJoin('posts as p', 'p.id', 's.post_id').where('s.blog_id', blogId);
const select = (db: Queryable, blogId: number) =>
  rows(db, blogId).select<Row[]>(
    's.id',
    's.version',
    's.email',
    's.name',
    's.state',
    's.how',
    'p.id as postId',
    'p.title as postTitle',
    's.asked_at as askedAt',
    's.confirmed_at as confirmedAt',
    's.left_at as leftAt',
    's.bounces',
    's.bounce_said as bounceSaid',
  );

export async function listSubscribers(
  db: Queryable,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  { state, q, before }: SubscribersQuery,
): Promise<SubscribersPage> {
  const found = await select(db, blogId)
    .modify((query) => {
      if (state) void query.where('s.state', state);
      if (before) void query.where('s.id', '<', before);
      if (q) void query.whereRaw(`strpos(s.email || ' ' || lower(s.name), lower(?::text)) > 0`, [q]);
    })
    .orderBy('s.id', 'desc')
    .limit(PAGE + 1);
  const counted = await db('subscribers')
    .where({ blog_id: blogId })
    .groupBy('state')
    .select<{ state: SubscriberState; n: number }[]>('state', db.raw('count(*)::int as n'));
  const reasons =
    state === 'bounced'
      ? await db('subscribers')
          .where({ blog_id: blogId, state })
          .groupBy('bounce_said')
          .orderBy('subscribers', 'desc')
          .limit(REASONS)
          .select<SubscribersPage['reasons']>('bounce_said as reason', db.raw('count(*)::int as subscribers'))
      : [];
  return {
    reasons,
    subscribers: found.slice(0, PAGE).map(viewOf),
    more: found.length > PAGE,
    counts: Object.fromEntries(
      SUBSCRIBER_STATES.map((s) => [s, counted.find((c) => c.state === s)?.n ?? 0]),
    ) as SubscribersPage['counts'],
  };
}

async function seeSubscriber(db: Queryable, blogId: number, id: number): Promise<SubscriberView> {
  const [row] = await select(db, blogId).where('s.id', id);
  if (!row) throw notFound('That subscriber');
  return viewOf(row);
}

/** Puts somebody down. They get the letter once they say so themselves, by a link that is mailed to them. */
export async function addSubscriber(
  trx: Trx,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  { email, name }: NewSubscriber,
): Promise<SubscriberView> {
  if ((await erasedAmong(trx, blogId, [email])).size > 0)
    throw new ProblemError(
      'taken',
      `${email} was deleted from the list and is kept out. They can sign up again on the blog.`,
    );
  const [row] = await trx('subscribers')
    .insert({ blog_id: blogId, email, name, state: 'asked', how: 'newsroom' })
    .onConflict(['blog_id', 'email'])
    .ignore()
    .returning<{ id: number }[]>('id');
  if (!row) throw new ProblemError('taken', `${email} is on the list already, whatever their state.`);
  await planConfirmation(trx, row.id);
  return seeSubscriber(trx, blogId, row.id);
}

const changedSubscriber = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'subscriber' as const,
  id,
  read: async () => {
    const view = await seeSubscriber(trx, blogId, id);
    return { ...view, left: view.state === 'left' };
  },
  name: ({ email }: SubscriberView) => email,
});

export function changeSubscriber(
  change: Change,
  id: number,
  { name, left }: SubscriberChanges,
): Promise<SubscriberView> {
  const { trx } = change;
  return saveChange(change, changedSubscriber(trx, change.person, id), async () => {
    if (name !== undefined) await trx('subscribers').where({ id }).update({ name });
    if (left)
      await trx('subscribers')
        .where({ id })
        .whereNot({ state: 'left' })
        .update({ state: 'left', left_at: trx.fn.now() });
  }).then(({ left: _, ...view }) => view);
}

/** What is deleted is forgotten, in the log of changes as well; only a digest keeps the address out. */
export async function removeSubscriber(change: Change, id: number): Promise<null> {
  const { trx } = change;
  await saveRemoval(
    change,
    changedSubscriber(trx, change.person, id),
    async () => {
      await rememberErasure(trx, id);
      await trx('subscribers').where({ id }).delete();
    },
    { forgotten: true },
  );
  return null;
}

/** Puts subscribers who could not be reached on the list again: some by id, or all with the same reason. */
export async function restoreSubscribers(
  trx: Trx,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  { ids, reason }: RestoreSubscribers,
): Promise<RestoredSubscribers> {
  const restored = await trx('subscribers')
    .where({ blog_id: blogId, state: 'bounced' })
    .modify((query) => {
      if (ids) void query.whereIn('id', [...ids]);
      if (reason !== undefined) void query.where('bounce_said', reason);
    })
    .update(reachableAgain(trx));
  return { restored };
}
