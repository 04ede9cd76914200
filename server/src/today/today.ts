import { needsOf, runway, wallTimeOf, type TodayPost } from '@keyroster/core';
import type { TodayView } from '@keyroster/contract';
import type { Reader } from '../db/connect.js';
import { unseenMentions } from '../desk/mentions.js';
import type { CurrentPerson } from '../http/current-person.js';
import { onlyVisible } from '../posts/visible.js';
import { factsOf, postRows, type PostRow } from '../posts/store.js';
import { clockAndSlots } from '../slots/slots.js';
import { REVIEWER } from './reviewer.js';
import { RUNWAY_DAYS, runwayPosts, UNFINISHED } from './runway.js';

/** For how long a pitch counts as one that has just come in; the tray keeps it longer. */
const FRESH = '14 days';

async function todayPosts(db: Reader, person: CurrentPerson, zone: string): Promise<TodayPost[]> {
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

export async function todayView(db: Reader, person: CurrentPerson): Promise<TodayView> {
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
    mentions: await unseenMentions(db, person),
    openSlots: value.days.flatMap((d) => d.open),
    lately,
  };
}
