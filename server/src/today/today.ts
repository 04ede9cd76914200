import {
  needsOf,
  postsInAbsences,
  runway,
  wallTimeOf,
  type Absence,
  type AwayPost,
  type TodayPost,
} from '@keyroster/core';
import type { AwayItem, TodayView } from '@keyroster/contract';
import { personRef } from '../accounts/people.js';
import type { Queryable } from '../db/connect.js';
import { ownChores } from '../checklists/chores.js';
import { unseenMentions } from '../desk/mentions.js';
import type { CurrentPerson } from '../http/current-person.js';
import { onlyVisible } from '../posts/visible.js';
import { factsOf, postRows, type PostRow } from '../posts/store.js';
import { clockAndSlots } from '../slots/slots.js';
import { REVIEWER } from './reviewer.js';
import { RUNWAY_DAYS, runwayPosts, UNFINISHED } from './runway.js';

/** For how long a pitch counts as one that has just come in; the tray keeps it longer. */
const FRESH = '14 days';

async function todayPosts(db: Queryable, person: CurrentPerson, zone: string): Promise<TodayPost[]> {
  const rows = (await onlyVisible(postRows(db), person)
    .select(
      db.raw(`${REVIEWER} as reviewer_id`),
      db.raw(
        `
          coalesce(
            (
              select
                m.from_stage in ('in review', 'cleared')
              from
                stage_moves m
              where
                m.post_id = posts.id
                and m.to_stage = 'drafting'
              order by
                m.id desc
              limit
                1
            ),
            false
          ) as sent_back
        `,
      ),
    )
    .where('posts.blog_id', person.blogId)
    .where((w) =>
      w
        .whereIn('posts.stage', UNFINISHED)
        .orWhere((own) => own.where('posts.stage', 'pitch').where('posts.created_by', person.id))
        .orWhere((fresh) =>
          fresh.where('posts.stage', 'pitch').whereRaw(`posts.stage_since > now() - interval '${FRESH}'`),
        ),
    )) as unknown as (PostRow & { sent_back: boolean; reviewer_id: number | null })[];
  return rows.map((row) => ({
    ...factsOf(row),
    id: row.id,
    title: row.title,
    runLocal: row.run_local,
    copyDate: row.copy_date,
    stageSince: wallTimeOf(row.stage_since, zone),
    sentBack: row.sent_back,
    openNotes: row.open_notes,
    editorId: row.reviewer_id,
  }));
}

async function awayItems(db: Queryable, person: CurrentPerson, today: string): Promise<AwayItem[]> {
  const absences = await db('absences as a')
    .join('people as p', 'p.id', 'a.person_id')
    .where('a.blog_id', person.blogId)
    .where('a.to_date', '>=', today)
    .select<(Absence & { name: string })[]>(
      'a.id',
      'a.person_id as personId',
      'a.from_date as from',
      'a.to_date as to',
      'a.note',
      'p.name',
    );
  if (absences.length === 0) return [];
  const posts = await onlyVisible(db('posts'), person)
    .where('posts.blog_id', person.blogId)
    .whereIn('posts.stage', ['commissioned', 'drafting', 'in review'])
    .whereNotNull('posts.run_local')
    .whereIn(
      'posts.byline_id',
      absences.map((a) => a.personId),
    )
    .orderBy('posts.run_local')
    .select<AwayPost[]>(
      'posts.id',
      'posts.title',
      'posts.stage',
      'posts.category_id as categoryId',
      'posts.byline_id as bylineId',
      'posts.run_local as runLocal',
      'posts.copy_date as copyDate',
    );
  const names = new Map(absences.map((a) => [a.id, a.name]));
  return postsInAbsences(person, posts, absences).map(({ absence, posts: lying }) => ({
    absenceId: absence.id,
    person: personRef({ id: absence.personId, name: names.get(absence.id)! }),
    from: absence.from,
    to: absence.to,
    posts: lying.map(({ id, title, runLocal }) => ({ id, title, runLocal })),
  }));
}

export async function todayView(db: Queryable, person: CurrentPerson): Promise<TodayView> {
  const clock = await clockAndSlots(db, person.blogId);
  const value = runway({
    posts: await runwayPosts(db, person.blogId, clock, RUNWAY_DAYS),
    slots: clock.slots,
    nowLocal: clock.nowLocal,
    length: RUNWAY_DAYS,
  });
  const lately = await db('posts')
    .where({ blog_id: person.blogId, stage: 'published' })
    .orderBy('run_at', 'desc')
    .limit(5)
    .select<TodayView['lately']>('id as postId', 'title', 'slug', 'run_local as releasedLocal');
  return {
    today: clock.today,
    needs: needsOf(person, await todayPosts(db, person, clock.zone), clock.nowLocal),
    away: await awayItems(db, person, clock.today),
    chores: await ownChores(db, person),
    mentions: await unseenMentions(db, person),
    openSlots: value.days.flatMap((d) => d.open),
    lately,
  };
}
