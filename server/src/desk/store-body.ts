import { bodyText, checkBody, countWords, fileIds, may, pictureIds } from '@keyroster/core';
import type { BodyStored } from '@keyroster/contract';
import type { CurrentPerson } from '../accounts/who.js';
import type { Trx } from '../db/connect.js';
import { ProblemError, notYours } from '../http/problem.js';
import { mustBeCurrent } from '../posts/change.js';
import { movePost } from '../posts/move.js';
import { factsOf, lockPost, type WholePostRow } from '../posts/store.js';
import { writePost } from '../posts/write-post.js';

/**
 * The one door to a post's text: typing, bringing in, and whatever changes texts later all come through here.
 * The first text that a writer stores on a commissioned post starts the draft. The caller holds the row's lock.
 * Returns what stands afterwards.
 */
export async function storeBody(trx: Trx, row: WholePostRow, person: CurrentPerson, body: unknown, version: number | null): Promise<BodyStored> {
  if (!may(person, 'write', factsOf(row))) {
    throw row.stage === 'in review' ? new ProblemError('not-yours', 'This post is in review. Its text is the editor’s until changes are asked for.') : notYours('Changing the text of this post');
  }
  await mustBeCurrent(trx, row, version);
  const answer = checkBody(body);
  if (!answer.ok) throw new ProblemError('bad-text', answer.sentence);
  const pictures = pictureIds(answer.body);
  const known = new Set(await trx('media').where({ blog_id: row.blog_id }).whereIn('id', pictures.filter((id) => id < 2 ** 31)).pluck<number[]>('id'));
  if (pictures.some((id) => !known.has(id))) throw new ProblemError('bad-text', 'The text holds a picture that is not in this blog’s library.');
  const files = fileIds(answer.body);
  const kept = new Set(files.length === 0 ? [] : await trx('files').where({ blog_id: row.blog_id }).whereIn('id', files.filter((id) => id < 2 ** 31)).pluck<number[]>('id'));
  if (files.some((id) => !kept.has(id))) throw new ProblemError('bad-text', 'The text holds a video or captions that are not in this blog’s library.');
  if (JSON.stringify(answer.body) === JSON.stringify(row.body)) return { version: row.version, words: row.words, stage: row.stage };

  const text = bodyText(answer.body);
  const words = countWords(text);
  // What readers have, or will have without another look, is never emptied by a slip.
  if (words === 0 && row.words > 0 && (row.stage === 'scheduled' || row.stage === 'published')) throw new ProblemError('demands', `A ${row.stage} post keeps its text. ${row.stage === 'scheduled' ? 'Take it back' : 'Withdraw it'} first to empty it.`);
  const stored = await writePost(trx, row, { body: { json: answer.body, text, words } }, person.id);
  if (row.stage === 'commissioned' && row.byline_id === person.id && words > 0) {
    const again = (await lockPost(trx, row.blog_id, row.id))!;
    return { version: (await movePost(trx, again, person, { to: 'drafting' })).version, words, stage: 'drafting' };
  }
  return { version: stored, words, stage: row.stage };
}
