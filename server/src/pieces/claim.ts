import { isQuiet, laterBy, wallTimeOf, type OutletLimits } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import { emit } from '../live/live.js';
import { asReadersSee } from '../posts/readers-version.js';
import { findPost, type WholePostRow } from '../posts/store.js';
import type { OutletRow } from '../outlets/outlet-row.js';
import { galleryOf } from './pictures.js';
import { whyNothingGoesOut, whyOthersStay } from '../outlets/permissions.js';
import type { PieceRow } from './piece-store.js';
import { planSends } from '../outlets/plan.js';
import { errorsOf } from './rollout.js';
import { instantOf } from './follow.js';
import type { Steps } from '../outlets/transport/transport.js';

/** At one outlet so many pieces are on their way at a time: a slow one does not hold up the others. */
const AT_ONCE = 3;

const SOON_MS = 300;
const LOOK_AGAIN_MS = 10 * 60_000;

export interface Claimed {
  send: SendRow;
  piece: PieceRow;
  post: WholePostRow;
  outlet: OutletRow;
  attempt: number;
}

export interface SendRow {
  id: number;
  blog_id: number;
  piece_id: number;
  outlet_id: number;
  key: string;
  state: string;
  due_at: string | null;
  next_at: string | null;
  attempts: number;
  steps: Steps;
}

export async function claim(trx: Trx, sendId: number): Promise<Claimed | null> {
  const send = await trx('sends')
    .where({ id: sendId })
    .forUpdate()
    .first<(SendRow & { later: boolean }) | undefined>(
      '*',
      trx.raw('greatest(due_at, coalesce(next_at, due_at)) > clock_timestamp() as later'),
    );
  if (!send || send.state !== 'waiting' || send.due_at === null) return null;
  if (send.later) {
    await planSends(trx, { sendId });
    return null;
  }
  // Counting what an outlet has and adding to it is one step for every process.
  await trx.raw('select pg_advisory_xact_lock(4313, ?)', [send.outlet_id]);
  const {
    rows: [gate],
  } = await trx.raw<{
    rows: {
      stopped: boolean;
      paused: boolean;
      resting: string | null;
      at_once: number;
      zone: string;
      now: string;
    }[];
  }>(
    `
      select
        b.sending_stopped_at is not null as stopped,
        (
          o.paused_at is not null
          or o.closed_at is not null
        ) as paused,
        case
          when o.resting_until > clock_timestamp() then o.resting_until
        end as resting,
        (
          select
            count(*)::int
          from
            sends s
          where
            s.outlet_id = o.id
            and s.state = 'sending'
            and s.claimed_at > clock_timestamp() - interval '150 seconds'
        ) as at_once,
        b.zone,
        clock_timestamp() as now
      from
        outlets o
        join blogs b on b.id = o.blog_id
      where
        o.id = ?
    `,
    [send.outlet_id],
  );
  // What is stopped or paused waits without a job until it is let go on.
  if (gate!.stopped || gate!.paused) return null;
  if (gate!.resting) return defer(trx, send, gate!.resting);
  if (gate!.at_once >= AT_ONCE)
    return defer(
      trx,
      send,
      new Date(Date.parse(gate!.now) + SOON_MS + Math.random() * SOON_MS).toISOString(),
    );
  const piece = (await trx('pieces').where({ id: send.piece_id }).first<PieceRow>())!;
  const outlet = (await trx('outlets').where({ id: send.outlet_id }).first<OutletRow>())!;
  const row = await findPost(trx, send.blog_id, piece.post_id);
  const post = row && (await asReadersSee(trx, row));
  if (!post || post.stage !== 'published') {
    // Its post comes out in this very moment, or never: a scheduled post is waited for, anything else stops
    // it.
    if (post?.stage === 'scheduled') return defer(trx, send, afterRelease(gate!.now, post.run_at));
    return stop(
      trx,
      send,
      !post
        ? 'Its post lies in the bin.'
        : post.stage === 'withdrawn'
          ? 'Its post was withdrawn.'
          : 'Its post is not published.',
    );
  }
  const refusal = (await whyNothingGoesOut(trx, post)) ?? (await whyOthersStay(trx, piece, 'now'));
  if (refusal !== null) return stop(trx, send, refusal);
  const free = await pace(trx, send, outlet.limits, gate!.zone, gate!.now);
  if (free) return defer(trx, send, free);
  const error = errorsOf(piece, outlet, piece.kind === 'gallery' ? galleryOf(post, piece) : []).find(
    (f) => f.blocks,
  );
  if (error) {
    await fail(trx, send, error.sentence);
    return null;
  }
  await trx('sends')
    .where({ id: send.id })
    .update({
      state: 'sending',
      attempts: send.attempts + 1,
      claimed_at: trx.raw('clock_timestamp()'),
      error: '',
    });
  const [attempt] = await trx('send_attempts').insert({ send_id: send.id }).returning<{ id: number }[]>('id');
  return {
    send: { ...send, attempts: send.attempts + 1 },
    piece,
    post,
    outlet,
    attempt: Number(attempt!.id),
  };
}

/**
 * When to look again for a post that is still to come out: a moment after its time, and once in a while before,
 * in case that it was moved.
 */
function afterRelease(now: string, runAt: string | null): string {
  const at = Date.parse(now);
  const release = runAt === null ? at : Date.parse(runAt);
  return new Date(Math.max(at, Math.min(release, at + LOOK_AGAIN_MS)) + 1000).toISOString();
}

async function defer(trx: Trx, send: SendRow, at: string): Promise<null> {
  await trx('sends').where({ id: send.id }).update({ next_at: at });
  await planSends(trx, { sendId: send.id });
  return null;
}

async function stop(trx: Trx, send: SendRow, error: string): Promise<null> {
  await trx('sends').where({ id: send.id }).update({ state: 'stopped', error });
  await emit(trx, { blogId: send.blog_id, kind: 'outlet' });
  return null;
}

async function fail(trx: Trx, send: SendRow, error: string): Promise<void> {
  await trx('sends').where({ id: send.id }).update({ state: 'failed', error });
  await emit(trx, { blogId: send.blog_id, kind: 'outlet' });
}

/**
 * When the outlet next takes a piece, if not now: after its quiet hours, or when an hour or a day has room
 * again.
 */
async function pace(
  trx: Trx,
  send: SendRow,
  limits: OutletLimits,
  zone: string,
  now: string,
): Promise<string | null> {
  const local = wallTimeOf(now, zone).slice(0, 19);
  if (isQuiet(local, limits.quiet)) {
    let end = `${local.slice(0, 10)}T${limits.quiet!.until}:00`;
    if (end <= local) end = laterBy(end, 24 * 60);
    return instantOf(end, zone);
  }
  const taken = async (since: string) =>
    trx('sends')
      .where({ outlet_id: send.outlet_id })
      .whereNot({ id: send.id })
      .whereRaw(
        `
          (
            state = 'sending'
            or (
              state in ('sent', 'unsure')
              and coalesce(sent_at, claimed_at) > ${since}
            )
          )
        `,
      )
      .orderByRaw('coalesce(sent_at, claimed_at)')
      .select<{ at: string }[]>(trx.raw('coalesce(sent_at, claimed_at) as at'));
  if (limits.perHour !== null) {
    const hour = await taken(`clock_timestamp() - interval '1 hour'`);
    if (hour.length >= limits.perHour)
      return new Date(Date.parse(hour[hour.length - limits.perHour]!.at) + 3_601_000).toISOString();
  }
  if (limits.perDay !== null) {
    const start = instantOf(`${local.slice(0, 10)}T00:00:00`, zone)!;
    const day = (await taken(`'${start}'::timestamptz`)).length;
    if (day >= limits.perDay) return instantOf(`${laterBy(`${local.slice(0, 10)}T00:01:00`, 24 * 60)}`, zone);
  }
  return null;
}
