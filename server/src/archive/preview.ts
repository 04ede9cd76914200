import type { BatchItemView, BatchItemsQuery, BatchPreview, BatchView, ItemChanges, ItemState, NewBatch } from '@keyroster/contract';
import { differencesOf, foreseer, isDesk, isLater, sayChange, takeBack, FIELD_NAMES, type BatchChange, type BatchItem } from '@keyroster/core';
import { mustBelong, personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../accounts/who.js';
import type { Reader, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { databaseNow } from '../posts/store.js';
import { batchNames, sceneOf, seePosts, type SeenPost } from './batch-posts.js';
import { matchingIds } from './find.js';

/** Posts that are looked at in one go; their texts are in memory together. */
const CHUNK = 1000;
const TEXT_CHUNK = 100;
/** How long a preview may look through texts before it says that it takes too long. */
const MOST_MS = 20_000;
const OPEN_FOR = '90 seconds';

interface Kept { p: number; v: number; n: number; s: ItemState; t: string; b: BatchItem['before']; a: BatchItem['after'] }

async function keepItems(trx: Trx, batchId: number, items: readonly Kept[]): Promise<void> {
  await trx.raw(`insert into batch_items (batch_id, post_id, at, version, state, sentence, before, after) select ?, x.p, x.n, x.v, x.s, x.t, x.b, x.a from jsonb_to_recordset(?::jsonb) as x(p int, v int, n int, s text, t text, b jsonb, a jsonb)`,
    [batchId, JSON.stringify(items)]);
}

async function newBatch(trx: Trx, person: CurrentPerson, row: { changes: readonly BatchChange[]; sentence: string; line?: string; takes_back?: number }): Promise<number> {
  // What one previewed and did not apply gives way to the next.
  await trx('batches').where({ blog_id: person.blogId, person_id: person.id, state: 'previewed' }).delete();
  const [made] = await trx('batches').insert({ blog_id: person.blogId, person_id: person.id, ...row, changes: JSON.stringify(row.changes) }).returning<{ id: number }[]>('id');
  return made!.id;
}

/** Everything that changes name must be on this blog. */
async function mustBeHere(trx: Trx, person: CurrentPerson, changes: readonly BatchChange[]): Promise<void> {
  for (const change of changes) {
    if (change.kind === 'byline' && change.to !== null) await mustBelong(trx, person.blogId, change.to);
    const categories = change.kind === 'categories merge' ? [...change.from, change.into] : (change.kind === 'category' || change.kind === 'second category') && change.to !== null ? [change.to] : [];
    if (categories.length > 0 && (await trx('categories').where({ blog_id: person.blogId }).whereIn('id', categories).pluck('id')).length < new Set(categories).size) throw new ProblemError('invalid', 'That category is not on this blog.');
    const tags = change.kind === 'tags' ? [...change.gain, ...change.lose] : change.kind === 'tags merge' ? [...change.from, change.into] : change.kind === 'tags become' ? [...change.to] : [];
    if (tags.length > 0 && (await trx('tags').where({ blog_id: person.blogId }).whereIn('id', tags).pluck('id')).length < new Set(tags).size) throw new ProblemError('invalid', 'One of those tags is not on this blog.');
  }
}

/** Says what a batch would do, post by post, and keeps it so that exactly that can be applied. Writes no post. */
export async function previewBatch(trx: Trx, person: CurrentPerson, { changes, ids, line, except }: NewBatch): Promise<BatchPreview> {
  await mustBeHere(trx, person, changes);
  const left = new Set(except);
  const chosen = (ids ? [...new Set(ids)] : await matchingIds(trx, person, { line })).filter((id) => !left.has(id));
  if (chosen.length === 0) throw new ProblemError('invalid', 'No post is chosen.');
  const made = foreseer(changes, await sceneOf(trx, person, changes, chosen));
  if (!made.ok) throw new ProblemError('invalid', made.sentence);
  const names = await batchNames(trx, person.blogId);
  const batchId = await newBatch(trx, person, { changes, sentence: changes.map((c) => sayChange(c, names)).join('; '), line: line ?? '' });
  const withText = changes.some((c) => c.kind === 'replace' && c.places.includes('text'));
  const step = withText ? TEXT_CHUNK : CHUNK;
  const began = Date.now();
  for (let at = 0; at < chosen.length; at += step) {
    const posts = await seePosts(trx, person.blogId, chosen.slice(at, at + step), { text: withText, tags: changes.some((c) => c.kind.startsWith('tags')), lead: changes.some((c) => c.kind === 'lighten'), people: changes.some((c) => c.kind === 'stage') });
    await keepItems(trx, batchId, posts.map((post, i) => {
      if (withText && Date.now() - began > MOST_MS) throw new ProblemError('invalid', `Looking through these texts takes longer than ${MOST_MS / 1000} seconds. Choose fewer posts, or a simpler pattern. Nothing was written.`);
      const outcome = made.foresee(post);
      return { p: post.id, v: post.version, n: at + i, s: outcome.state, t: outcome.state === 'refused' ? outcome.sentence : '', b: outcome.state === 'changes' ? outcome.before : {}, a: outcome.state === 'changes' ? outcome.after : {} };
    }));
  }
  return seeBatch(trx, person, batchId);
}

/** Says what taking a batch back would do to the posts as they stand now. */
export async function previewTakingBack(trx: Trx, person: CurrentPerson, id: number, force: boolean): Promise<BatchPreview> {
  const batch = await trx('batches').where({ blog_id: person.blogId, id }).first<{ state: string; sentence: string; takes_back: number | null } | undefined>('state', 'sentence', 'takes_back');
  if (!batch) throw notFound('That batch');
  if (batch.state !== 'applied') throw new ProblemError('invalid', 'That batch was never applied, so there is nothing to take back.');
  if (await takenBackBy(trx, id)) throw new ProblemError('invalid', 'That batch is taken back already.');
  const now = await databaseNow(trx);
  const again = batch.takes_back !== null;
  const batchId = await newBatch(trx, person, { changes: [], sentence: again ? `Done again: ${batch.sentence.replace(/^Taken back: /, '')}` : `Taken back: ${batch.sentence.replace(/^Done again: /, '')}`, takes_back: id });
  for (let from = 0; ; from += TEXT_CHUNK * 5) {
    const items = await trx('batch_items').where({ batch_id: id, state: 'changes' }).orderBy('at').offset(from).limit(TEXT_CHUNK * 5).select<({ post_id: number } & BatchItem)[]>('post_id', 'before', 'after');
    if (items.length === 0) break;
    const posts = new Map((await seePosts(trx, person.blogId, items.map((i) => i.post_id), { text: items.some((i) => i.after.body !== undefined), tags: true, people: true, lead: true })).map((p) => [p.id, p]));
    await keepItems(trx, batchId, await Promise.all(items.flatMap((item, i) => { const post = posts.get(item.post_id); return post ? [backItem(trx, person, item, post, from + i, now, force)] : []; })));
  }
  return seeBatch(trx, person, batchId);
}

async function backItem(trx: Trx, person: CurrentPerson, item: BatchItem, post: SeenPost, at: number, now: string, force: boolean): Promise<Kept> {
  const kept: Kept = { p: post.id, v: post.version, n: at, s: 'refused', t: '', b: {}, a: {} };
  if (!isDesk(person, post.fields)) return { ...kept, t: 'It is in no category that you edit.' };
  if (post.fields.binned && item.after.binned === undefined) return { ...kept, t: 'It lies in the bin.' };
  const { before, after, since } = takeBack(item, post.fields, force);
  if (person.role === 'editor' && after.categoryId !== undefined && (after.categoryId === null || !person.categories.includes(after.categoryId))) return { ...kept, t: 'You do not edit the category it would go back to.' };
  const will = { ...post.fields, ...after };
  if (will.stage === 'scheduled' && will.run && !isLater(will.run.at, now) && !will.binned) return { ...kept, t: 'It would be scheduled for a time that has passed, and go out at once.' };
  if (after.address && (await trx('all_posts').where({ blog_id: person.blogId, address: after.address }).whereNot({ id: post.id }).first('id'))) return { ...kept, t: `/${after.address} is another post’s by now.` };
  const said = since.length === 0 ? '' : `${since.map((f) => FIELD_NAMES[f]).join(', ')} changed since${force ? ', taken back all the same' : ' and kept'}`;
  return { ...kept, s: Object.keys(after).length > 0 ? 'changes' : 'same', t: said, b: before, a: after };
}

async function takenBackBy(db: Reader, id: number): Promise<number | null> {
  const row = await db('batches as b').where({ 'b.takes_back': id, 'b.state': 'applied' }).whereNotExists((q) => q.from('batches as c').whereRaw(`c.takes_back = b.id and c.state = 'applied'`)).orderBy('b.id', 'desc').first<{ id: number } | undefined>('b.id');
  return row?.id ?? null;
}

interface BatchRow { id: number; state: BatchView['state']; sentence: string; person_id: number; person: string; changes: BatchChange[]; takes_back: number | null; taken_back_by: number | null; changed: number; done: number; fault: string; made_at: string; applied_at: string | null; counts: Partial<Record<ItemState, number>> | null }

const batchRows = (db: Reader, blogId: number) => db('batches as b').join('people as p', 'p.id', 'b.person_id').where('b.blog_id', blogId).select<BatchRow[]>(
  'b.id', 'b.state', 'b.sentence', 'b.person_id', 'p.name as person', 'b.changes', 'b.takes_back', 'b.changed', 'b.done', 'b.fault', 'b.made_at', 'b.applied_at',
  db.raw(`(select max(c.id) from batches c where c.takes_back = b.id and c.state = 'applied' and not exists (select 1 from batches d where d.takes_back = c.id and d.state = 'applied')) as taken_back_by`),
  db.raw('(select json_object_agg(state, n) from (select state, count(*) as n from batch_items i where i.batch_id = b.id group by state) s) as counts'));

const viewOf = (row: BatchRow): BatchView => ({
  id: row.id, state: row.state, sentence: row.sentence, by: personRef({ id: row.person_id, name: row.person }), changes: row.changes, takesBack: row.takes_back, takenBackBy: row.taken_back_by,
  counts: { changes: 0, same: 0, refused: 0, left: 0, ...row.counts }, done: row.done, fault: row.fault, madeAt: row.made_at, appliedAt: row.applied_at,
});

export async function listBatches(db: Reader, person: CurrentPerson): Promise<BatchView[]> {
  return ((await batchRows(db, person.blogId).whereNot('b.state', 'previewed').orderBy('b.id', 'desc').limit(100)) as BatchRow[]).map(viewOf);
}

export async function seeBatch(db: Reader, person: CurrentPerson, id: number): Promise<BatchPreview> {
  const row = (await batchRows(db, person.blogId).where('b.id', id).first()) as unknown as BatchRow | undefined;
  if (!row) throw notFound('That batch');
  const open = row.state !== 'previewed' ? [] : await db('open_posts as o').join('batch_items as i', 'i.post_id', 'o.post_id').join('people as p', 'p.id', 'o.person_id').where({ 'i.batch_id': id, 'i.state': 'changes' }).whereNot('o.person_id', person.id)
    .whereRaw(`o.seen_at > now() - interval '${OPEN_FOR}'`).groupBy('p.name').orderBy('p.name').select<{ name: string; posts: number }[]>('p.name', db.raw('count(*)::int as posts'));
  return { ...viewOf(row), open };
}

/** What a batch does, post by post; first those that there is something to say of: refused, or changed since. */
export async function batchItems(db: Reader, person: CurrentPerson, id: number, { state, from = 0, limit = 50 }: BatchItemsQuery): Promise<BatchItemView[]> {
  if (!(await db('batches').where({ blog_id: person.blogId, id }).first('id'))) throw notFound('That batch');
  const items = await db('batch_items as i').join('all_posts as p', 'p.id', 'i.post_id').where('i.batch_id', id).modify((q) => { if (state) void q.where('i.state', state); }).orderByRaw(`(i.sentence = ''), i.at`).offset(from).limit(limit)
    .select<({ post_id: number; title: string; state: ItemState; sentence: string } & BatchItem)[]>('i.post_id', 'p.title', 'i.state', 'i.sentence', db.raw(`i.before - 'body' || case when i.before \\? 'body' then '{"body":null}'::jsonb else '{}' end as before`), db.raw(`i.after - 'body' || case when i.after \\? 'body' then '{"body":null}'::jsonb else '{}' end as after`));
  const names = await batchNames(db, person.blogId);
  return items.map((i) => ({ postId: i.post_id, title: i.before.title ?? i.title, state: i.state, sentence: i.sentence, differences: differencesOf(i, names) }));
}

/** Leaves posts out of a previewed batch, or takes them in again. */
export async function chooseItems(trx: Trx, person: CurrentPerson, id: number, { leave = [], take = [] }: ItemChanges): Promise<BatchPreview> {
  await ownPreview(trx, person, id);
  await trx('batch_items').where({ batch_id: id, state: 'changes' }).whereIn('post_id', leave).update({ state: 'left' });
  await trx('batch_items').where({ batch_id: id, state: 'left' }).whereIn('post_id', take).update({ state: 'changes' });
  return seeBatch(trx, person, id);
}

/** The person's own previewed batch, held. */
export async function ownPreview(trx: Trx, person: CurrentPerson, id: number): Promise<void> {
  const batch = await trx('batches').where({ blog_id: person.blogId, id, person_id: person.id }).forUpdate().first<{ state: string } | undefined>('state');
  if (!batch) throw notFound('That batch');
  if (batch.state !== 'previewed') throw new ProblemError('invalid', 'That batch is on its way already.');
}
