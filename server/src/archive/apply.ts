import type { BatchView } from '@keyroster/contract';
import { bodyText, checkBody, countWords, sameValue, sayCount, type BatchChange, type BatchField, type BatchItem, type BodyNode } from '@keyroster/core';
import type { CurrentPerson } from '../accounts/who.js';
import type { Db, Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { planBatch, planRemeasuring } from '../jobs/queue.js';
import { keepLighter } from '../media/redraw.js';
import { log } from '../log.js';
import { tell } from '../live/live.js';
import { followReleases } from '../outlets/follow.js';
import { POST_FIELDS } from '../posts/store.js';
import { seePosts } from './batch-posts.js';
import { ownPreview, seeBatch } from './preview.js';

/** Posts written between two words about how far it is. */
const CHUNK = 2000;
const TEXT_CHUNK = 100;

/** How a field of an item is written to its columns. */
const WRITES: Record<Exclude<BatchField, 'tagIds' | 'body'>, string[]> = {
  title: [`title = i.after->>'title'`], excerpt: [`excerpt = i.after->>'excerpt'`], address: [`address = i.after->>'address'`],
  categoryId: [`category_id = (i.after->>'categoryId')::int`], secondCategoryId: [`second_category_id = (i.after->>'secondCategoryId')::int`], bylineId: [`byline_id = (i.after->>'bylineId')::int`],
  access: [`access = i.after->>'access'`], comments: [`comments = (i.after->>'comments')::boolean`], campaign: [`campaign = i.after->>'campaign'`], formatValues: [`format_values = i.after->'formatValues'`],
  spotlight: [`spotlight_from = (i.after->'spotlight'->>'from')::date`, `spotlight_until = (i.after->'spotlight'->>'until')::date`],
  run: [`run_local = (i.after->'run'->>'local')::timestamp`, `run_zone = i.after->'run'->>'zone'`, `run_at = (i.after->'run'->>'at')::timestamptz`],
  lead: [`lead_media_id = (i.after->'lead'->>'media')::int`],
  stage: [`stage = i.after->>'stage'`, `stage_since = clock_timestamp()`, `scheduled_at = case when i.after->>'stage' = 'scheduled' then clock_timestamp() when i.after->>'stage' in ('pitch','cleared') then null else p.scheduled_at end`],
  binned: [`binned_at = case when (i.after->>'binned')::boolean then clock_timestamp() end`, `binned_by = case when (i.after->>'binned')::boolean then ?::int end`],
};
/** Names under which versions keep what changed. */
const CHANGED: Record<BatchField, string[]> = {
  title: ['title'], excerpt: ['excerpt'], address: ['address'], body: ['body', 'words'], categoryId: ['category_id'], secondCategoryId: ['second_category_id'], bylineId: ['byline_id'], tagIds: ['tags'], access: ['access'], comments: ['comments'],
  spotlight: ['spotlight_from', 'spotlight_until'], campaign: ['campaign'], formatValues: ['format_values'], lead: ['lead_media_id'], run: ['run_local', 'run_zone', 'run_at'], stage: ['stage', 'stage_since'], binned: ['binned'],
};
/** Fields that checks look at. */
const MEASURED: readonly BatchField[] = ['title', 'excerpt', 'address', 'body', 'categoryId', 'tagIds', 'formatValues', 'lead', 'run'];

/** A batch that cannot be applied as it was previewed; the sentence is kept with it. */
class Unfit extends Error {}

/** Has a previewed batch applied by the next free worker. */
export async function askToApply(trx: Trx, person: CurrentPerson, id: number): Promise<BatchView> {
  await ownPreview(trx, person, id);
  const [{ count } = { count: '0' }] = await trx('batch_items').where({ batch_id: id, state: 'changes' }).count<{ count: string }[]>('post_id as count');
  if (Number(count) === 0) throw new ProblemError('invalid', 'This batch changes no post.');
  await trx('batches').where({ id }).update({ state: 'waiting', done: 0, fault: '', made_at: trx.raw('clock_timestamp()') });
  await planBatch(trx, id);
  return seeBatch(trx, person, id);
}

/**
 * Applies a batch that waits, in one transaction: all of it or nothing. Killed half-way, nothing has happened, the batch
 * still waits, and a later job applies it. Two processes, or a batch that is applied already: the second finds nothing to do.
 * When posts were changed since the preview in what the batch changes, nothing is written and the batch says so.
 */
export async function applyBatch(db: Db, id: number): Promise<void> {
  try {
    await makeLighter(db, id);
    await db.transaction((trx) => apply(db, trx, id));
  } catch (error) {
    const sentence = error instanceof Unfit ? error.message : constraintSentence(error);
    if (!sentence) throw error;
    await db.transaction(async (trx) => {
      const [row] = await trx('batches').where({ id, state: 'waiting' }).update({ state: 'failed', fault: `${sentence} Nothing was written.`, done: 0 }).returning<{ blog_id: number }[]>('blog_id');
      if (row) await tell(trx, { blogId: row.blog_id, kind: 'batch' });
    });
    log.info({ batch: id, sentence }, 'batch not applied');
  }
}

/** What PostgreSQL refuses because of the data, in a sentence; anything else is a fault of ours or of the machine, and is tried again. */
function constraintSentence(error: unknown): string | null {
  const { code, detail } = error as { code?: string; detail?: string };
  if (code === '23505') return `Two posts would have the same web address (${/\(([^)]*)\)=\(\d+, ([^)]*)\)/.exec(detail ?? '')?.[2] ?? 'see the preview'}).`;
  if (code?.startsWith('23')) return 'What it changes to is no longer on the blog.';
  return null;
}

/**
 * Makes the lighter pictures that a waiting batch asks for, before anything of it is written: drawing takes long, and posts
 * should not be held meanwhile. Each is kept in the library at once; taken up again after a crash, those are found made.
 */
async function makeLighter(db: Db, id: number): Promise<void> {
  const asked = await db('batch_items as i').join('batches as b', 'b.id', 'i.batch_id').where({ 'b.id': id, 'b.state': 'waiting', 'i.state': 'changes' }).whereRaw(`i.after->'lead' \\? 'lighten'`)
    .groupBy('b.blog_id', 'b.person_id', 'media', 'most').orderBy('media')
    .select<{ blogId: number; personId: number; media: number; most: number; title: string }[]>('b.blog_id as blogId', 'b.person_id as personId', db.raw(`(i.after->'lead'->>'lighten')::int as media`), db.raw(`(i.after->'lead'->>'most')::int as most`), db.raw('(select title from all_posts p where p.id = min(i.post_id)) as title'));
  const faults: string[] = [];
  for (const { blogId, personId, media, most, title } of asked) {
    try {
      await db.transaction(async (trx) => {
        const made = await keepLighter(trx, { blogId, id: personId }, media, most);
        await trx.raw(`update batch_items set after = jsonb_set(after, '{lead}', ?::jsonb) where batch_id = ? and state = 'changes' and after->'lead' @> ?::jsonb`, [JSON.stringify({ media: made.id, bytes: made.size }), id, JSON.stringify({ lighten: media, most })]);
      });
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      faults.push(`“${title}”`);
    }
  }
  if (faults.length > 0) throw new Unfit(`${sayCount(faults.length, 'lead picture')} cannot be made so light and still be looked at: that of ${faults.slice(0, 3).join(', ')}${faults.length > 3 ? ' and others' : ''}. Leave them out, or ask for a little more.`);
}

async function apply(db: Db, trx: Trx, id: number): Promise<void> {
  const { rows: [lock] } = await trx.raw<{ rows: { free: boolean }[] }>('select pg_try_advisory_xact_lock(4312, ?) as free', [id]);
  const batch = lock!.free && (await trx('batches').where({ id, state: 'waiting' }).first<{ blog_id: number; person_id: number; changes: BatchChange[] } | undefined>('blog_id', 'person_id', 'changes'));
  if (!batch) return;
  await mustStandAsPreviewed(trx, batch.blog_id, id);
  const note = batch.changes.find((c) => c.kind === 'stage')?.note ?? '';
  const { rows: [span] } = await trx.raw<{ rows: { last: number; total: number; fields: BatchField[] }[] }>(`select max(at) as last, count(*)::int as total, array(select distinct k from batch_items i, jsonb_object_keys(i.after) k where i.batch_id = ? and i.state = 'changes') as fields from batch_items where batch_id = ? and state = 'changes'`, [id, id]);
  const { last, total, fields } = span!;
  let done = 0;
  for (let from = 0; from <= last; from += CHUNK) {
    done += await writeChunk(trx, { id, blogId: batch.blog_id, personId: batch.person_id, fields, note }, from, from + CHUNK);
    // Told on another connection, since this one's words are heard only at the end.
    if (total > CHUNK) await db('batches').where({ id, state: 'waiting' }).update({ done });
  }
  if (done !== total) throw new Unfit(`${sayCount(total - done, 'post')} could not be written.`);
  await sideEffects(trx, id, batch.blog_id, fields);
  await trx('batches').where({ id }).update({ state: 'applied', applied_at: trx.raw('clock_timestamp()'), changed: total, done: total, fault: '' });
  await tell(trx, { blogId: batch.blog_id, kind: 'batch', personId: batch.person_id });
  log.info({ batch: id, posts: total }, 'batch applied');
}

/** Holds the posts. Those that were written since the preview are looked at again: only what the batch changes must be as it was. */
async function mustStandAsPreviewed(trx: Trx, blogId: number, id: number): Promise<void> {
  // In the order of their ids, so that two batches over the same posts wait for each other and never for ever.
  await trx.raw(`select p.id from all_posts p join batch_items i on i.post_id = p.id where i.batch_id = ? and i.state = 'changes' order by p.id for update of p`, [id]);
  const { rows: moved } = await trx.raw<{ rows: { id: number }[] }>(`select i.post_id as id from batch_items i left join all_posts p on p.id = i.post_id where i.batch_id = ? and i.state = 'changes' and p.version is distinct from i.version`, [id]);
  if (moved.length === 0) return;
  const differ: string[] = [];
  for (let at = 0; at < moved.length; at += TEXT_CHUNK) {
    const ids = moved.slice(at, at + TEXT_CHUNK).map((m) => m.id);
    const items = await trx('batch_items').where({ batch_id: id }).whereIn('post_id', ids).select<({ post_id: number } & BatchItem)[]>('post_id', 'before', 'after');
    const posts = new Map((await seePosts(trx, blogId, ids, { text: items.some((i) => i.after.body !== undefined), tags: true, people: true, lead: true })).map((p) => [p.id, p]));
    for (const item of items) {
      const post = posts.get(item.post_id);
      if (!post) differ.push('one that was erased');
      else if (post.fields.binned && item.before.binned === undefined) differ.push(`“${post.fields.title}”, which lies in the bin now`);
      else if ((Object.keys(item.after) as BatchField[]).some((f) => !sameValue(post.fields[f], item.before[f]))) differ.push(`“${post.fields.title}”`);
      else await trx('batch_items').where({ batch_id: id, post_id: post.id }).update({ version: post.version });
    }
  }
  if (differ.length > 0) throw new Unfit(`${sayCount(differ.length, 'post')} changed since the preview: ${differ.slice(0, 3).join(', ')}${differ.length > 3 ? ' and others' : ''}. Preview it again.`);
}

interface Writing { id: number; blogId: number; personId: number; fields: readonly BatchField[]; note: string }

async function writeChunk(trx: Trx, { id, blogId, personId, fields, note }: Writing, from: number, to: number): Promise<number> {
  const items = `batch_items i where i.batch_id = ${Number(id)} and i.state = 'changes' and i.at >= ${Number(from)} and i.at < ${Number(to)}`;
  if (fields.includes('address')) await trx.raw(`insert into old_addresses (blog_id, address, post_id) select p.blog_id, p.address, p.id from all_posts p, ${items} and p.id = i.post_id and i.after \\? 'address' and p.address is not null and p.released_at is not null on conflict (blog_id, address) do nothing`);
  if (fields.includes('body')) await writeTexts(trx, id, from, to);
  const sets = fields.filter((f): f is keyof typeof WRITES => f !== 'tagIds' && f !== 'body').flatMap((field) => WRITES[field].map((write) => {
    const [column, value] = [write.slice(0, write.indexOf(' = ')), write.slice(write.indexOf(' = ') + 3)];
    return `${column} = case when i.after \\? '${field}' then ${value} else p.${column} end`;
  }));
  const { rowCount } = await trx.raw<{ rowCount: number }>(`
    update all_posts p set ${[...sets, 'version = p.version + 1', 'updated_at = clock_timestamp()', `measured_version = case when i.after \\?| array[${MEASURED.map((f) => `'${f}'`).join(',')}] then null else p.measured_version end`].join(', ')}
    from ${items} and p.id = i.post_id and p.version = i.version`, fields.includes('binned') ? [personId] : []);
  if (fields.includes('lead')) {
    await trx.raw(`delete from media_uses u using ${items} and u.post_id = i.post_id and u.how = 'lead' and i.after \\? 'lead'`);
    await trx.raw(`insert into media_uses (blog_id, post_id, media_id, how) select p.blog_id, p.id, p.lead_media_id, 'lead' from all_posts p, ${items} and p.id = i.post_id and i.after \\? 'lead' and p.lead_media_id is not null on conflict do nothing`);
  }
  if (fields.includes('tagIds')) {
    await trx.raw(`delete from post_tags t using ${items} and t.post_id = i.post_id and i.after \\? 'tagIds' and not (i.after->'tagIds' @> to_jsonb(t.tag_id))`);
    await trx.raw(`insert into post_tags (blog_id, post_id, tag_id) select ?, i.post_id, tag::int from batch_items i, jsonb_array_elements_text(i.after->'tagIds') tag where ${items.slice(items.indexOf('i.batch_id'))} and i.after \\? 'tagIds' on conflict do nothing`, [blogId]);
  }
  await trx.raw(`
    insert into post_versions (blog_id, post_id, version, person_id, changed, fields, body)
    select p.blog_id, p.id, p.version, ?, array(select n.name from jsonb_object_keys(i.after) k join (values ${Object.entries(CHANGED).flatMap(([field, names]) => names.map((name) => `('${field}','${name}')`)).join(',')}) n(field, name) on n.field = k),
      (select to_jsonb(f) from (select ${POST_FIELDS.map((f) => `p.${f}`).join(', ')}, array(select person_id from post_coauthors c where c.post_id = p.id order by 1) as coauthor_ids, array(select tag_id from post_tags t where t.post_id = p.id order by 1) as tag_ids) f),
      case when i.after \\? 'body' then p.body end
    from all_posts p, ${items} and p.id = i.post_id`, [personId]);
  if (fields.includes('stage')) {
    await trx.raw(`insert into stage_moves (blog_id, post_id, from_stage, to_stage, person_id, note) select ?, i.post_id, i.before->>'stage', i.after->>'stage', ?, ? from ${items} and i.after \\? 'stage'`, [blogId, personId, note]);
    if (note) await trx.raw(`insert into notes (blog_id, post_id, person_id, text) select ?, i.post_id, ?, ? from ${items} and i.after->>'stage' = 'drafting'`, [blogId, personId, note]);
  }
  return rowCount;
}

/** Texts are written one by one, each checked as any text is: their words are counted here, not in the database. */
async function writeTexts(trx: Trx, id: number, from: number, to: number): Promise<void> {
  for (let at = from; at < to; at += TEXT_CHUNK) {
    const items = await trx('batch_items').where({ batch_id: id, state: 'changes' }).where('at', '>=', at).where('at', '<', Math.min(to, at + TEXT_CHUNK)).whereRaw(`after \\? 'body'`).select<{ post_id: number; body: BodyNode; title: string }[]>('post_id', trx.raw(`after->'body' as body`));
    for (const { post_id, body } of items) {
      const answer = checkBody(body);
      if (!answer.ok) throw new Unfit(`One text would not be sound: ${answer.sentence}`);
      const text = bodyText(answer.body);
      await trx('all_posts').where({ id: post_id }).update({ body: JSON.stringify(answer.body), body_text: text, words: countWords(text) });
    }
  }
}

/** What follows from the items, once: releases that are due at another time or not at all, checks to be made again. */
async function sideEffects(trx: Trx, id: number, blogId: number, fields: readonly BatchField[]): Promise<void> {
  if (fields.some((f) => f === 'stage' || f === 'run' || f === 'binned')) {
    const touched = `from all_posts p join batch_items i on i.post_id = p.id where i.batch_id = ? and i.state = 'changes' and i.after \\?| array['stage','run','binned']`;
    await trx.raw(`select graphile_worker.remove_job('release:' || p.id) ${touched} and (p.stage <> 'scheduled' or p.binned_at is not null)`, [id]);
    await trx.raw(`select graphile_worker.add_job('release', payload => json_build_object('postId', p.id), run_at => p.run_at, max_attempts => 25, job_key => 'release:' || p.id, priority => 0) ${touched} and p.stage = 'scheduled' and p.binned_at is null`, [id]);
    await followReleases(trx, await trx('batch_items').where({ batch_id: id, state: 'changes' }).whereRaw(`after \\?| array['stage','run','binned']`).whereExists((q) => q.from('pieces').whereRaw('pieces.post_id = batch_items.post_id')).pluck<number[]>('post_id'));
  }
  if (fields.some((f) => MEASURED.includes(f))) await planRemeasuring(trx, blogId);
}

/** Batches that wait and that nobody is at, after a process was killed, find a worker again. */
export async function planWaiting(db: Db): Promise<void> {
  const waiting = await db('batches').where({ state: 'waiting' }).whereRaw(`made_at < now() - interval '20 seconds'`).orderBy('id').pluck<number[]>('id');
  for (const id of waiting) {
    const { rows: [held] } = await db.raw<{ rows: { held: boolean }[] }>(`select exists (select 1 from pg_locks where locktype = 'advisory' and classid = 4312 and objid = ?) as held`, [id]);
    if (!held!.held) await db.transaction((trx) => planBatch(trx, id));
  }
}
