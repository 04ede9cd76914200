import type { MoveDone } from '@keyroster/contract';
import type { Response } from 'express';
import { may } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import { databaseNow } from '../db/now.js';
import type { CurrentPerson } from '../http/current-person.js';
import { prepared, type Handlers } from '../http/handlers.js';
import { notYours } from '../http/problem.js';
import { mustBeCurrent } from '../posts/change.js';
import type { Done } from '../posts/edit.js';
import { factsOf, findPost, type WholePostRow } from '../posts/store.js';
import { detailsOf } from '../posts/view.js';
import { visiblePost, visiblePostToChange } from '../posts/visible.js';
import { restoreVersion } from './restore.js';
import { seeUpdate, updatePost } from './update.js';
import { compareVersions, listVersions, markImported, nameVersion } from './versions.js';

async function withHistory(trx: Trx, person: CurrentPerson, id: number): Promise<WholePostRow> {
  const post = await visiblePost(trx, person, id);
  if (!may(person, 'history', factsOf(post))) throw notYours('Reading earlier versions of this post');
  return post;
}

/** What is not published yet is for those who may publish it. */
async function updatable(trx: Trx, person: CurrentPerson, id: number): Promise<WholePostRow> {
  const post = await visiblePost(trx, person, id);
  if (post.stage === 'published' && !may(person, 'update', factsOf(post)))
    throw notYours('Updating this post');
  return post;
}

async function changed(
  trx: Trx,
  person: CurrentPerson,
  { id, sentence }: Done,
  res: Response,
): Promise<MoveDone> {
  const now = (await findPost(trx, person.blogId, id))!;
  res.set('ETag', `"${now.version}"`);
  return { post: await detailsOf(trx, now, person, await databaseNow(trx)), sentence };
}

export const versionHandlers: Handlers = {
  'versions.list': async ({ trx, person, id, query }) =>
    listVersions(trx, person, await withHistory(trx, person, id), query),
  'versions.compare': async ({ trx, person, id, query }) =>
    compareVersions(trx, await withHistory(trx, person, id), query.from, query.to),
  'versions.name': async ({ trx, person, id, body }) => {
    const post = await visiblePostToChange(trx, person, id);
    return nameVersion(trx, post, may(person, 'write', factsOf(post)), body);
  },
  'versions.imported': prepared(
    ({ services, id }) => services.texts.settle(id),
    async ({ trx, person, id, body }) => {
      const post = await visiblePostToChange(trx, person, id);
      if (!may(person, 'write', factsOf(post))) throw notYours('Importing into this post');
      await markImported(trx, post.id, person.id, body.file);
      return null;
    },
  ),
  'versions.pending': prepared(
    ({ services, id }) => services.texts.settle(id),
    async ({ trx, person, id }) => seeUpdate(trx, person, await updatable(trx, person, id)),
  ),
  'versions.update': prepared(
    ({ services, id }) => services.texts.settle(id),
    async ({ trx, person, id, ifMatch, res }) => {
      const row = await visiblePostToChange(trx, person, id);
      await mustBeCurrent(trx, row, ifMatch);
      return changed(trx, person, await updatePost(trx, row, person), res);
    },
  ),
  // What is typed until now is a version of its own, before another takes its place.
  'versions.restore': prepared(
    ({ services, id }) => services.texts.settle(id),
    async ({ trx, person, id, body, ifMatch, res }) => {
      const row = await visiblePostToChange(trx, person, id);
      await mustBeCurrent(trx, row, ifMatch);
      return changed(trx, person, await restoreVersion(trx, row, person, body), res);
    },
  ),
};
