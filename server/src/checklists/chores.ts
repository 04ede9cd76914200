import type { ChoreChanges, ChoreItem, ChoreView, NewChore, FieldValues } from '@keyroster/contract';
import {
  choreDue,
  choreOf,
  heldBy,
  isDesk,
  may,
  mayTick,
  type Assignee,
  type ChorePost,
  type Post,
} from '@keyroster/core';
import { mustBelong, personRef } from '../accounts/people.js';
import { saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { emit } from '../live/live.js';
import { factsOf, type PostRow } from '../posts/store.js';
import { onlyVisible, visiblePost, visiblePostToChange } from '../posts/visible.js';

/** Chores that a post can have. */
const MAX_CHORES = 100;

interface ChoreRow {
  text: string;
  days_before: number;
  post_id: number;
  assignee: Assignee;
  person_id: number | null;
  holds: boolean;
  done_at: string | null;
}

interface Row {
  id: number;
  version: number;
  postId: number;
  checklist: string | null;
  text: string;
  assignee: Assignee;
  personId: number | null;
  daysBefore: number;
  holds: boolean;
  doneAt: string | null;
  doneById: number | null;
  doneByName: string | null;
}

const rows = (db: Queryable, blogId: number) =>
  db('chores as ch')
    .leftJoin('checklists as c', 'c.id', 'ch.checklist_id')
    .leftJoin('checklist_items as i', 'i.id', 'ch.item_id')
    .leftJoin('people as d', 'd.id', 'ch.done_by')
    .where('ch.blog_id', blogId)
    // What is due first stands first; of one day, as the checklist has it.
    .orderBy('ch.days_before', 'desc')
    .orderBy('c.name')
    .orderBy('i.position')
    .orderBy('ch.id')
    .select<Row[]>(
      'ch.id',
      'ch.version',
      'ch.post_id as postId',
      'c.name as checklist',
      'ch.text',
      'ch.assignee',
      'ch.person_id as personId',
      'ch.days_before as daysBefore',
      'ch.holds',
      'ch.done_at as doneAt',
      'd.id as doneById',
      'd.name as doneByName',
    );

const chorePost = (
  row: Pick<PostRow, 'byline_id' | 'editor_id' | 'proofreader_id' | 'run_local'>,
): ChorePost => ({
  bylineId: row.byline_id,
  editorId: row.editor_id,
  proofreaderId: row.proofreader_id,
  runLocal: row.run_local,
});

export async function listChores(
  db: Queryable,
  person: CurrentPerson,
  postId: number,
  only?: number,
): Promise<ChoreView[]> {
  const post = await visiblePost(db, person, postId);
  const facts = { ...factsOf(post), ...chorePost(post) };
  const query = rows(db, person.blogId).where('ch.post_id', postId);
  if (only !== undefined) void query.where('ch.id', only);
  const found = await query;
  const names = new Map(
    (
      await db('people')
        .whereIn(
          'id',
          found.flatMap((r) => choreOf(r, facts) ?? []),
        )
        .select<{ id: number; name: string }[]>('id', 'name')
    ).map((p) => [p.id, p.name]),
  );
  return found.map((row) => {
    const whose = choreOf(row, facts);
    return {
      id: row.id,
      version: row.version,
      checklist: row.checklist,
      text: row.text,
      assignee: row.assignee,
      person: whose === null ? null : personRef({ id: whose, name: names.get(whose) ?? '' }),
      daysBefore: row.daysBefore,
      due: choreDue(row, facts),
      holds: row.holds,
      done: row.doneAt !== null,
      doneBy: row.doneById === null ? null : personRef({ id: row.doneById, name: row.doneByName! }),
      rights: { tick: mayTick(person, facts, row), change: isDesk(person, facts) },
    };
  });
}

export async function addChores(
  trx: Trx,
  person: CurrentPerson,
  postId: number,
  { checklistId, chore }: NewChore,
): Promise<ChoreView[]> {
  const post = await visiblePostToChange(trx, person, postId);
  if (!may(person, 'details', factsOf(post))) throw notYours('Changing the checklist of this post');
  const mayHold = post.stage !== 'scheduled';
  if (chore?.holds && !mayHold) throw heldTooLate();
  const present = await trx('chores').where({ post_id: postId }).pluck<number[]>('id');
  if (present.length >= MAX_CHORES)
    throw new ProblemError('too-large', `At most ${MAX_CHORES} chores fit on a post.`);
  const base = { blog_id: person.blogId, post_id: postId, by_hand: true };
  if (chore) {
    await mustBelong(trx, person.blogId, chore.personId);
    await trx('chores').insert({
      ...base,
      text: chore.text,
      assignee: chore.assignee,
      person_id: chore.personId,
      days_before: chore.daysBefore,
      holds: chore.holds,
    });
  } else {
    const items = await trx('checklist_items as i')
      .join('checklists as c', 'c.id', 'i.checklist_id')
      .where({ 'c.blog_id': person.blogId, 'c.id': checklistId })
      .select(
        'i.id as item_id',
        'i.checklist_id',
        'i.text',
        'i.assignee',
        'i.person_id',
        'i.days_before',
        'i.holds',
      );
    if (items.length === 0) throw notFound('That checklist');
    if (!mayHold && items.some((i: { holds: boolean }) => i.holds)) throw heldTooLate();
    await trx('chores')
      .insert(items.map((item: object) => ({ ...base, ...item })))
      .onConflict(['post_id', 'item_id'])
      .ignore();
  }
  await tell(trx, person, postId);
  return listChores(trx, person, postId);
}

/** A post is scheduled when nothing holds it any more; its promised time is kept. */
const heldTooLate = () =>
  new ProblemError(
    'demands',
    'This post is scheduled already, and its time is kept. Unschedule it before something may hold it back.',
  );

async function choreToChange(trx: Trx, person: CurrentPerson, id: number) {
  const chore = await trx('chores')
    .where({ blog_id: person.blogId, id })
    .first<ChoreRow | undefined>(
      'post_id',
      'text',
      'assignee',
      'person_id',
      'days_before',
      'holds',
      'done_at',
    );
  if (!chore) throw notFound('That chore');
  const post = await visiblePostToChange(trx, person, chore.post_id);
  return { chore, postId: chore.post_id, facts: { ...factsOf(post), ...chorePost(post) } };
}

type ChoreValues = Required<ChoreChanges> & { postId: number };

const changedChore = (trx: Trx, person: CurrentPerson, id: number, postId: number) => ({
  kind: 'chore' as const,
  id,
  postId,
  read: async (): Promise<ChoreValues & FieldValues> => {
    const { chore } = await choreToChange(trx, person, id);
    return {
      text: chore.text,
      assignee: chore.assignee,
      personId: chore.person_id,
      daysBefore: chore.days_before,
      holds: chore.holds,
      done: chore.done_at !== null,
      postId,
    };
  },
  name: ({ text }: ChoreValues) => text,
});

export async function changeChore(
  change: Change,
  id: number,
  { done, ...changes }: ChoreChanges,
): Promise<ChoreView> {
  const { trx, person } = change;
  const { chore: found, postId, facts } = await choreToChange(trx, person, id);
  const rule = { assignee: found.assignee, personId: found.person_id };
  if (done !== undefined && !mayTick(person, facts, rule)) throw notYours('Saying that this chore is done');
  const others = Object.keys(changes).length > 0;
  if (others && !isDesk(person, facts)) throw notYours('Changing the checklist of this post');
  await saveChange(change, changedChore(trx, person, id, postId), async (chore) => {
    const holds = (is: boolean, open: boolean) => is && open && facts.stage === 'scheduled';
    const heldBefore = holds(chore.holds, !chore.done);
    if (!heldBefore && holds(changes.holds ?? chore.holds, !(done ?? chore.done))) throw heldTooLate();
    const assignee = changes.assignee ?? chore.assignee;
    const personId = assignee === 'person' ? (changes.personId ?? chore.personId) : null;
    if (assignee === 'person' && personId === null)
      throw new ProblemError('invalid', 'Choose whose chore it is.');
    await mustBelong(trx, person.blogId, personId);
    await trx('chores')
      .where({ id })
      .update({
        assignee,
        person_id: personId,
        ...(changes.text === undefined ? {} : { text: changes.text }),
        ...(changes.daysBefore === undefined ? {} : { days_before: changes.daysBefore }),
        ...(changes.holds === undefined ? {} : { holds: changes.holds }),
        ...(done === undefined
          ? {}
          : done
            ? { done_at: trx.raw('now()'), done_by: person.id }
            : { done_at: null, done_by: null }),
      });
  });
  return (await listChores(trx, person, postId, id))[0]!;
}

export async function removeChore(change: Change, id: number): Promise<null> {
  const { trx, person } = change;
  const { postId, facts } = await choreToChange(trx, person, id);
  if (!isDesk(person, facts)) throw notYours('Changing the checklist of this post');
  await saveRemoval(change, changedChore(trx, person, id, postId), () =>
    trx('chores').where({ id }).delete(),
  );
  return null;
}

const tell = (trx: Trx, person: CurrentPerson, postId: number) =>
  emit(trx, { blogId: person.blogId, kind: 'note', postId, personId: person.id });

/** What holds posts back among their chores, a sentence each. */
export async function heldPosts(
  db: Queryable,
  posts: readonly Pick<Post, 'id'>[],
): Promise<Map<number, string[]>> {
  const open = await db('chores')
    .whereRaw('post_id = any(?)', [posts.map((p) => p.id)])
    .where({ holds: true })
    .whereNull('done_at')
    .orderBy('id')
    .select<{ post_id: number; text: string }[]>('post_id', 'text');
  const held = new Map<number, string[]>();
  for (const { post_id, text } of open)
    held.set(post_id, [...(held.get(post_id) ?? []), ...heldBy([{ text, holds: true, done: false }])]);
  return held;
}

/** The open chores that are somebody's own, of posts that they may see and that are under way, the soonest first. */
export async function ownChores(db: Queryable, person: CurrentPerson): Promise<ChoreItem[]> {
  const found = await onlyVisible(db('posts'), person)
    .join('chores as ch', 'ch.post_id', 'posts.id')
    .where('posts.blog_id', person.blogId)
    .whereIn('posts.stage', ['commissioned', 'drafting', 'in review', 'cleared', 'scheduled'])
    .whereNull('ch.done_at')
    .where((w) =>
      w
        .where((q) => q.where('ch.assignee', 'person').where('ch.person_id', person.id))
        .orWhere((q) => q.where('ch.assignee', 'writer').where('posts.byline_id', person.id))
        .orWhere((q) => q.where('ch.assignee', 'editor').where('posts.editor_id', person.id))
        .orWhere((q) => q.where('ch.assignee', 'proofreader').where('posts.proofreader_id', person.id)),
    )
    .select<
      {
        id: number;
        postId: number;
        title: string;
        text: string;
        daysBefore: number;
        holds: boolean;
        runLocal: string | null;
      }[]
    >(
      'ch.id',
      'posts.id as postId',
      'posts.title',
      'ch.text',
      'ch.days_before as daysBefore',
      'ch.holds',
      'posts.run_local as runLocal',
    );
  const FAR = '9999-12-31';
  return found
    .map(({ daysBefore, runLocal, ...chore }) => ({ ...chore, due: choreDue({ daysBefore }, { runLocal }) }))
    .sort((a, b) => (a.due ?? FAR).localeCompare(b.due ?? FAR) || a.id - b.id);
}
