import { Logger, run, type Runner } from 'graphile-worker';
import pg from 'pg';
import { tidyAccess } from '../access/members.js';
import { applyBatch, planWaiting } from '../archive/apply.js';
import { lookThrough, planLooking } from '../archive/look.js';
import { emptyBins } from '../archive/bin.js';
import { connectionOf, type Db } from '../db/connect.js';
import { measurePost, planUnmeasured, remeasure } from '../desk/measure.js';
import { log } from '../log.js';
import { mailConfirmation } from '../letters/confirmation.js';
import { forgetTasks } from '../work/progress.js';
import { forgetUnconfirmed } from '../letters/sign-up.js';
import { deliverLetter, planUnsentLetters } from '../letters/send.js';
import { mailDigest, planDigests } from '../mail/digest.js';
import { mailComments } from '../mail/comments.js';
import { mailInvitation } from '../mail/invitation.js';
import { mailMemberLink } from '../mail/member-link.js';
import { mailMention } from '../mail/mention.js';
import { makeSizes, planMissingSizes } from '../media/sizes.js';
import { keepWallTimes, release, planOverdue } from '../posts/release.js';
import { makeByItself } from '../pieces/by-itself.js';
import { keepDueTimes } from '../pieces/follow.js';
import { sendPiece, planOverdueSends } from '../pieces/send.js';
import { fetchFigures } from '../results/fetch-figures.js';
import { planUnrelated, relatePost } from '../pages/relate.js';
import { receiveMention } from '../webmention/receive.js';
import { sendMentions } from '../webmention/send.js';
import type { Settings } from '../settings.js';
import { planFigures, type Jobs } from '../jobs/queue.js';

/** How often waiting jobs are looked for; half of it is the usual lateness of a release. */
const POLL_MS = 150;
const CONCURRENCY = 6;
/** Sending waits for outlets; it has places of its own, so that a slow outlet never holds up a release. */
const SENDING = 8;
/**
 * Posts that are measured at once. Of thousands, as after an import, each is a little work in the process that answers
 * readers: done six at a time they left no room between them.
 */
const MEASURING = 2;
/** How often it is looked whether a letter or a batch was left half-way. */
const WATCH_MS = 5000;
const EVENTS_KEPT = '2 days';

/**
 * Runs the jobs of this process. Several processes share the work; PostgreSQL gives each job to one of them.
 */
export async function startWorker(
  db: Db,
  databaseUrl: string,
  settings: Pick<Settings, 'privateOutlets' | 'privateMentions' | 'mailServer' | 'mailFrom' | 'publicUrl'>,
): Promise<{ runners: Runner[]; pool: pg.Pool; watch: NodeJS.Timeout }> {
  const pool = new pg.Pool({ ...connectionOf(databaseUrl), max: CONCURRENCY + SENDING + MEASURING + 6 });
  pool.on('error', (error) => log.warn({ err: error }, 'job pool'));
  pool.on('connect', (client) => client.on('error', (error) => log.warn({ err: error }, 'job connection')));
  const common = {
    pgPool: pool,
    pollInterval: POLL_MS,
    noHandleSignals: true,
    logger: new Logger(() => (level, message) => {
      if (level === 'error' || level === 'warning') log.warn(message);
    }),
  };
  const sending = await run({
    ...common,
    concurrency: SENDING,
    crontab: '',
    taskList: {
      send: async (payload) => {
        await sendPiece(db, (payload as Jobs['send']).sendId, settings);
      },
      invitation: async (payload) => {
        await mailInvitation(db, payload as Jobs['invitation'], settings);
      },
      mentioned: async (payload) => {
        await receiveMention(db, payload as Jobs['mentioned'], settings);
      },
      mentions: async (payload) => {
        await sendMentions(db, payload as Jobs['mentions'], settings);
      },
      comments: async (payload) => {
        await mailComments(db, payload as Jobs['comments'], settings);
      },
      confirmation: async (payload) => {
        await mailConfirmation(db, payload as Jobs['confirmation'], settings);
      },
      figures: async () => {
        await fetchFigures(db, settings);
      },
      letter: async (payload, { abortSignal }) => {
        await deliverLetter(db, (payload as Jobs['letter']).letterId, settings, abortSignal);
      },
      memberLink: async (payload) => {
        await mailMemberLink(db, payload as Jobs['memberLink'], settings);
      },
      digest: async (payload) => {
        await mailDigest(db, payload as Jobs['digest'], settings);
      },
      mention: async (payload) => {
        await mailMention(db, payload as Jobs['mention'], settings);
      },
    },
  });
  const measuring = await run({
    ...common,
    concurrency: MEASURING,
    crontab: '',
    taskList: {
      measure: async (payload) => {
        await measurePost(db, (payload as Jobs['measure']).postId);
      },
      remeasure: async (payload) => {
        const { blogId, all } = payload as Jobs['remeasure'];
        await remeasure(db, blogId, all);
      },
      relate: async (payload) => {
        await relatePost(db, (payload as Jobs['relate']).postId);
      },
    },
  });
  const runner = await run({
    ...common,
    concurrency: CONCURRENCY,
    crontab: '* * * * * sweep\n17 3 * * * tidy',
    taskList: {
      release: async (payload) => {
        await release(db, (payload as Jobs['release']).postId);
      },
      sizes: async (payload) => {
        await makeSizes(db, (payload as Jobs['sizes']).mediaId);
      },
      pieces: async (payload) => {
        await makeByItself(db, payload as Jobs['pieces']);
      },
      batch: async (payload) => {
        await applyBatch(db, (payload as Jobs['batch']).batchId);
      },
      look: async (payload) => {
        await lookThrough(db, (payload as Jobs['look']).batchId);
      },
      sweep: async () => {
        await planOverdue(db);
        await planWaiting(db);
        await planLooking(db);
        await planOverdueSends(db);
        await planDigests(db);
        await planUnsentLetters(db);
        await planFigures(db);
      },
      tidy: async () => {
        await db('events').whereRaw(`at < now() - interval '${EVENTS_KEPT}'`).delete();
        await db('batches')
          .whereIn('state', ['looking', 'previewed'])
          .whereRaw(`made_at < now() - interval '2 days'`)
          .delete();
        await db('open_posts').whereRaw(`seen_at < now() - interval '1 day'`).delete();
        await tidyAccess(db);
        await forgetUnconfirmed(db);
        await forgetTasks(db);
        await emptyBins(db);
        await keepWallTimes(db);
        await keepDueTimes(db);
      },
    },
  });
  await keepWallTimes(db);
  await planUnmeasured(db);
  await planMissingSizes(db);
  await planUnrelated(db);
  await planWaiting(db);
  await planLooking(db);
  await planOverdueSends(db);
  await planUnsentLetters(db);
  const overdue = await planOverdue(db);
  if (overdue > 0) log.info({ overdue }, 'releasing what came due while nothing ran');
  // A letter or a batch that a process left half-way goes on soon: people wait for it.
  const watch = setInterval(() => {
    planUnsentLetters(db).catch((error: unknown) => log.warn({ err: error }, 'letters'));
    planWaiting(db).catch((error: unknown) => log.warn({ err: error }, 'batches'));
  }, WATCH_MS);
  watch.unref();
  return { runners: [runner, measuring, sending], pool, watch };
}
