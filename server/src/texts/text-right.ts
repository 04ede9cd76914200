import { may, type PostFacts } from '@keyroster/core';
import { findPerson } from '../accounts/who.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { factsOf, findPost } from '../posts/store.js';

/** Somebody at the text of a post. */
interface AtText {
  blogId: number;
  postId: number;
  personId: number;
}

/** The person and the post as they are by now; null when one of them is gone. */
async function writerAt(
  db: Queryable,
  { blogId, postId, personId }: AtText,
): Promise<{ person: CurrentPerson; facts: PostFacts } | null> {
  const [person, row] = await Promise.all([findPerson(db, personId, blogId), findPost(db, blogId, postId)]);
  return person && row && { person, facts: factsOf(row) };
}

/** What somebody may do in a text by now; null when nothing, or when there is no such text any more. */
export async function rightOf(db: Queryable, at: AtText): Promise<'write' | 'suggest' | null> {
  const now = await writerAt(db, at);
  if (!now) return null;
  return may(now.person, 'write', now.facts)
    ? 'write'
    : may(now.person, 'suggest', now.facts)
      ? 'suggest'
      : null;
}

/** May somebody see a text by now? */
export async function maySee(db: Queryable, at: AtText): Promise<boolean> {
  const now = await writerAt(db, at);
  return now !== null && may(now.person, 'see', now.facts);
}
