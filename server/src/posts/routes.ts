import type { MoveDone, ReleaseLogEntry } from '@keyroster/contract';
import { wallTimeOf } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { prepared, type Handlers } from '../http/handlers.js';
import { capture } from './capture.js';
import { changePost, mustBeCurrent, zoneOf } from './change.js';
import { listPosts } from './list.js';
import { movePost } from './move.js';
import { openPost } from './open-posts.js';
import { pitch } from './pitch.js';
import { noteRead } from './read-versions.js';
import { LATE_MS } from './release.js';
import { databaseNow } from '../db/now.js';
import { findPost } from './store.js';
import { detailsOf, viewOf } from './view.js';
import { visiblePost, visiblePostToChange } from './visible.js';

async function done(trx: Trx, person: CurrentPerson, id: number, sentence: string): Promise<MoveDone> {
  const row = (await findPost(trx, person.blogId, id))!;
  return { post: await detailsOf(trx, row, person, await databaseNow(trx)), sentence };
}

export const postHandlers: Handlers = {
  'posts.list': async ({ trx, person, query }) =>
    listPosts(trx, person, query, wallTimeOf(await databaseNow(trx), await zoneOf(trx, person.blogId))),
  'posts.pitch': async ({ trx, person, body: { runAt, ...body } }) => {
    let row = await pitch(trx, person, body);
    if (runAt !== undefined) {
      await movePost(trx, row, person, { to: 'commissioned', runAt });
      row = (await findPost(trx, person.blogId, row.id))!;
    }
    return viewOf(trx, row, person, await databaseNow(trx));
  },
  'posts.see': async ({ trx, person, id, res }) => {
    const row = await visiblePost(trx, person, id);
    res.set('ETag', `"${row.version}"`);
    return viewOf(trx, row, person, await databaseNow(trx));
  },
  'posts.change': async ({ trx, person, id, body, ifMatch, res }) => {
    const row = await visiblePostToChange(trx, person, id);
    await mustBeCurrent(trx, row, ifMatch);
    const reply = await done(trx, person, id, (await changePost(trx, row, person, body)).sentence);
    res.set('ETag', `"${reply.post.version}"`);
    return reply;
  },
  // What is typed until now moves along.
  'posts.move': prepared(
    ({ services, id }) => services.texts.settle(id),
    async ({ trx, person, id, body, ifMatch, res }) => {
      const row = await visiblePostToChange(trx, person, id);
      await mustBeCurrent(trx, row, ifMatch);
      const { sentence } = await movePost(trx, row, person, body);
      const reply = await done(trx, person, id, sentence);
      res.set('ETag', `"${reply.post.version}"`);
      return reply;
    },
  ),
  'posts.capture': ({ trx, person, body }) => capture(trx, person, body),
  'posts.open': async ({ trx, person, id }) => {
    await noteRead(trx, person, await visiblePost(trx, person, id));
    await openPost(trx, id, person.id);
    return null;
  },
  'releaseLog.list': async ({ trx, person }) => {
    const rows = await trx('release_log as r')
      .join('all_posts as p', 'p.id', 'r.post_id')
      .where('r.blog_id', person.blogId)
      .orderBy('r.released_at', 'desc')
      .orderBy('r.id', 'desc')
      .limit(200)
      .select<Omit<ReleaseLogEntry, 'late'>[]>(
        'r.id',
        'r.post_id as postId',
        'p.title',
        'p.slug',
        'r.planned_local as plannedLocal',
        'r.planned_at as plannedAt',
        'r.released_at as releasedAt',
        'r.backdated',
        trx.raw(
          `
            case
              when r.check_blocks is not null then json_build_object('blocks', r.check_blocks, 'warns', r.check_warns)
            end as checks
          `,
        ),
        trx.raw(`round(extract(epoch from r.released_at - r.due_at) * 1000)::int as lateness`),
      );
    return rows.map((row) => ({ ...row, late: row.lateness > LATE_MS }));
  },
};
