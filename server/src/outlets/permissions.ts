import { isDesk, isWriter } from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { notFound, notYours } from '../http/problem.js';
import { asReadersSee } from '../posts/readers-version.js';
import { factsOf, findPost, type WholePostRow } from '../posts/store.js';

/** Pieces are approved and sent by the desk of their post. Gives the post, or throws a sentence. */
export async function mustSend(db: Reader, person: CurrentPerson, postId: number): Promise<WholePostRow> {
  const post = await findPost(db, person.blogId, postId);
  if (!post) throw notFound('That post');
  if (!isDesk(person, factsOf(post))) throw notYours('Sending pieces of this post');
  return asReadersSee(db, post);
}

/** They are made by its writers too. */
export const mayMake = (person: CurrentPerson, row: WholePostRow) =>
  isDesk(person, factsOf(row)) ||
  (person.role !== 'reader' && person.role !== 'proofreader' && isWriter(person, factsOf(row)));
