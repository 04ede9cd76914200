import type { FirstVisit, SeenAs } from '@keyroster/contract';
import { anybody, isLater, meaningOf, timelineOf, withheldParts } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { databaseNow } from '../db/now.js';
import { ProblemError, notFound } from '../http/problem.js';
import type { Settings } from '../settings.js';
import { pageAsReader } from '../pages/pages.js';
import { allParts, listSerials } from './serials.js';

/** The blog as a reader has it now who came first at a time: what of a serial is due for them, and a page. */
export async function seenAs(
  db: Queryable,
  person: CurrentPerson,
  id: number,
  { firstVisit, page, postId }: FirstVisit,
  settings: Settings,
): Promise<SeenAs> {
  const serial = (await listSerials(db, person)).find((s) => s.id === id);
  if (!serial) throw notFound('That serial');
  if (page === 'part' && !serial.parts.some((part) => part.postId === postId)) throw notFound('That part');
  const { parts, zone } = await allParts(db, person.blogId);
  const now = await databaseNow(db);
  const meaning = meaningOf(firstVisit, zone);
  if (!meaning) throw new ProblemError('bad-time', 'That is no date and time.');
  const at = meaning.kind === 'exact' ? meaning.at : meaning.choices[0].at;
  if (isLater(at, now)) throw new ProblemError('bad-time', 'A first visit that is yet to come has no parts.');
  const rights = anybody(withheldParts(parts, at, zone, now));
  return {
    firstVisit: at,
    parts: timelineOf(serial.parts, at, zone, now).map(({ postId: part, delay, at: due, due: isDue }) => ({
      postId: part,
      delay,
      at: due,
      due: isDue,
    })),
    html: await pageAsReader(db, settings, person.blogId, rights, page === 'part' ? postId : null),
  };
}
