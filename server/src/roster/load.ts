import type { LoadQuery, LoadView } from '@keyroster/contract';
import { addDays, paceOf, startOfWeek, weekLoads, type LoadPost } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { absencesIn } from '../planner/absences.js';
import { turnarounds } from '../posts/turnarounds.js';
import { clockOf } from '../slots/clock.js';

const WEEKS = 12;

/**
 * What everybody has by week against what fits, and how quick they are. Counts only: which posts they are is not
 * told, so that hidden ones stay hidden.
 */
export async function loadView(db: Queryable, person: CurrentPerson, query: LoadQuery): Promise<LoadView> {
  const clock = await clockOf(db, person.blogId);
  const first = startOfWeek(query.from ?? clock.today, clock.firstWeekday);
  const weeks = Array.from({ length: query.weeks ?? WEEKS }, (_, i) => addDays(first, 7 * i));
  const last = addDays(weeks.at(-1)!, 6);
  const people = await db('memberships as m')
    .join('people as p', 'p.id', 'm.person_id')
    .where({ 'm.blog_id': person.blogId, 'p.active': true })
    .whereIn('m.role', ['managing editor', 'editor', 'contributor'])
    .orderBy('p.name')
    .select<{ id: number; name: string; capacity: number | null }[]>('p.id', 'p.name', 'm.capacity');
  const posts = await db('posts')
    .where({ blog_id: person.blogId })
    .whereBetween('run_local', [`${first}T00:00:00`, `${last}T23:59:59`])
    .whereNotIn('stage', ['pitch', 'withdrawn'])
    .whereNotNull('byline_id')
    .select<LoadPost[]>('run_local as runLocal', 'stage', 'byline_id as bylineId');
  const absences = await absencesIn(db, person.blogId, first, last);
  const pace = paceOf(await turnarounds(db, person.blogId, clock.zone));
  return {
    weeks,
    today: clock.today,
    people: people.map((p) => ({
      person: personRef(p),
      capacity: p.capacity,
      loads: weekLoads(p, posts, absences, weeks),
      pace: pace.of(p.id),
    })),
    blog: pace.blog,
  };
}
