import { isQuiet, laterBy, wallTimeOf, type OutletLimits } from '@keyroster/core';
import type { Db, Trx } from '../db/connect.js';
import { log } from '../log.js';
import { tell } from '../live/live.js';
import { findPost, type WholePostRow } from '../posts/store.js';
import type { Settings } from '../settings.js';
import { addresseeOf, type OutletRow } from './outlets.js';
import { galleryOf, parcelPictures } from './pictures.js';
import type { PieceRow } from './pieces.js';
import { lostSends, planSends } from './plan.js';
import { faultsOf } from './rollout.js';
import { instantOf } from './follow.js';
import { speakFeed } from './speak/feed.js';
import { speakMail } from './speak/mail.js';
import { speakMicropub } from './speak/micropub.js';
import { speakWebhook } from './speak/webhook.js';
import type { Addressee, Outcome, Parcel, Speak, Steps } from './speak/speak.js';

const SPEAK: Record<OutletRow['protocol'], Speak> = { micropub: speakMicropub, mail: speakMail, feed: speakFeed, webhook: speakWebhook };

/** At one outlet so many pieces are on their way at a time: a slow one does not hold up the others. */
const AT_ONCE = 3;
const SOON_MS = 300;
/** After so many failures in a row an outlet is left alone for a while, longer each time. */
const REST_AFTER = 3;
const REST_SECONDS = 20;
const MOST_REST_SECONDS = 900;
const MOST_ATTEMPTS = 12;

interface Claimed { send: SendRow; piece: PieceRow; post: WholePostRow; outlet: OutletRow; attempt: number }
interface SendRow { id: number; blog_id: number; piece_id: number; outlet_id: number; key: string; state: string; due_at: string | null; next_at: string | null; attempts: number; steps: Steps }

/**
 * Sends a piece that is due: marks it as being sent and commits, calls the outlet, and writes down what came of it. Killed
 * between the two, it is found as “being sent” and is either asked again by its key or put to a person; it is never simply sent twice.
 */
export async function sendPiece(db: Db, sendId: number, settings: Pick<Settings, 'privateOutlets'>): Promise<void> {
  const claimed = await db.transaction((trx) => claim(trx, sendId));
  if (!claimed) return;
  const outcome = await carry(db, claimed, settings).catch((error: unknown): Outcome => {
    log.error({ err: error, send: sendId }, 'sending');
    return { outcome: 'unsure', sentence: 'Something went wrong here while it was being sent.' };
  });
  await db.transaction((trx) => settle(trx, claimed, outcome));
}

async function claim(trx: Trx, sendId: number): Promise<Claimed | null> {
  const send = await trx('sends').where({ id: sendId }).forUpdate().first<(SendRow & { later: boolean }) | undefined>('*', trx.raw('greatest(due_at, coalesce(next_at, due_at)) > clock_timestamp() as later'));
  if (!send || send.state !== 'waiting' || send.due_at === null) return null;
  if (send.later) { await planSends(trx, { sendId }); return null; }
  // Counting what an outlet has and adding to it is one step, whoever does it.
  await trx.raw('select pg_advisory_xact_lock(4313, ?)', [send.outlet_id]);
  const { rows: [gate] } = await trx.raw<{ rows: { stopped: boolean; paused: boolean; resting: string | null; at_once: number; zone: string; now: string }[] }>(`
    select b.sending_stopped_at is not null as stopped, (o.paused_at is not null or o.closed_at is not null) as paused, case when o.resting_until > clock_timestamp() then o.resting_until end as resting,
      (select count(*)::int from sends s where s.outlet_id = o.id and s.state = 'sending' and s.claimed_at > clock_timestamp() - interval '150 seconds') as at_once, b.zone, clock_timestamp() as now
    from outlets o join blogs b on b.id = o.blog_id where o.id = ?`, [send.outlet_id]);
  // What is stopped or paused waits without a job until it is let go on.
  if (gate!.stopped || gate!.paused) return null;
  if (gate!.resting) return defer(trx, send, gate!.resting);
  if (gate!.at_once >= AT_ONCE) return defer(trx, send, new Date(Date.parse(gate!.now) + SOON_MS + Math.random() * SOON_MS).toISOString());
  const piece = (await trx('pieces').where({ id: send.piece_id }).first<PieceRow>())!;
  const outlet = (await trx('outlets').where({ id: send.outlet_id }).first<OutletRow>())!;
  const post = await findPost(trx, send.blog_id, piece.post_id);
  if (!post || post.stage !== 'published') {
    // Its post comes out in this very moment, or never: a scheduled post is waited for, anything else stops it.
    if (post?.stage === 'scheduled') return defer(trx, send, new Date(Date.parse(gate!.now) + 1000).toISOString());
    return stop(trx, send, !post ? 'Its post lies in the bin.' : post.stage === 'withdrawn' ? 'Its post was withdrawn.' : 'Its post is not published.');
  }
  const free = await pace(trx, send, outlet.limits, gate!.zone, gate!.now);
  if (free) return defer(trx, send, free);
  const fault = faultsOf(piece, outlet, piece.kind === 'gallery' ? galleryOf(post, piece) : []).find((f) => f.blocks);
  if (fault) { await fail(trx, send, fault.sentence); return null; }
  await trx('sends').where({ id: send.id }).update({ state: 'sending', attempts: send.attempts + 1, claimed_at: trx.raw('clock_timestamp()'), fault: '' });
  const [attempt] = await trx('send_attempts').insert({ send_id: send.id }).returning<{ id: number }[]>('id');
  return { send: { ...send, attempts: send.attempts + 1 }, piece, post, outlet, attempt: Number(attempt!.id) };
}

async function defer(trx: Trx, send: SendRow, at: string): Promise<null> {
  await trx('sends').where({ id: send.id }).update({ next_at: at });
  await planSends(trx, { sendId: send.id });
  return null;
}

async function stop(trx: Trx, send: SendRow, fault: string): Promise<null> {
  await trx('sends').where({ id: send.id }).update({ state: 'stopped', fault });
  await tell(trx, { blogId: send.blog_id, kind: 'outlet' });
  return null;
}

async function fail(trx: Trx, send: SendRow, fault: string): Promise<void> {
  await trx('sends').where({ id: send.id }).update({ state: 'failed', fault });
  await tell(trx, { blogId: send.blog_id, kind: 'outlet' });
}

/** When the outlet next takes a piece, if not now: after its quiet hours, or when an hour or a day has room again. */
async function pace(trx: Trx, send: SendRow, limits: OutletLimits, zone: string, now: string): Promise<string | null> {
  const local = wallTimeOf(now, zone).slice(0, 19);
  if (isQuiet(local, limits.quiet)) {
    let end = `${local.slice(0, 10)}T${limits.quiet!.until}:00`;
    if (end <= local) end = laterBy(end, 24 * 60);
    return instantOf(end, zone);
  }
  const taken = async (since: string) => trx('sends').where({ outlet_id: send.outlet_id }).whereNot({ id: send.id }).whereRaw(`(state = 'sending' or (state in ('sent','unsure') and coalesce(sent_at, claimed_at) > ${since}))`).orderByRaw('coalesce(sent_at, claimed_at)').select<{ at: string }[]>(trx.raw('coalesce(sent_at, claimed_at) as at'));
  if (limits.perHour !== null) {
    const hour = await taken(`clock_timestamp() - interval '1 hour'`);
    if (hour.length >= limits.perHour) return new Date(Date.parse(hour[hour.length - limits.perHour]!.at) + 3_601_000).toISOString();
  }
  if (limits.perDay !== null) {
    const start = instantOf(`${local.slice(0, 10)}T00:00:00`, zone)!;
    const day = (await taken(`'${start}'::timestamptz`)).length;
    if (day >= limits.perDay) return instantOf(`${laterBy(`${local.slice(0, 10)}T00:01:00`, 24 * 60)}`, zone);
  }
  return null;
}

async function carry(db: Db, { send, piece, post, outlet }: Claimed, settings: Pick<Settings, 'privateOutlets'>): Promise<Outcome> {
  let to: Addressee;
  try {
    to = await addresseeOf(db, outlet, settings);
  } catch {
    return { outcome: 'no', sentence: 'The credentials cannot be opened: they were sealed with another key. Give them again.' };
  }
  const blog = await db('blogs').where({ id: send.blog_id }).first<{ title: string; home: string }>('title', 'home');
  const url = `${blog!.home}/${post.address}`;
  const parcel: Parcel = {
    key: send.key, subject: piece.subject, parts: piece.parts, tags: piece.tags, url: piece.parts.some((p) => p.includes(url)) ? url : '', pictures: await parcelPictures(db, piece, post, outlet.limits.pictureBytes), blog: blog!.title,
  };
  return SPEAK[outlet.protocol](to, parcel, send.steps, async (steps) => { await db('sends').where({ id: send.id }).update({ steps: JSON.stringify(steps) }); });
}

/** Twice as long each time, up to a quarter of an hour, and a little at random so that not all come back at once. */
const backOff = (attempts: number) => Math.min(MOST_REST_SECONDS, 5 * 2 ** (attempts - 1)) * (0.75 + Math.random() / 2);

async function settle(trx: Trx, { send, outlet, attempt }: Claimed, outcome: Outcome): Promise<void> {
  // A place where sending twice does no harm is simply asked again.
  const known = outcome.outcome === 'unsure' && outlet.knows_keys;
  const result = known ? 'again' : outcome.outcome;
  const sentence = known ? `${outcome.sentence} It is asked again by its key.` : outcome.sentence;
  await trx('send_attempts').where({ id: attempt }).update({ ended_at: trx.raw('clock_timestamp()'), outcome: outcome.outcome, sentence });
  const held = await trx('sends').where({ id: send.id, state: 'sending' }).forUpdate().first('id');
  // Somebody said in the meantime what became of it.
  if (!held) return;
  if (result === 'sent') {
    await trx('sends').where({ id: send.id }).update({ state: 'sent', url: outcome.outcome === 'sent' ? outcome.url : '', fault: '', sent_at: trx.raw('clock_timestamp()') });
    if (outlet.failures > 0) await trx('outlets').where({ id: outlet.id }).update({ failures: 0, resting_until: null });
  } else if (result === 'again' && send.attempts < MOST_ATTEMPTS) {
    const seconds = ('afterSeconds' in outcome && outcome.afterSeconds) || backOff(send.attempts);
    await trx('sends').where({ id: send.id }).update({ state: 'waiting', fault: sentence, next_at: trx.raw(`clock_timestamp() + ? * interval '1 second'`, [seconds]) });
    const [{ failures } = { failures: 0 }] = await trx('outlets').where({ id: outlet.id }).increment('failures', 1).returning<{ failures: number }[]>('failures');
    if (failures >= REST_AFTER) await trx('outlets').where({ id: outlet.id }).update({ resting_until: trx.raw(`clock_timestamp() + ? * interval '1 second'`, [Math.max(seconds, Math.min(MOST_REST_SECONDS, REST_SECONDS * 2 ** Math.min(6, failures - REST_AFTER)))]) });
    await planSends(trx, { sendId: send.id });
  } else if (result === 'unsure') await trx('sends').where({ id: send.id }).update({ state: 'unsure', fault: outcome.sentence });
  else await trx('sends').where({ id: send.id }).update({ state: 'failed', fault: result === 'again' ? `${outcome.sentence} It was tried ${send.attempts} times.` : outcome.sentence });
  await tell(trx, { blogId: send.blog_id, kind: 'outlet' });
}

/** Finds sends again that no job is at, and settles those that a process was sending when it died. */
export async function sweepSends(db: Db): Promise<void> {
  const { due, broken } = await lostSends(db);
  for (const id of due) await db.transaction((trx) => planSends(trx, { sendId: id }));
  for (const id of broken) await db.transaction((trx) => mend(trx, id));
}

async function mend(trx: Trx, id: number): Promise<void> {
  const send = await trx('sends').where({ id, state: 'sending' }).forUpdate().first<SendRow | undefined>();
  if (!send) return;
  const outlet = (await trx('outlets').where({ id: send.outlet_id }).first<OutletRow>())!;
  const sentence = 'The newsroom stopped while it was being sent.';
  const safe = outlet.knows_keys || outlet.protocol === 'feed';
  await trx('send_attempts').where({ send_id: id, outcome: 'begun' }).update({ ended_at: trx.raw('clock_timestamp()'), outcome: 'unsure', sentence });
  await trx('sends').where({ id }).update(safe ? { state: 'waiting', fault: `${sentence} It is asked again by its key.` } : { state: 'unsure', fault: `${sentence} It may have been sent.` });
  if (safe) await planSends(trx, { sendId: id });
  await tell(trx, { blogId: send.blog_id, kind: 'outlet' });
}
