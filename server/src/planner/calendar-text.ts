import type { CalendarKind } from '@keyroster/contract';
import {
  addDays,
  fillSlots,
  meaningOf,
  formatClock,
  slotDates,
  type Role,
  type Stage,
} from '@keyroster/core';
import { findPerson } from '../accounts/who.js';
import { ownChores } from '../checklists/chores.js';
import type { Queryable } from '../db/connect.js';
import { clockOf } from '../slots/clock.js';
import { slotsOf } from '../slots/slots.js';
import { calendarFile, type CalendarEvent } from './calendar-file.js';
import { placesOf, urlOfPost } from '../posts/url.js';

/** A subscription address that was asked for, and whose it is. */
export interface Subscription {
  id: number;
  kind: CalendarKind;
  blogId: number;
  personId: number;
  role: Role;
  title: string;
  name: string;
}

const PAST_DAYS = 92;
const AHEAD_DAYS = 366;
/** A post is in the calendar for certain once it is scheduled. */
const CERTAIN: readonly Stage[] = ['scheduled', 'published'];

/**
 * The calendar as iCalendar text (RFC 5545). Run times are instants in UTC, worked out from the wall time, so
 * that they are right on both sides of a clock change in whatever zone they are read.
 */
export async function calendarText(
  db: Queryable,
  { kind, blogId, personId, title, name }: Subscription,
  publicUrl: string,
): Promise<string> {
  const { today, nowLocal, zone } = await clockOf(db, blogId);
  const host = new URL(publicUrl).hostname;
  const places = await placesOf(db, blogId);
  const calendarName = kind === 'runs' ? `${title}: run times` : `${title}: copy dates and chores of ${name}`;
  const events: CalendarEvent[] = [];
  const first = addDays(today, -PAST_DAYS);
  const last = addDays(today, AHEAD_DAYS);
  const posts = db('posts as p')
    .leftJoin('people as by', 'by.id', 'p.byline_id')
    .leftJoin('categories as c', 'c.id', 'p.category_id')
    .where('p.blog_id', blogId)
    .select<
      {
        id: number;
        version: number;
        title: string;
        stage: Stage;
        byline: string | null;
        category: string | null;
        categoryId: number | null;
        runLocal: string | null;
        runAt: string | null;
        copyDate: string;
        createdAt: string;
        updatedAt: string;
        slug: string | null;
      }[]
    >(
      'p.id',
      'p.version',
      'p.title',
      'p.stage',
      'by.name as byline',
      'c.name as category',
      'p.category_id as categoryId',
      'p.run_local as runLocal',
      'p.run_at as runAt',
      'p.copy_date as copyDate',
      'p.created_at as createdAt',
      'p.updated_at as updatedAt',
      'p.slug',
    )
    .orderBy('p.id');
  if (kind === 'copy') {
    const due = await posts
      .where('p.byline_id', personId)
      .whereIn('p.stage', ['commissioned', 'drafting'])
      .whereNotNull('p.copy_date')
      .where('p.copy_date', '>=', first);
    for (const post of due) {
      events.push({
        id: `copy-${post.id}@${host}`,
        sequence: post.version,
        day: post.copyDate,
        created: post.createdAt,
        lastModified: post.updatedAt,
        summary: `Copy due: ${post.title}`,
        description: post.runLocal
          ? `Runs ${post.runLocal.slice(0, 10)} ${formatClock(post.runLocal)} (${zone}).`
          : 'No run time yet.',
        url: `${publicUrl}/desk/posts/${post.id}`,
      });
    }
    const person = await findPerson(db, personId, blogId);
    for (const chore of person ? await ownChores(db, person) : []) {
      if (chore.due === null || chore.due < first) continue;
      events.push({
        id: `chore-${chore.id}@${host}`,
        day: chore.due,
        summary: `${chore.text}: ${chore.title}`,
        description: chore.holds ? 'It holds the post back until it is done.' : '',
        url: `${publicUrl}/desk/posts/${chore.postId}`,
      });
    }
    return calendarFile(calendarName, events);
  }
  const dated = await posts
    .whereNotNull('p.run_at')
    .whereNotIn('p.stage', ['withdrawn', 'pitch'])
    .whereBetween('p.run_local', [`${first}T00:00:00`, `${last}T23:59:59`]);
  for (const post of dated) {
    events.push({
      id: `post-${post.id}@${host}`,
      sequence: post.version,
      at: post.runAt!,
      created: post.createdAt,
      lastModified: post.updatedAt,
      summary: post.title,
      description: [post.stage, post.byline ?? 'nobody yet'].join(' · '),
      category: post.category,
      certain: CERTAIN.includes(post.stage),
      url:
        post.stage === 'published' && post.slug
          ? urlOfPost(places, { slug: post.slug, runLocal: post.runLocal })
          : `${publicUrl}/desk/posts/${post.id}`,
    });
  }
  const categories = new Map(
    (
      await db('categories').where({ blog_id: blogId }).select<{ id: number; name: string }[]>('id', 'name')
    ).map((c) => [c.id, c.name]),
  );
  const open = fillSlots(
    slotDates(await slotsOf(db, blogId), today, addDays(today, 91)),
    dated.map((p) => ({ ...p, runLocal: p.runLocal! })),
  ).slots.filter(({ slot, post }) => post === null && `${slot.date}T${slot.time}:00` > nowLocal);
  for (const { slot } of open) {
    events.push({
      id: `slot-${slot.slotId}-${slot.movedFrom ?? slot.date}@${host}`,
      at: instantOf(`${slot.date}T${slot.time}`, zone),
      summary: `Open slot: ${categories.get(slot.categoryId) ?? ''}`,
      certain: false,
      url: `${publicUrl}/desk/planner?from=${slot.date}&day=${slot.date}`,
    });
  }
  return calendarFile(calendarName, events);
}

/**
 * The instant a slot opens; where the clocks jump over it the nearest after, where they pass it twice the
 * first.
 */
function instantOf(local: string, zone: string): string {
  const meaning = meaningOf(local, zone)!;
  return meaning.kind === 'exact' ? meaning.at : meaning.choices[meaning.kind === 'gap' ? 1 : 0].at;
}
