import type { BinDone } from '@keyroster/contract';
import { isDesk, sayCount, type Stage } from '@keyroster/core';
import type { CurrentPerson } from '../accounts/who.js';
import type { Db, Reader, Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { log } from '../log.js';
import { tell } from '../live/live.js';
import { lockPost } from '../posts/store.js';
import { writePost } from '../posts/write-post.js';

interface Binned { id: number; title: string; category_id: number | null; stage: Stage }

async function binned(db: Reader, blogId: number, ids: readonly number[]): Promise<Binned[]> {
  const rows = await db('all_posts').where({ blog_id: blogId }).whereIn('id', [...ids]).whereNotNull('binned_at').orderBy('id').select<Binned[]>('id', 'title', 'category_id', 'stage');
  if (rows.length === 0) throw new ProblemError('invalid', 'None of these posts lies in the bin.');
  return rows;
}

/** Takes posts out of the bin. They come back as drafts without a run time, whatever they were. */
export async function restorePosts(trx: Trx, person: CurrentPerson, ids: readonly number[]): Promise<BinDone> {
  const rows = await binned(trx, person.blogId, ids);
  const foreign = rows.find((r) => !isDesk(person, { categoryId: r.category_id }));
  if (foreign) throw new ProblemError('not-yours', `“${foreign.title}” is in no category that you edit.`);
  for (const { id, stage } of rows) {
    await trx('all_posts').where({ id }).update({ binned_at: null, binned_by: null });
    const row = (await lockPost(trx, person.blogId, id))!;
    await writePost(trx, row, { fields: { stage: 'drafting', stage_since: new Date().toISOString(), run_local: null, run_zone: null, run_at: null, scheduled_at: null } }, person.id);
    if (stage !== 'drafting') await trx('stage_moves').insert({ blog_id: person.blogId, post_id: id, from_stage: stage, to_stage: 'drafting', person_id: person.id, note: 'Out of the bin.' });
  }
  return { posts: rows.length, sentence: rows.length === 1 ? `“${rows[0]!.title}” is back, as a draft.` : `${sayCount(rows.length, 'post')} are back, as drafts.` };
}

/** What erasing takes along, in a sentence. */
export async function weighErasing(db: Reader, person: CurrentPerson, ids: readonly number[]): Promise<BinDone> {
  const rows = await binned(db, person.blogId, ids);
  const many = rows.map((r) => r.id);
  const count = async (table: string) => Number((await db(table).whereIn('post_id', many).count<{ count: string }[]>('post_id as count'))[0]!.count);
  const [versions, notes, trials, addresses, reads] = [await count('post_versions'), await count('notes'), await count('title_trials'), await count('old_addresses'), await count('release_log')];
  const along = [sayCount(versions, 'version'), notes > 0 ? sayCount(notes, 'note') : '', trials > 0 ? sayCount(trials, 'title trial') : '', addresses > 0 ? `${sayCount(addresses, 'former address', 'former addresses')} that led to ${rows.length === 1 ? 'it' : 'them'}` : '', reads > 0 ? sayCount(reads, 'line', 'lines') + ' of the release log' : ''].filter(Boolean);
  return { posts: rows.length, sentence: `${rows.length === 1 ? `“${rows[0]!.title}” goes` : `${sayCount(rows.length, 'post')} go`} for good, with ${along.length > 1 ? `${along.slice(0, -1).join(', ')} and ${along.at(-1)}` : along[0]}. Pictures stay in the library. This cannot be undone.` };
}

/** Erases binned posts for good. */
export async function erasePosts(trx: Trx, person: CurrentPerson, ids: readonly number[]): Promise<BinDone> {
  const rows = await binned(trx, person.blogId, ids);
  await erase(trx, rows.map((r) => r.id));
  await tell(trx, { blogId: person.blogId, kind: 'batch', personId: person.id });
  return { posts: rows.length, sentence: rows.length === 1 ? `“${rows[0]!.title}” is erased.` : `${sayCount(rows.length, 'post')} are erased.` };
}

async function erase(trx: Trx, ids: readonly number[]): Promise<void> {
  await trx('all_posts').whereIn('alike_id', [...ids]).update({ alike_id: null, alike_share: null });
  await trx('release_log').whereIn('post_id', [...ids]).delete();
  await trx('all_posts').whereIn('id', [...ids]).delete();
}

/** Empties the bins of blogs that want it, of what has lain there long enough. */
export async function emptyBins(db: Db): Promise<void> {
  await db.transaction(async (trx) => {
    const ids = await trx('all_posts as p').join('blogs as b', 'b.id', 'p.blog_id').whereNotNull('b.bin_days').whereRaw(`p.binned_at < now() - b.bin_days * interval '1 day'`).orderBy('p.id').limit(5000).pluck<number[]>('p.id');
    if (ids.length === 0) return;
    await erase(trx, ids);
    log.info({ posts: ids.length }, 'bins emptied');
  });
}
