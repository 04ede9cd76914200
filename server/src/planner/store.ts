import { addDays, needsOf, rhythm, runway, sayRunway, saySteadiness, slotDates, startOfWeek, wallTimeOf, type RhythmPost, type RunwayPost, type StandingSlot, type TodayPost } from '@keyroster/core';
import type { PlannerQuery, PlannerView, RhythmView, RunwayView, TodayView, WriterRef } from '@keyroster/contract';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../accounts/who.js';
import type { Reader } from '../db/connect.js';
import { onlyVisible } from '../posts/list.js';
import { factsOf, postRows, type PostRow } from '../posts/store.js';
import { cardOf } from '../posts/view.js';
import { absencesIn } from './absences.js';
import { clockOf, type BlogClock } from './clock.js';
import { slotsOf } from './slots.js';

const RUNWAY_DAYS = 21;

interface Clock extends BlogClock { slots: StandingSlot[] }

const clockAndSlots = async (db: Reader, blogId: number): Promise<Clock> => ({ ...(await clockOf(db, blogId)), slots: await slotsOf(db, blogId) });

/** Everybody who may be credited, by name. */
async function writersOf(db: Reader, blogId: number): Promise<WriterRef[]> {
  const rows = await db('memberships as m').join('people as p', 'p.id', 'm.person_id').where('m.blog_id', blogId).where('p.active', true).whereIn('m.role', ['managing editor', 'editor', 'contributor'])
    .orderBy('p.name').select<{ id: number; name: string; capacity: number | null }[]>('p.id', 'p.name', 'm.capacity');
  return rows.map((row) => ({ ...personRef(row), capacity: row.capacity }));
}

export async function plannerView(db: Reader, person: CurrentPerson, query: PlannerQuery): Promise<PlannerView> {
  const clock = await clockAndSlots(db, person.blogId);
  const from = startOfWeek(query.from ?? clock.today, clock.firstWeekday);
  const to = addDays(from, (query.weeks ?? 4) * 7 - 1);
  const rows = await onlyVisible(postRows(db), person).where('posts.blog_id', person.blogId)
    .where((w) => w.where('posts.stage', 'pitch').orWhere((d) => d.whereNotNull('posts.run_local').whereNot('posts.stage', 'withdrawn').whereBetween('posts.run_local', [`${from}T00:00:00`, `${to}T23:59:59`])))
    .orderBy('posts.run_local').orderBy('posts.id') as PostRow[];
  const cards = rows.map((row) => cardOf(row, clock.nowLocal));
  const unfinished = await onlyVisible(postRows(db), person).where('posts.blog_id', person.blogId).whereIn('posts.stage', ['commissioned', 'drafting', 'in review', 'cleared'])
    .where((w) => w.where('posts.copy_date', '<', clock.today).orWhere('posts.run_local', '<', clock.nowLocal)).orderBy('posts.run_local').orderBy('posts.id') as unknown as PostRow[];
  return {
    from, to, today: clock.today, nowLocal: clock.nowLocal,
    dated: cards.filter((c) => c.stage !== 'pitch'),
    pitches: cards.filter((c) => c.stage === 'pitch'),
    slots: slotDates(clock.slots, from, to),
    absences: await absencesIn(db, person.blogId, from < clock.today ? from : clock.today, to),
    writers: await writersOf(db, person.blogId),
    late: unfinished.map((row) => cardOf(row, clock.nowLocal)).filter((c) => c.late),
  };
}

/** Posts that the runway counts: dated from today on, and everything unfinished, which may be late. */
async function runwayPosts(db: Reader, blogId: number, today: string): Promise<RunwayPost[]> {
  return db('posts').where({ blog_id: blogId }).whereNotNull('run_local')
    .where((w) => w.whereNotIn('stage', ['published', 'withdrawn', 'pitch']).orWhere('run_local', '>=', `${today}T00:00:00`))
    .select<RunwayPost[]>('id', 'run_local as runLocal', 'category_id as categoryId', 'stage', 'copy_date as copyDate');
}

export async function runwayView(db: Reader, person: CurrentPerson): Promise<RunwayView> {
  const clock = await clockAndSlots(db, person.blogId);
  const value = runway({ posts: await runwayPosts(db, person.blogId, clock.today), slots: clock.slots, nowLocal: clock.nowLocal, length: RUNWAY_DAYS });
  const needs = needsOf(person, await todayPosts(db, person, clock.zone), clock.nowLocal);
  return { today: clock.today, runway: value, ...sayRunway(value), onDesk: new Set(needs.filter((n) => n.kind !== 'goes out' && n.kind !== 'on its way').map((n) => n.postId)).size };
}

async function todayPosts(db: Reader, person: CurrentPerson, zone: string): Promise<TodayPost[]> {
  const rows = await onlyVisible(postRows(db), person)
    .select(db.raw(`exists (select 1 from stage_moves m where m.post_id = posts.id and m.from_stage in ('in review','cleared') and m.to_stage = 'drafting') as sent_back`))
    .where('posts.blog_id', person.blogId).whereIn('posts.stage', ['commissioned', 'drafting', 'in review', 'cleared', 'scheduled']) as unknown as (PostRow & { sent_back: boolean })[];
  return rows.map((row) => ({
    ...factsOf(row), id: row.id, title: row.title, runLocal: row.run_local, copyDate: row.copy_date,
    stageSince: wallTimeOf(row.stage_since, zone), sentBack: row.sent_back, openNotes: row.open_notes,
  }));
}

export async function todayView(db: Reader, person: CurrentPerson): Promise<TodayView> {
  const clock = await clockAndSlots(db, person.blogId);
  const value = runway({ posts: await runwayPosts(db, person.blogId, clock.today), slots: clock.slots, nowLocal: clock.nowLocal, length: RUNWAY_DAYS });
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
  const covered = runway({ posts: await runwayPosts(db, person.blogId, clock.today), slots: clock.slots, nowLocal: clock.nowLocal, length: 7 * RHYTHM_WEEKS });
  return { rhythm: value, runway: covered, past: saySteadiness(value.past), ahead: saySteadiness(value.ahead), gaps: covered.days.flatMap((d) => d.open) };
}
