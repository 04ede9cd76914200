import { seesEverything } from '@keyroster/core';
import { restorePosts } from '../archive/bin.js';
import type { CurrentPerson } from '../http/current-person.js';
import { notFound } from '../http/problem.js';
import type { Services } from '../http/services.js';
import { editPosts } from '../posts/edit.js';
import { visiblePostToChange } from '../posts/visible.js';
import { postAt } from './post-at.js';
import { inTransaction } from '../db/write.js';

/** Puts a post in the bin, where it can be taken out again. */
export async function binPost(
  { db, settings, texts }: Services,
  person: CurrentPerson,
  url: string,
): Promise<void> {
  const found = await postAt(db, person.blogId, settings.publicUrl, url);
  if (!found || found.binned) throw notFound('That post');
  await texts.settle(found.id);
  await inTransaction(db, async (trx) => {
    await visiblePostToChange(trx, person, found.id);
    await editPosts(trx, person.blogId, person, [found.id], () => [{ kind: 'bin' }]);
  });
}

/** Takes a post out of the bin, as a draft. */
export async function unbinPost(
  { db, settings }: Services,
  person: CurrentPerson,
  url: string,
): Promise<void> {
  const found = await postAt(db, person.blogId, settings.publicUrl, url);
  if (!found?.binned || !seesEverything(person.role)) throw notFound('That post');
  await inTransaction(db, (trx) => restorePosts(trx, person, [found.id]));
}
