import type { SendAnswer, SendingView, SendsQuery, SendView, SendWhole } from '@keyroster/contract';
import { isDesk, may } from '@keyroster/core';
import { seenSql } from '../posts/visible.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { emit } from '../live/live.js';
import { factsOf, findPost } from '../posts/store.js';
import { planSends } from '../outlets/plan.js';
import type { Steps } from '../outlets/transport/transport.js';

/** The send log, newest first: what goes out next, what went, and what needs a person. */
export async function listSends(
  db: Queryable,
  person: CurrentPerson,
  { state, outlet, before, limit = 100 }: SendsQuery,
  id?: number,
): Promise<SendView[]> {
  const rows = await db('sends as s')
    .join('pieces as p', 'p.id', 's.piece_id')
    .join('all_posts as t', 't.id', 'p.post_id')
    .join('outlets as o', 'o.id', 's.outlet_id')
    .leftJoin('people as a', 'a.id', 's.approved_by')
    .where('s.blog_id', person.blogId)
    .modify((q) => {
      if (id !== undefined) void q.where('s.id', id);
      if (state) void q.where('s.state', state);
      if (outlet) void q.where('s.outlet_id', outlet);
      if (before) void q.where('s.id', '<', before);
      const seen = seenSql(person, 't');
      void q.whereRaw(seen.text, seen.values);
    })
    .orderByRaw(
      `
        case
          when s.state in ('unsure', 'failed') then 0
          when s.state in ('sending', 'waiting') then 1
          else 2
        end,
        case
          when s.state = 'waiting' then s.due_at
        end nulls last,
        s.sent_at desc nulls last,
        s.id desc
      `,
    )
    .limit(limit)
    .select<SendView[]>(
      's.id',
      's.piece_id as pieceId',
      'p.post_id as postId',
      't.title as post',
      's.outlet_id as outletId',
      'o.name as outlet',
      'p.kind',
      db.raw(`left(coalesce(nullif(p.words, ''), p.parts[1], ''), 90) as opening`),
      's.state',
      'p.due_local as dueLocal',
      's.due_at as dueAt',
      's.next_at as nextAt',
      's.sent_at as sentAt',
      's.attempts',
      's.url',
      's.error',
      'a.name as approvedBy',
      's.key',
    );
  return rows;
}

export async function seeSend(db: Queryable, person: CurrentPerson, id: number): Promise<SendWhole> {
  const [send] = await listSends(db, person, {}, id);
  if (!send) throw notFound('That entry');
  return {
    ...send,
    log: await db('send_attempts')
      .where({ send_id: id })
      .orderBy('id')
      .select<SendWhole['log']>('began_at as at', 'outcome', 'sentence'),
  };
}

async function lockSend(
  trx: Trx,
  person: CurrentPerson,
  id: number,
): Promise<{ state: string; post_id: number }> {
  const send = await trx('sends as s')
    .join('pieces as p', 'p.id', 's.piece_id')
    .where({ 's.blog_id': person.blogId, 's.id': id })
    .forUpdate('s')
    .first<{ state: string; post_id: number } | undefined>('s.state', 'p.post_id');
  if (!send) throw notFound('That entry');
  const post = await findPost(trx, person.blogId, send.post_id);
  if (!post || !may(person, 'see', factsOf(post)) || !isDesk(person, factsOf(post)))
    throw notYours('Deciding on this piece');
  return send;
}

/** A person looked whether a piece that may have been sent is there. */
export async function answerSend(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  { there }: SendAnswer,
): Promise<SendWhole> {
  const send = await lockSend(trx, person, id);
  if (send.state !== 'unsure') throw new ProblemError('invalid', 'There is no doubt about this piece.');
  await trx('send_attempts').insert({
    send_id: id,
    ended_at: trx.raw('clock_timestamp()'),
    outcome: there ? 'sent' : 'no',
    sentence: `${person.name} looked: ${there ? 'it is there' : 'it is not there'}.`,
  });
  const { steps, parts, kind } = (await trx('sends as s')
    .join('pieces as p', 'p.id', 's.piece_id')
    .where('s.id', id)
    .first<{ steps: Steps; parts: string[]; kind: string }>('s.steps', 'p.parts', 'p.kind'))!;
  const out = steps.parts?.length ?? 0;
  // Of a thread, what is there is the part in doubt; those after it are still to go.
  const more = there && kind === 'thread' && out + 1 < parts.length;
  if (more)
    await trx('sends')
      .where({ id })
      .update({
        state: 'waiting',
        next_at: null,
        error: '',
        steps: JSON.stringify({ ...steps, parts: [...(steps.parts ?? []), ''] }),
      });
  else
    await trx('sends')
      .where({ id })
      .update(
        there
          ? { state: 'sent', sent_at: trx.raw('coalesce(claimed_at, clock_timestamp())'), error: '' }
          : { state: 'waiting', next_at: null, error: '' },
      );
  if (!there || more) await planSends(trx, { sendId: id });
  await emit(trx, { blogId: person.blogId, kind: 'outlet', postId: send.post_id, personId: person.id });
  return seeSend(trx, person, id);
}

/** Tries a piece again that could not be sent, once the cause is fixed. */
export async function sendAgain(trx: Trx, person: CurrentPerson, id: number): Promise<SendWhole> {
  const send = await lockSend(trx, person, id);
  if (send.state !== 'failed' && send.state !== 'waiting')
    throw new ProblemError('invalid', 'Only what could not be sent is tried again.');
  await trx('sends').where({ id }).update({ state: 'waiting', next_at: null, attempts: 0, error: '' });
  await planSends(trx, { sendId: id });
  await emit(trx, { blogId: person.blogId, kind: 'outlet', postId: send.post_id, personId: person.id });
  return seeSend(trx, person, id);
}

export async function seeSending(db: Queryable, blogId: number): Promise<SendingView> {
  const row = await db('blogs')
    .leftJoin('people', 'people.id', 'blogs.sending_stopped_by')
    .where('blogs.id', blogId)
    .first<{ at: string | null; by: string | null }>('sending_stopped_at as at', 'people.name as by');
  return { stopped: row!.at !== null, by: row!.at === null ? null : row!.by, at: row!.at };
}

/** The switch that stops everything: nothing is begun while it is thrown. What is on its way arrives. */
export async function changeSending(trx: Trx, person: CurrentPerson, stopped: boolean): Promise<SendingView> {
  await trx('blogs')
    .where({ id: person.blogId })
    .update({
      sending_stopped_at: stopped ? trx.raw('coalesce(sending_stopped_at, clock_timestamp())') : null,
      sending_stopped_by: stopped ? person.id : null,
    });
  if (!stopped) await planSends(trx, { blogId: person.blogId });
  await emit(trx, { blogId: person.blogId, kind: 'outlet', personId: person.id });
  return seeSending(trx, person.blogId);
}
