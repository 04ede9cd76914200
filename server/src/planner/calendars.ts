import { createHash, randomBytes } from 'node:crypto';
import { Router } from 'express';
import type { CalendarKind, CalendarMade, CalendarView, NewCalendar } from '@keyroster/contract';
import { roleMay } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Db, Queryable, Trx } from '../db/connect.js';
import { notFound, notYours } from '../http/problem.js';
import type { Services } from '../http/services.js';
import { log } from '../log.js';
import { calendarText, type Subscription } from './calendar-text.js';

const digest = (secret: string) => createHash('sha256').update(secret).digest('hex');

interface CalendarRow {
  id: number;
  kind: CalendarKind;
  personId: number;
  name: string;
  madeAt: string;
  lastReadAt: string | null;
}

const rows = (db: Queryable, blogId: number) =>
  db('calendars as c')
    .join('people as p', 'p.id', 'c.person_id')
    .where('c.blog_id', blogId)
    .orderBy('p.name')
    .orderBy('c.kind')
    .select<CalendarRow[]>(
      'c.id',
      'c.kind',
      'c.person_id as personId',
      'p.name',
      'c.made_at as madeAt',
      'c.last_read_at as lastReadAt',
    );

const viewOf = (row: CalendarRow, person: CurrentPerson): CalendarView => ({
  id: row.id,
  kind: row.kind,
  person: personRef({ id: row.personId, name: row.name }),
  madeAt: row.madeAt,
  lastReadAt: row.lastReadAt,
  mine: row.personId === person.id,
});

/** One’s own addresses; the managing editor sees, and may end, everybody’s. */
export async function listCalendars(db: Queryable, person: CurrentPerson): Promise<CalendarView[]> {
  const query = rows(db, person.blogId);
  if (person.role !== 'managing editor') void query.where('c.person_id', person.id);
  return (await query).map((row) => viewOf(row, person));
}

/**
 * Makes an address with a new secret. The one the person had for the same calendar ends. The whole calendar
 * is for those who see the whole planner.
 */
export async function makeCalendar(
  trx: Trx,
  person: CurrentPerson,
  { kind }: NewCalendar,
  publicUrl: string,
): Promise<CalendarMade> {
  if (kind === 'runs' && person.role === 'proofreader') throw notYours('Subscribing to the whole calendar');
  const secret = randomBytes(24).toString('base64url');
  const [row] = await trx('calendars')
    .insert({ blog_id: person.blogId, person_id: person.id, kind, secret_sha256: digest(secret) })
    .onConflict(['blog_id', 'person_id', 'kind'])
    .merge({ secret_sha256: digest(secret), made_at: trx.fn.now(), last_read_at: null })
    .returning<{ id: number }[]>('id');
  const made = (await rows(trx, person.blogId).where('c.id', row!.id))[0]!;
  return { ...viewOf(made, person), address: `${publicUrl}/calendar/${secret}.ics` };
}

export async function revokeCalendar(trx: Trx, person: CurrentPerson, id: number): Promise<null> {
  const row = (await rows(trx, person.blogId).where('c.id', id))[0];
  if (!row || (row.personId !== person.id && person.role !== 'managing editor'))
    throw notFound('That address');
  await trx('calendars').where({ id }).delete();
  return null;
}

/**
 * Calendars for subscription, outside the sign-in: the secret in the address is the key. A closed account, a
 * role that may no longer enter, or a revoked address is nothing at all.
 */
export function calendarFiles({ db, settings }: Services): Router {
  const router = Router();
  router.get('/:file', async (req, res) => {
    const secret = /^([A-Za-z0-9_-]{32})\.ics$/.exec(req.params.file)?.[1];
    const found = secret ? await subscription(db, secret) : null;
    if (
      !found ||
      !roleMay(found.role, 'enterNewsroom') ||
      (found.kind === 'runs' && found.role === 'proofreader')
    ) {
      res
        .status(404)
        .type('text')
        .send(
          'There is no calendar at this address. It may have been ended; a new one can be made in the planner.',
        );
      return;
    }
    const text = await calendarText(db, found, settings.publicUrl);
    // The stamp says when the text was made; what is told apart is what it says.
    const etag = `"${createHash('sha256')
      .update(text.replace(/^DTSTAMP:.*$/gm, ''))
      .digest('base64url')
      .slice(0, 27)}"`;
    res.set({
      'Content-Type': 'text/calendar; charset=utf-8',
      'Cache-Control': 'private, max-age=300',
      ETag: etag,
      'X-Content-Type-Options': 'nosniff',
      'Content-Disposition': 'inline; filename="key-roster.ics"',
      'X-Robots-Tag': 'noindex',
    });
    void db('calendars')
      .where({ id: found.id })
      .update({ last_read_at: db.fn.now() })
      .catch((error: unknown) => log.warn({ err: error }, 'calendar'));
    if (req.fresh) res.status(304).end();
    else res.send(text);
  });
  return router;
}

async function subscription(db: Db, secret: string): Promise<Subscription | null> {
  return (
    (await db('calendars as c')
      .join('people as p', 'p.id', 'c.person_id')
      .join('blogs as b', 'b.id', 'c.blog_id')
      .join(
        'memberships as m',
        (on) => void on.on('m.person_id', 'c.person_id').andOn('m.blog_id', 'c.blog_id'),
      )
      .where({ 'c.secret_sha256': digest(secret), 'p.active': true })
      .first<Subscription | undefined>(
        'c.id',
        'c.kind',
        'c.blog_id as blogId',
        'c.person_id as personId',
        'm.role',
        'b.title',
        'p.name',
      )) ?? null
  );
}
