import { MAX_SUBJECT } from '@keyroster/core';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { planLetter } from '../jobs/queue.js';
import type { EffectOn } from '../posts/effects.js';
import { readable } from '../access/readable.js';
import type { Settings } from '../settings.js';
import { buildLetter } from './build.js';
import { beginSending, notifyLetter } from './letters.js';
import { postIdsOf, type LetterRow } from './store.js';

/**
 * A post that mails itself is a letter to all subscribers as it is released, in the same transaction: once, also when
 * it is withdrawn and comes again.
 */
export async function mailReleases(trx: Trx, effects: readonly EffectOn<'released'>[]): Promise<void> {
  for (const { on } of effects) {
    if (!on.after.mailAtRelease) continue;
    const [row] = await trx('letters')
      .insert({
        blog_id: on.blogId,
        subject: on.after.title.slice(0, MAX_SUBJECT),
        state: 'sending',
        whole: true,
        released_post_id: on.after.id,
        made_by: on.personId,
        sent_by: on.personId,
      })
      .onConflict('released_post_id')
      .ignore()
      .returning<{ id: number }[]>('id');
    if (!row) continue;
    await trx('letter_posts').insert({ letter_id: row.id, post_id: on.after.id, position: 0 });
    await planLetter(trx, row.id);
  }
}

/**
 * Builds a letter that a release made. What not everybody may read is mailed to nobody: it waits as a draft and says
 * why. Answers whether it can be delivered.
 */
export async function beginReleased(
  db: Db,
  letterId: number,
  settings: Pick<Settings, 'publicUrl'>,
): Promise<void> {
  await inTransaction(db, async (trx) => {
    const row = await trx('letters')
      .where({ id: letterId, state: 'sending', content: null })
      .forUpdate()
      .first<LetterRow | undefined>();
    if (!row) return;
    const ids = await postIdsOf(trx, letterId);
    const open = await readable(trx, { id: row.blog_id })
      .whereIn('posts.id', ids)
      .pluck<number[]>('posts.id');
    if (open.length < ids.length) {
      await trx('letters').where({ id: letterId }).update({
        state: 'draft',
        note: 'It was to go out at the release, but not everybody may read its post.',
      });
      return notifyLetter(trx, row.blog_id);
    }
    const content = await buildLetter(trx, { ...row, blogId: row.blog_id }, ids, settings);
    await beginSending(trx, row, content, row.made_by);
  });
}
