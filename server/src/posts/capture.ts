import type { Captured, NewCapture } from '@keyroster/contract';
import { bodyText, countWords, isDesk, plainToBody } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { changePost } from './change.js';
import { editPost } from './edit.js';
import { movePost } from './move.js';
import { pitch } from './pitch.js';
import { factsOf, findPost, lockPost } from './store.js';

/**
 * Takes in what somebody wrote down, perhaps yesterday and without a connection: a pitch, or with its text what they
 * begin to write. Sent twice, since the answer was lost, it is there once. What the desk begins itself stands in
 * drafting, credited to them; a contributor's is a pitch with a text.
 */
export async function capture(
  trx: Trx,
  person: CurrentPerson,
  { key, title, thought, text, categoryId }: NewCapture,
): Promise<Captured> {
  const fresh = await trx('captures')
    .insert({ person_id: person.id, key, blog_id: person.blogId })
    .onConflict(['person_id', 'key'])
    .ignore()
    .returning('key');
  if (fresh.length === 0) {
    const known = await trx('captures')
      .where({ person_id: person.id, key })
      .first<{ postId: number | null }>('post_id as postId');
    const post = known.postId === null ? null : await findPost(trx, person.blogId, known.postId);
    if (!post) throw new ProblemError('gone', 'That arrived before, and its post is no longer there.');
    return { id: post.id, title: post.title, stage: post.stage };
  }
  const made = await pitch(trx, person, { title, thought, ...(categoryId === null ? {} : { categoryId }) });
  await trx('captures').where({ person_id: person.id, key }).update({ post_id: made.id });
  if (text.trim() !== '') await write(trx, person, made.id, text);
  const post = (await findPost(trx, person.blogId, made.id))!;
  return { id: post.id, title: post.title, stage: post.stage };
}

async function write(trx: Trx, person: CurrentPerson, id: number, text: string): Promise<void> {
  const held = async () => (await lockPost(trx, person.blogId, id))!;
  const begins = isDesk(person, factsOf(await held()));
  if (begins) {
    await changePost(trx, await held(), person, { bylineId: person.id });
    await movePost(trx, await held(), person, { to: 'drafting' });
  }
  const body = plainToBody(text);
  await editPost(trx, await held(), person, { kind: 'text', body, words: countWords(bodyText(body)) });
}
