import { findPerson } from '../accounts/who.js';
import type { Db } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { ProblemError } from '../http/problem.js';
import { editPost } from '../posts/edit.js';
import { lockPost } from '../posts/store.js';
import { joinedText } from '../work/computing.js';
import { contentsOf, lastIdOf, markStored, readText } from './updates.js';

/** So many updates become one state when they are stored. */
const LONG_TAIL = 60;
/** How often a text is read again, when a change of the post came between. */
const TRIES = 5;

/** What taking a text in did to its post: the version that came of it, and how the post stands with it. */
export interface TakenIn {
  version: number;
  words: number;
  stage: string;
}

export type StoreAnswer =
  { kind: 'stored'; upTo: number; taken: TakenIn | null } | { kind: 'refused'; sentence: string };

/**
 * Has the post take in what was typed into its shared text, through the one way to change a post, as the work of
 * the person who typed last. The text stays where it is when the post refuses it. Where nothing was left to take in, because
 * another process was quicker or what was typed was taken back, nothing is said of the post: its version may be that
 * of a change that has nothing to do with the text, and a page that took the number over would never ask for that
 * change. Null when there is no such text.
 */
export async function storeText(db: Db, postId: number): Promise<StoreAnswer | null> {
  for (let tries = 0; tries < TRIES; tries++) {
    const kept = await readText(db, postId);
    if (!kept) return null;
    const upTo = lastIdOf(kept);
    const last = kept.updates.findLast((u) => !u.fromPost && u.id > kept.storedId);
    if (!last) return { kind: 'stored', upTo, taken: null };
    const { answer, words, state } = await joinedText(contentsOf(kept));
    if (!answer.ok) return { kind: 'refused', sentence: answer.sentence };
    const home = await db('all_posts')
      .where({ id: postId })
      .first<{ blog_id: number } | undefined>('blog_id');
    const person = last.personId === null || !home ? null : await findPerson(db, last.personId, home.blog_id);
    const stored = await inTransaction(db, async (trx): Promise<StoreAnswer | 'overtaken' | null> => {
      const at = await trx('all_posts')
        .where({ id: postId })
        .first<{ blog_id: number } | undefined>('blog_id');
      const row = at && (await lockPost(trx, at.blog_id, postId));
      if (!row) return null;
      const now = await trx('shared_texts')
        .where({ post_id: postId })
        .forUpdate()
        .first<{ stored_id: number } | undefined>('stored_id');
      if (!now) return null;
      // Another process stored it, or more.
      if (now.stored_id >= upTo) return { kind: 'stored', upTo: now.stored_id, taken: null };
      const overtaken = await trx('shared_text_updates')
        .where({ post_id: postId, from_post: true })
        .where('id', '>', upTo)
        .first('id');
      if (overtaken) return 'overtaken';
      const edit = { kind: 'text', body: answer.body, words, shared: true } as const;
      const done = await editPost(trx, row, person ?? 'clock', edit);
      await markStored(trx, postId, upTo, kept.updates.length > LONG_TAIL ? state : null);
      const taken = done.version > row.version ? { version: done.version, words, stage: done.stage } : null;
      return { kind: 'stored', upTo, taken };
    }).catch((error: unknown): StoreAnswer => {
      if (error instanceof ProblemError) return { kind: 'refused', sentence: error.message };
      throw error;
    });
    if (stored !== 'overtaken') return stored;
  }
  return { kind: 'refused', sentence: 'The post is being changed a great deal just now. It is tried again.' };
}
