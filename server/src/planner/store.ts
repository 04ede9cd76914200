import { addDays, needsOf, rhythm, runway, sayRunway, saySteadiness, slotDates, startOfWeek, wallTimeOf, waitsFor, type NeedFacts, type RhythmPost, type RunwayPost, type StandingSlot, type TodayPost } from '@keyroster/core';
import type { RhythmView, RunwayView, TodayView } from '@keyroster/contract';
import type { CurrentPerson } from '../accounts/who.js';
import type { Reader } from '../db/connect.js';
import { onlyVisible } from '../posts/list.js';
import { factsOf, postRows, type PostRow } from '../posts/store.js';
import { clockOf, type BlogClock } from './clock.js';
import { slotsOf } from './slots.js';

const RUNWAY_DAYS = 21;

export interface Clock extends BlogClock { slots: StandingSlot[] }

export const clockAndSlots = async (db: Reader, blogId: number): Promise<Clock> => ({ ...(await clockOf(db, blogId)), slots: await slotsOf(db, blogId) });

/** Posts that the runway counts: those dated in its days, and the unfinished that are late. */
async function runwayPosts(db: Reader, blogId: number, { today, nowLocal }: Clock, days: number): Promise<RunwayPost[]> {
  return db('posts').where({ blog_id: blogId }).whereNotNull('run_local')
    .where((w) => w.where((span) => span.whereBetween('run_local', [`${today}T00:00:00`, `${addDays(today, days - 1)}T23:59:59`]).whereNotIn('stage', ['withdrawn', 'pitch']))
      .orWhere((late) => late.whereIn('stage', ['commissioned', 'drafting', 'in review', 'cleared']).where((l) => l.where('copy_date', '<', today).orWhere('run_local', '<', nowLocal))))
    .select<RunwayPost[]>('id', 'run_local as runLocal', 'category_id as categoryId', 'stage', 'copy_date as copyDate');
}

const UNFINISHED = ['commissioned', 'drafting', 'in review', 'cleared', 'scheduled'];

/** How many posts wait for a person: asked on every screen, so by the facts alone and without words. */
async function waiting(db: Reader, person: CurrentPerson, nowLocal: string): Promise<number> {
  const rows = await onlyVisible(db('posts'), person).where('posts.blog_id', person.blogId).whereIn('posts.stage', UNFINISHED)
    .joinRaw('left join (select post_id, array_agg(person_id) as ids from post_coauthors where blog_id = ? group by post_id) c on c.post_id = posts.id', [person.blogId])
    .select<(Omit<NeedFacts, 'coauthorIds'> & { coauthorIds: number[] | null })[]>('stage', 'category_id as categoryId', 'byline_id as bylineId', 'c.ids as coauthorIds', 'proofreader_id as proofreaderId', 'created_by as createdById', 'run_local as runLocal', 'copy_date as copyDate');
  return rows.filter((row) => waitsFor(person, { ...row, coauthorIds: row.coauthorIds ?? [], sentBack: false }, nowLocal)).length;
}

export async function runwayView(db: Reader, person: CurrentPerson): Promise<RunwayView> {
  const clock = await clockAndSlots(db, person.blogId);
  const value = runway({ posts: await runwayPosts(db, person.blogId, clock, RUNWAY_DAYS), slots: clock.slots, nowLocal: clock.nowLocal, length: RUNWAY_DAYS });
  return { today: clock.today, runway: value, ...sayRunway(value), onDesk: await waiting(db, person, clock.nowLocal) };
}

async function todayPosts(db: Reader, person: CurrentPerson, zone: string): Promise<TodayPost[]> {
  const rows = await onlyVisible(postRows(db), person)
    .select(db.raw(`exists (select 1 from stage_moves m where m.post_id = posts.id and m.from_stage in ('in review','cleared') and m.to_stage = 'drafting') as sent_back`))
    .where('posts.blog_id', person.blogId).whereIn('posts.stage', UNFINISHED) as unknown as (PostRow & { sent_back: boolean })[];
  return rows.map((row) => ({
    ...factsOf(row), id: row.id, title: row.title, runLocal: row.run_local, copyDate: row.copy_date,
    stageSince: wallTimeOf(row.stage_since, zone), sentBack: row.sent_back, openNotes: row.open_notes,
  }));
}

export async function todayView(db: Reader, person: CurrentPerson): Promise<TodayView> {
  const clock = await clockAndSlots(db, person.blogId);
  const value = runway({ posts: await runwayPosts(db, person.blogId, clock, RUNWAY_DAYS), slots: clock.slots, nowLocal: clock.nowLocal, length: RUNWAY_DAYS });
  const lately = await db('posts').where({ blog_id: person.blogId, stage: 'published' }).orderBy('run_at', 'desc').limit(5)
    .select<TodayView['lately']>('id as postId', 'title', 'address', 'run_local as releasedLocal');
  return { today: clock.today, needs: needsOf(person, await todayPosts(db, person, clock.zone), clock.nowLocal), openSlots: value.days.flatMap((d) => d.open), lately };
}

/** Weeks that the rhythm looks back, and ahead. */
const RHYTHM_WEEKS = 13;

export async function rhythmView(db: Reader, person: CurrentPerson): Promise<RhythmView> {
  const clock = await clockAndSlots(db, person.blogId);
  const from = addDays(startOfWeek(clock.today, clock.firstWeekday), -7 * RHYTHM_WEEKS);
  const to = addDays(from, 14 * RHYTHM_WEEKS - 1);
  const posts = await db('posts').where({ blog_id: person.blogId }).whereBetween('run_local', [`${from}T00:00:00`, `${to}T23:59:59`]).select<RhythmPost[]>('run_local as runLocal', 'stage');
  const value = rhythm({ posts, slots: slotDates(clock.slots, from, to), today: clock.today, firstWeekday: clock.firstWeekday, span: RHYTHM_WEEKS });
  const covered = runway({ posts: await runwayPosts(db, person.blogId, clock, 7 * RHYTHM_WEEKS), slots: clock.slots, nowLocal: clock.nowLocal, length: 7 * RHYTHM_WEEKS });
  return { rhythm: value, runway: covered, past: saySteadiness(value.past), ahead: saySteadiness(value.ahead), gaps: covered.days.flatMap((d) => d.open) };
}
