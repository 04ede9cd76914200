import { deskText, fileIds, pictureIds, type Post } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import type { EffectOn, Written } from '../posts/effects.js';

/** Keeps which pictures and files posts use, and how; a text is looked through only where it changed. */
export async function storeUses(trx: Trx, effects: readonly EffectOn<'pictures'>[]): Promise<void> {
  const written = effects.map(({ on }) => on);
  const changed = (what: 'text' | 'leadPicture' | 'sharePicture') =>
    written.filter((w) =>
      what === 'text'
        ? w.changed.includes('body') || w.changed.includes('suggested')
        : w.changed.includes(what),
    );
  const lead = (post: Post) => (post.leadPicture === null ? [] : [post.leadPicture.media]);
  const share = (post: Post) => (post.sharePicture === null ? [] : [post.sharePicture]);
  await replaceUses(trx, changed('leadPicture'), 'lead', lead);
  await replaceUses(trx, changed('sharePicture'), 'share', share);
  await replaceUses(trx, changed('text'), 'text', (post) => pictureIds(deskText(post)!));
  await replaceFiles(trx, changed('text'));
}

async function replaceUses(
  trx: Trx,
  written: readonly Written[],
  how: 'lead' | 'share' | 'text',
  idsOf: (post: Post) => readonly number[],
): Promise<void> {
  if (written.length === 0) return;
  await trx('media_uses')
    .where({ how })
    .whereRaw('post_id = any(?)', [written.map((w) => w.after.id)])
    .delete();
  const uses = written.flatMap((w) =>
    idsOf(w.after).map((media_id) => ({ blog_id: w.blogId, post_id: w.after.id, media_id, how })),
  );
  if (uses.length > 0) await trx.batchInsert('media_uses', uses);
}

async function replaceFiles(trx: Trx, written: readonly Written[]): Promise<void> {
  if (written.length === 0) return;
  await trx('file_uses')
    .whereRaw('post_id = any(?)', [written.map((w) => w.after.id)])
    .delete();
  const files = written.flatMap((w) =>
    fileIds(deskText(w.after)!).map((file_id) => ({ blog_id: w.blogId, post_id: w.after.id, file_id })),
  );
  if (files.length > 0) await trx.batchInsert('file_uses', files);
}
