import type { BinDone } from '@keyroster/contract';
import { formatCount, formatList } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Db, Queryable, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { ProblemError } from '../http/problem.js';
import { log } from '../log.js';
import { emit } from '../live/live.js';
import { editPosts } from '../posts/edit.js';

/** Posts that are restored in one go. */
const CHUNK = 1000;

interface Binned {
  id: number;
  title: string;
}

async function binned(db: Queryable, blogId: number, ids: readonly number[]): Promise<Binned[]> {
  const rows = await db('all_posts')
    .where({ blog_id: blogId })
    .whereRaw('id = any(?)', [[...ids]])
    .whereNotNull('binned_at')
    .orderBy('id')
    .select<Binned[]>('id', 'title');
  if (rows.length === 0) throw new ProblemError('invalid', 'None of these posts lies in the bin.');
  return rows;
}

/** Takes posts out of the bin. They come back as drafts without a run time, whatever they were. */
export async function restorePosts(
  trx: Trx,
  person: CurrentPerson,
  ids: readonly number[],
): Promise<BinDone> {
  const rows = await binned(trx, person.blogId, ids);
  const all = rows.map((r) => r.id);
  for (let at = 0; at < all.length; at += CHUNK)
    await editPosts(trx, person.blogId, person, all.slice(at, at + CHUNK), () => [{ kind: 'restore' }]);
  return {
    posts: rows.length,
    sentence:
      rows.length === 1
        ? `“${rows[0]!.title}” is back, as a draft.`
        : `${formatCount(rows.length, 'post')} are back, as drafts.`,
  };
}

/** What is erased with the posts, in a sentence. */
export async function weighErasing(
  db: Queryable,
  person: CurrentPerson,
  ids: readonly number[],
): Promise<BinDone> {
  const rows = await binned(db, person.blogId, ids);
  const many = rows.map((r) => r.id);
  const count = async (table: string) =>
    Number(
      (
        await db(table).whereRaw('post_id = any(?)', [many]).count<{ count: string }[]>('post_id as count')
      )[0]!.count,
    );
  const [versions, notes, trials, slugs, reads] = [
    await count('post_versions'),
    await count('notes'),
    await count('title_trials'),
    (await count('old_slugs')) + (await count('moved_away')),
    await count('release_log'),
  ];
  const along = [
    formatCount(versions, 'version'),
    notes > 0 ? formatCount(notes, 'note') : '',
    trials > 0 ? formatCount(trials, 'title trial') : '',
    slugs > 0
      ? `${formatCount(slugs, 'former address', 'former addresses')} that led to ` +
        `${rows.length === 1 ? 'it' : 'them'}`
      : '',
    reads > 0 ? formatCount(reads, 'line', 'lines') + ' of the release log' : '',
  ].filter(Boolean);
  return {
    posts: rows.length,
    sentence:
      `${rows.length === 1 ? `“${rows[0]!.title}” is` : `${formatCount(rows.length, 'post')} are`} ` +
      `erased permanently, with ${formatList(along)}. Pictures stay in the library. This cannot be ` +
      'undone.',
  };
}

/** Erases binned posts permanently. */
export async function erasePosts(trx: Trx, person: CurrentPerson, ids: readonly number[]): Promise<BinDone> {
  const rows = await binned(trx, person.blogId, ids);
  await erase(
    trx,
    rows.map((r) => r.id),
  );
  await emit(trx, { blogId: person.blogId, kind: 'batch', personId: person.id });
  return {
    posts: rows.length,
    sentence:
      rows.length === 1
        ? `“${rows[0]!.title}” is erased.`
        : `${formatCount(rows.length, 'post')} are erased.`,
  };
}

async function erase(trx: Trx, ids: readonly number[]): Promise<void> {
  await trx('all_posts')
    .whereRaw('alike_id = any(?)', [[...ids]])
    .update({ alike_id: null, alike_share: null });
  await trx('release_log')
    .whereRaw('post_id = any(?)', [[...ids]])
    .delete();
  await trx('all_posts')
    .whereRaw('id = any(?)', [[...ids]])
    .delete();
}

/** Empties the bins of blogs that want it, of what has lain there long enough. */
export async function emptyBins(db: Db): Promise<void> {
  await inTransaction(db, async (trx) => {
    const ids = await trx('all_posts as p')
      .join('blogs as b', 'b.id', 'p.blog_id')
      .whereNotNull('b.bin_days')
      .whereRaw(`p.binned_at < now() - b.bin_days * interval '1 day'`)
      .orderBy('p.id')
      .limit(5000)
      .pluck<number[]>('p.id');
    if (ids.length === 0) return;
    await erase(trx, ids);
    log.info({ posts: ids.length }, 'bins emptied');
  });
}
