import { addDays, runway, formatRunway, waitsFor, type NeedFacts, type RunwayPost } from '@keyroster/core';
import type { RunwayView } from '@keyroster/contract';
import type { Queryable } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { onlyVisible } from '../posts/visible.js';
import { REVIEWER } from './reviewer.js';
import { clockAndSlots, type Clock } from '../slots/slots.js';

export const RUNWAY_DAYS = 21;

/** Posts that the runway counts: those dated in its days, and the unfinished that are late. */
export async function runwayPosts(
  db: Queryable,
  blogId: number,
  { today, nowLocal }: Clock,
  days: number,
): Promise<RunwayPost[]> {
  return db('posts')
    .where({ blog_id: blogId })
    .whereNotNull('run_local')
    .where((w) =>
      w
        .where((span) =>
          span
            .whereBetween('run_local', [`${today}T00:00:00`, `${addDays(today, days - 1)}T23:59:59`])
            .whereNotIn('stage', ['withdrawn', 'pitch']),
        )
        .orWhere((late) =>
          late
            .whereIn('stage', ['commissioned', 'drafting', 'in review', 'cleared'])
            .where((l) => l.where('copy_date', '<', today).orWhere('run_local', '<', nowLocal)),
        ),
    )
    .select<RunwayPost[]>(
      'id',
      'run_local as runLocal',
      'category_id as categoryId',
      'stage',
      'copy_date as copyDate',
    );
}

export const UNFINISHED = ['commissioned', 'drafting', 'in review', 'cleared', 'scheduled'];

/** How many posts wait for a person: asked on every screen, so by the facts alone and without words. */
async function waiting(db: Queryable, person: CurrentPerson, nowLocal: string): Promise<number> {
  const rows = await onlyVisible(db('posts'), person)
    .where('posts.blog_id', person.blogId)
    .whereIn('posts.stage', UNFINISHED)
    .joinRaw(
      `
        left join (
          select
            post_id,
            array_agg(person_id) as ids
          from
            post_coauthors
          where
            blog_id = ?
          group by
            post_id
        ) c on c.post_id = posts.id
      `,
      [person.blogId],
    )
    .select<(Omit<NeedFacts, 'coauthorIds'> & { coauthorIds: number[] | null })[]>(
      'stage',
      'category_id as categoryId',
      'byline_id as bylineId',
      'c.ids as coauthorIds',
      'proofreader_id as proofreaderId',
      'proofreader_writes as proofreaderWrites',
      db.raw(`${REVIEWER} as "editorId"`),
      'created_by as createdById',
      'run_local as runLocal',
      'copy_date as copyDate',
    );
  return rows.filter((row) =>
    waitsFor(person, { ...row, coauthorIds: row.coauthorIds ?? [], sentBack: false }, nowLocal),
  ).length;
}

export async function runwayView(db: Queryable, person: CurrentPerson): Promise<RunwayView> {
  const clock = await clockAndSlots(db, person.blogId);
  const value = runway({
    posts: await runwayPosts(db, person.blogId, clock, RUNWAY_DAYS),
    slots: clock.slots,
    nowLocal: clock.nowLocal,
    length: RUNWAY_DAYS,
  });
  return {
    today: clock.today,
    runway: value,
    ...formatRunway(value),
    onDesk: await waiting(db, person, clock.nowLocal),
  };
}
