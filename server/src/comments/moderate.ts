import type {
  CommentMove,
  CommentsMoved,
  CommentsPage,
  CommentsQuery,
  CommentsRestored,
  CommentView,
} from '@keyroster/contract';
import { COMMENT_STATES, plainComment, type CommentState } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { emit } from '../live/live.js';

const PAGE = 50;

interface Row {
  id: number;
  kind: CommentView['kind'];
  state: CommentState;
  postId: number;
  title: string;
  parentId: number | null;
  parentName: string | null;
  name: string;
  email: string;
  text: string;
  personId: number | null;
  personName: string | null;
  memberId: number | null;
  known: boolean;
  spam: number;
  source: string | null;
  at: string;
}

const viewOf = (row: Row): CommentView => ({
  id: row.id,
  kind: row.kind,
  state: row.state,
  post: { id: row.postId, title: row.title },
  parent: row.parentId === null ? null : { id: row.parentId, name: row.parentName ?? '' },
  name: row.name,
  email: row.email,
  text: row.text,
  by: row.personId === null ? null : personRef({ id: row.personId, name: row.personName! }),
  member: row.memberId !== null,
  known: row.known,
  spam: row.spam,
  source: row.source,
  at: row.at,
});

/** Comments under posts that are not in the bin. */
const rows = (db: Queryable, blogId: number) =>
  db('comments as c')
    .join('posts as p', 'p.id', 'c.post_id')
    .leftJoin('comments as o', 'o.id', 'c.parent_id')
    .leftJoin('people as w', 'w.id', 'c.person_id')
    .where('c.blog_id', blogId);

const select = (db: Queryable, blogId: number) =>
  rows(db, blogId).select<Row[]>(
    'c.id',
    'c.kind',
    'c.state',
    'p.id as postId',
    'p.title',
    'o.id as parentId',
    'o.name as parentName',
    'c.name',
    'c.email',
    'c.text',
    'w.id as personId',
    'w.name as personName',
    'c.member_id as memberId',
    'c.spam',
    'c.source',
    'c.at',
    db.raw(`
      exists (
        select 1 from comments k
        where k.blog_id = c.blog_id and k.state = 'approved' and k.id <> c.id
        and (k.author_key = c.author_key or k.member_id = c.member_id)
      ) as known
    `),
  );

export async function listComments(
  db: Queryable,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  { state, postId, q, before }: CommentsQuery,
): Promise<CommentsPage> {
  const found = await select(db, blogId)
    .modify((query) => {
      if (state) void query.where('c.state', state);
      if (postId) void query.where('c.post_id', postId);
      if (before) void query.where('c.id', '<', before);
      if (q)
        void query.whereRaw(
          'strpos(lower(c.name || chr(10) || c.email || chr(10) || c.text), lower(?::text)) > 0',
          [q],
        );
    })
    .orderBy('c.id', 'desc')
    .limit(PAGE + 1);
  const counted = await rows(db, blogId)
    .groupBy('c.state')
    .select<{ state: CommentState; n: number }[]>('c.state', db.raw('count(*)::int as n'));
  return {
    comments: found.slice(0, PAGE).map(viewOf),
    more: found.length > PAGE,
    counts: Object.fromEntries(
      COMMENT_STATES.map((s) => [s, counted.find((c) => c.state === s)?.n ?? 0]),
    ) as CommentsPage['counts'],
  };
}

interface Moved {
  id: number;
  from: CommentState;
}

/** Notifies open comment pages, and has the pages rendered again on which one came or went. */
async function notifyMoved(
  trx: Trx,
  person: Pick<CurrentPerson, 'id' | 'blogId'>,
  changed: readonly { postId: number; from: CommentState; to: CommentState }[],
): Promise<void> {
  const shown = changed.filter((c) => c.from === 'approved' || c.to === 'approved').map((c) => c.postId);
  const events = (kind: 'comment' | 'release', ids: readonly number[]) =>
    [...new Set(ids)].map((postId) => ({ blogId: person.blogId, kind, postId, personId: person.id }));
  await emit(
    trx,
    ...events(
      'comment',
      changed.map((c) => c.postId),
    ),
    ...events('release', shown),
  );
}

/** Moves comments; those that are there already, or are gone, are omitted. */
export async function moveComments(
  trx: Trx,
  person: CurrentPerson,
  { ids, to }: CommentMove,
): Promise<CommentsMoved> {
  const found = await trx('comments')
    .where({ blog_id: person.blogId })
    .whereIn('id', ids)
    .whereNot({ state: to })
    .orderBy('id')
    .forUpdate()
    .select<{ id: number; postId: number; from: CommentState }[]>('id', 'post_id as postId', 'state as from');
  if (found.length === 0) return { moveId: null, moved: 0 };
  await trx('comments')
    .whereIn(
      'id',
      found.map((f) => f.id),
    )
    .update({ state: to });
  const items: Moved[] = found.map(({ id, from }) => ({ id, from }));
  const [move] = await trx('comment_moves')
    .insert({ blog_id: person.blogId, person_id: person.id, state: to, items: JSON.stringify(items) })
    .returning<{ id: number }[]>('id');
  await notifyMoved(
    trx,
    person,
    found.map((f) => ({ ...f, to })),
  );
  return { moveId: move!.id, moved: found.length };
}

/** Puts what a move moved where it was, but for what was moved again since. */
export async function undoMove(trx: Trx, person: CurrentPerson, id: number): Promise<CommentsRestored> {
  const move = await trx('comment_moves')
    .where({ blog_id: person.blogId, id })
    .forUpdate()
    .first<{ state: CommentState; items: Moved[]; undone_at: string | null } | undefined>(
      'state',
      'items',
      'undone_at',
    );
  if (!move) throw notFound('That move');
  if (move.undone_at) throw new ProblemError('gone', 'That was undone already.');
  const there = await trx('comments')
    .where({ blog_id: person.blogId, state: move.state })
    .whereIn(
      'id',
      move.items.map((i) => i.id),
    )
    .orderBy('id')
    .forUpdate()
    .select<{ id: number; postId: number }[]>('id', 'post_id as postId');
  const back = there.map((c) => ({
    ...c,
    to: move.items.find((i) => i.id === c.id)!.from,
    from: move.state,
  }));
  for (const state of COMMENT_STATES) {
    const those = back.filter((b) => b.to === state).map((b) => b.id);
    if (those.length > 0) await trx('comments').whereIn('id', those).update({ state });
  }
  await trx('comment_moves').where({ id }).update({ undone_at: trx.fn.now() });
  await notifyMoved(trx, person, back);
  return { restored: back.length, left: move.items.length - back.length };
}

/** Answers as staff, under the comment, or under the one that it answers. */
export async function answerComment(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  text: string,
): Promise<CommentView> {
  const [comment] = await select(trx, person.blogId).where('c.id', id);
  if (!comment) throw notFound('That comment');
  const kept = plainComment(text);
  if (kept === '') throw new ProblemError('invalid', 'An answer needs some words.');
  if (comment.state !== 'approved') await moveComments(trx, person, { ids: [id], to: 'approved' });
  const [row] = await trx('comments')
    .insert({
      blog_id: person.blogId,
      post_id: comment.postId,
      parent_id: comment.parentId ?? comment.id,
      state: 'approved',
      name: person.name,
      text: kept,
      person_id: person.id,
      told_at: trx.fn.now(),
    })
    .returning<{ id: number }[]>('id');
  await notifyMoved(trx, person, [{ postId: comment.postId, from: 'held', to: 'approved' }]);
  const [made] = await select(trx, person.blogId).where('c.id', row!.id);
  return viewOf(made!);
}

export async function removeComment(trx: Trx, person: CurrentPerson, id: number): Promise<null> {
  const [gone] = await trx('comments')
    .where({ blog_id: person.blogId, id })
    .delete()
    .returning<{ postId: number; state: CommentState }[]>(['post_id as postId', 'state']);
  if (!gone) throw notFound('That comment');
  await notifyMoved(trx, person, [{ postId: gone.postId, from: gone.state, to: 'refused' }]);
  return null;
}
