import { Router, type RequestHandler } from 'express';
import type { PostChanges } from '@keyroster/contract';
import { addDays, roleMay } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { ProblemError } from '../http/problem.js';
import type { Services } from '../http/services.js';
import { refuseOtherSites } from '../http/origin.js';
import { changePost, mustBeCurrent } from '../posts/change.js';
import { movePost } from '../posts/move.js';
import { pitch } from '../posts/pitch.js';
import type { WholePostRow } from '../posts/store.js';
import { versionBefore } from '../posts/version-before.js';
import { visiblePostToChange } from '../posts/visible.js';
import { clockOf } from '../slots/clock.js';
import type { RequesterOf } from './requester.js';
import { framed } from './context.js';
import { atAddress, backPath, contextAt, sendOwn, type Asking } from './forms.js';
import { rootOf, type Places } from './places.js';
import { doneDeedQuery, isStaffDeed, type DoneDeed, type StaffDeed } from './staff-deeds.js';

/** Days that a post is held on top from the blog: today and six more. */
const A_WEEK = 6;

/** What staff do from the blog itself: by the same use cases as in the newsroom, and refused by the same rules. */
export function actPages(
  services: Services & { places: Places },
  requesterOf: RequesterOf,
): RequestHandler[] {
  const { db, settings, places, texts } = services;

  const refuse = async ({ res, place }: Asking, status: number, sentence: string): Promise<void> => {
    const context = await contextAt(services, place);
    const heading = 'That was not done';
    sendOwn(res, framed(context, 'letter', { title: heading, heading, sentence, noindex: true, status }));
  };
  const leadTo = async ({ res, place }: Asking, path: string, done: DoneDeed): Promise<void> => {
    const { blog } = await contextAt(services, place);
    res.set('Cache-Control', 'no-store').redirect(303, `${blog.prefix}${path}${doneDeedQuery(done)}`);
  };
  /** A refusal is a sentence on a page; an unexpected error is passed on. */
  const tried = async (asking: Asking, act: () => Promise<void>): Promise<void> => {
    try {
      await act();
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      await refuse(asking, error.toJSON().status, error.message);
    }
  };
  const asPerson =
    (act: (asking: Asking, person: CurrentPerson) => Promise<void>) =>
    async (asking: Asking): Promise<void> => {
      const person = await requesterOf(asking.req, asking.res, asking.place.id);
      if (!person)
        return refuse(asking, 403, 'You are not signed in to the newsroom any more, or not of this blog.');
      await tried(asking, () => act(asking, person));
    };

  const act = asPerson(async (asking, person) => {
    const { field } = asking;
    const deed = field('do');
    const [id, version] = [field('post'), field('version')].map((n) => (/^\d{1,9}$/.test(n) ? Number(n) : 0));
    if (!isStaffDeed(deed) || !id || !version)
      return refuse(asking, 400, 'That is nothing that can be done here.');
    if (deed === 'withdraw') await texts.settle(id);
    const done = await inTransaction(db, (trx) => carryOut(trx, person, { id, version, deed }));
    // A post that is withdrawn has no page to go back to.
    const back = backPath(field('back'));
    await leadTo(asking, deed === 'withdraw' && field('own') === 'yes' ? '/' : back, {
      deed,
      postId: id,
      version: done.version,
    });
  });

  const begin = asPerson(async (asking, person) => {
    const title = asking.field('title').normalize('NFC').replace(/\s+/g, ' ').trim();
    if (!roleMay(person.role, 'pitch')) return refuse(asking, 403, 'Beginning a post is not yours to do.');
    if (title === '' || title.length > 300)
      return refuse(
        asking,
        400,
        title === '' ? 'A post needs a title to begin with.' : 'A title has at most 300 characters.',
      );
    const { id } = await inTransaction(db, (trx) => pitch(trx, person, { title }));
    const desk = `${rootOf(settings.publicUrl)}/desk/posts/${id}?blog=${asking.place.id}`;
    asking.res.set('Cache-Control', 'no-store').redirect(303, desk);
  });

  const at = (pattern: RegExp, handle: (asking: Asking) => Promise<void>) =>
    Router().use(...atAddress(places, 'POST', pattern, handle, refuseOtherSites(settings.publicUrl)));
  return [at(/^\/act$/, act), at(/^\/begin$/, begin)];
}

async function carryOut(
  trx: Trx,
  person: CurrentPerson,
  { id, version, deed }: { id: number; version: number; deed: StaffDeed },
): Promise<{ version: number }> {
  const row = await visiblePostToChange(trx, person, id);
  await mustBeCurrent(trx, row, version);
  if (deed === 'withdraw') return movePost(trx, row, person, { to: 'withdrawn' });
  return changePost(trx, row, person, await changesOf(trx, row, deed));
}

async function changesOf(
  trx: Trx,
  row: WholePostRow,
  deed: Exclude<StaffDeed, 'withdraw'>,
): Promise<PostChanges> {
  switch (deed) {
    case 'hold': {
      const { today } = await clockOf(trx, row.blog_id);
      return { spotlight: { from: today, until: addDays(today, A_WEEK) } };
    }
    case 'drop':
      return { spotlight: null };
    case 'close comments':
    case 'open comments':
      return { comments: deed === 'open comments' };
    case 'undo': {
      // What else changed since is a later version, and the deed is refused then.
      const { spotlight, comments } = await versionBefore(trx, row);
      return { spotlight, comments };
    }
  }
}
