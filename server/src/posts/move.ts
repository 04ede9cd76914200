import { isLater, judgeMove, may, wallTimeOf, type Stage } from '@keyroster/core';
import type { NewMove } from '@keyroster/contract';
import type { CurrentPerson } from '../accounts/who.js';
import type { Trx } from '../db/connect.js';
import { ProblemError, notYours } from '../http/problem.js';
import { blockingOf } from '../desk/measure.js';
import { cancelReleases, planRelease } from '../jobs/queue.js';
import { addressFor } from './address.js';
import { runTimeOf, sayRelease, type RunTime } from './run-time.js';
import { databaseNow, factsOf, type WholePostRow } from './store.js';
import { writePost, type FieldChanges } from './write-post.js';

export interface Moved {
  version: number;
  sentence: string;
}

const DONE: Partial<Record<Stage, (from: Stage) => string>> = {
  pitch: () => 'Back in the tray.',
  commissioned: () => 'Commissioned.',
  drafting: (from) => (from === 'in review' || from === 'cleared' ? 'Changes asked for.' : 'Being written.'),
  'in review': () => 'Handed in.',
  cleared: (from) => (from === 'scheduled' ? 'Taken back. It stays cleared.' : 'Cleared.'),
  published: () => 'Released.',
  withdrawn: () => 'Withdrawn. Readers no longer see it.',
};

/**
 * The one door to a stage. Release, planner, desk and demo all come through here, so that the log, the live event,
 * the release job and the demands can never be skipped. The caller holds the row's lock;
 * `at` spares a question to the database when the caller has just asked it for the time.
 */
export async function movePost(trx: Trx, row: WholePostRow, actor: CurrentPerson | 'clock', move: NewMove, at?: string): Promise<Moved> {
  const now = at ?? (await databaseNow(trx));
  const run = move.runAt === undefined ? null : runTimeOf(move.runAt, await zoneOf(trx, row.blog_id));
  const fields: FieldChanges = run && takesRunTime(move.to) ? { ...run } : {};
  // A move that is a writer's to make does not carry a run time past the permission to plan.
  if (run && actor !== 'clock' && !may(actor, 'plan', factsOf(row))) throw notYours('Giving this post a run time');
  if (run && !takesRunTime(move.to)) throw new ProblemError('invalid', `A run time has no place in becoming ${move.to}.`);
  // The default address comes as late as possible, so that the title has settled.
  if (row.address === null && (move.to === 'cleared' || move.to === 'scheduled') && row.title) fields.address = await addressFor(trx, { ...row, ...fields });

  const note = move.note?.trim() ? move.note.trim() : null;
  const after = { ...row, ...fields };
  const answer = judgeMove(actor, factsOf(row), move.to, {
    title: after.title, words: after.words, bylineId: after.byline_id, categoryId: after.category_id, address: after.address, runAt: after.run_at, note,
    blocking: move.to === 'cleared' || move.to === 'scheduled' ? await blockingOf(trx, after) : [],
  });
  if (!answer.ok) throw new ProblemError(answer.code, answer.sentence);

  Object.assign(fields, { stage: move.to, stage_since: now }, await consequences(trx, row, after, move.to, now));
  const personId = actor === 'clock' ? null : actor.id;
  const version = await writePost(trx, row, { fields }, personId);
  await trx('stage_moves').insert({ blog_id: row.blog_id, post_id: row.id, from_stage: row.stage, to_stage: move.to, person_id: personId, note: note ?? '' });
  if (note && personId !== null) await trx('notes').insert({ blog_id: row.blog_id, post_id: row.id, person_id: personId, text: note });
  return { version, sentence: sentenceOf(row.stage, move.to, { ...after, ...fields }, now) };
}

const takesRunTime = (to: Stage) => to === 'commissioned' || to === 'cleared' || to === 'scheduled' || to === 'drafting';

/** What a stage brings with it: its fields, and the release job. */
async function consequences(trx: Trx, row: WholePostRow, after: WholePostRow, to: Stage, now: string): Promise<FieldChanges> {
  if (row.stage === 'scheduled' && to !== 'published') await cancelReleases(trx, [row.id]);
  if (to === 'scheduled') {
    await planRelease(trx, row.id, after.run_at!);
    return { scheduled_at: now };
  }
  if (to === 'published') return { released_at: now };
  if (to === 'pitch' || (to === 'cleared' && row.stage === 'scheduled')) return { run_local: null, run_zone: null, run_at: null, scheduled_at: null };
  return {};
}

function sentenceOf(from: Stage, to: Stage, row: WholePostRow, now: string): string {
  if (to !== 'scheduled') return DONE[to]?.(from) ?? '';
  const run: RunTime = { run_local: row.run_local!, run_zone: row.run_zone!, run_at: row.run_at! };
  return sayRelease(run, wallTimeOf(now, run.run_zone), isLater(now, run.run_at));
}

export async function zoneOf(trx: Trx, blogId: number): Promise<string> {
  return (await trx('blogs').where({ id: blogId }).first<{ zone: string }>('zone'))!.zone;
}
