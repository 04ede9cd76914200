import { formatList, type PostField } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import { readable } from '../access/readable.js';
import type { Written } from '../posts/effects.js';
import { notifyLetter } from './letters.js';

/** What decides whether everybody may read a post. */
const WHO_READS: readonly PostField[] = ['stage', 'access', 'binned'];

/** A letter that is on its way stops with a post of it that not everybody may read any more. */
export async function stopWithdrawn(trx: Trx, written: readonly Written[]): Promise<void> {
  const touched = written.filter((w) => w.changed.some((field) => WHO_READS.includes(field)));
  if (touched.length === 0) return;
  const letters = await trx('letters as l')
    .join('letter_posts as p', 'p.letter_id', 'l.id')
    .where('l.state', 'sending')
    .whereNotNull('l.content')
    .whereIn(
      'p.post_id',
      touched.map((w) => w.after.id),
    )
    .select<{ id: number; blogId: number; postId: number }[]>(
      'l.id',
      'l.blog_id as blogId',
      'p.post_id as postId',
    );
  for (const id of new Set(letters.map((l) => l.id))) {
    const own = letters.filter((l) => l.id === id);
    const { blogId } = own[0]!;
    const ids = own.map((l) => l.postId);
    const open = await readable(trx, { id: blogId }).whereIn('posts.id', ids).pluck<number[]>('posts.id');
    const closed = touched.filter((w) => ids.includes(w.after.id) && !open.includes(w.after.id));
    if (closed.length === 0) continue;
    const titles = formatList(closed.map((w) => `“${w.after.title}”`));
    const note = `Stopped: not everybody may read ${titles} any more.`;
    await trx('letters').where({ id, state: 'sending' }).update({ state: 'stopped', note });
    await notifyLetter(trx, blogId);
  }
}
