import type { Db } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { planLetter } from '../jobs/queue.js';
import { log } from '../log.js';
import type { Settings } from '../settings.js';
import { beginReleased } from './at-release.js';
import type { BuiltLetter } from './build.js';
import { notifyLetter } from './letters.js';
import { CONCURRENT_SENDS, PostOffice } from './post-office.js';
import { record, type Claimed } from './record.js';

/** One process at a time delivers a letter; the lock is gone with its connection. */
const LOCK = 4317;
/** How often the newsroom is notified how far it is. */
const TOLD_MS = 3000;
const STOPPED_HALF_WAY = 'The newsroom ended while it was sending this; it may have arrived.';

/**
 * Delivers a letter to everybody who waits for it, some at once. Each row says that it is being delivered before
 * a word is sent, so that after a process that died only those few are in doubt; they need a decision and are not
 * sent again by themselves. Run by two processes, the second does nothing.
 */
export async function deliverLetter(
  db: Db,
  letterId: number,
  settings: Pick<Settings, 'mailServer' | 'mailFrom' | 'publicUrl'>,
  signal?: AbortSignal,
): Promise<void> {
  const { mailServer } = settings;
  if (!mailServer) {
    // Where there is none to hand it to, it waits for a person rather than for ever.
    await db('letters')
      .where({ id: letterId, state: 'sending' })
      .update({ state: 'stopped', note: 'No mail server is set up (MAIL_SERVER).' });
    return;
  }
  // Letters go out while it is open, so it is not retried: it holds a lock and writes nothing.
  // eslint-disable-next-line no-restricted-syntax
  await db.transaction(async (lock) => {
    const { rows } = await lock.raw<{ rows: { got: boolean }[] }>(
      'select pg_try_advisory_xact_lock(?, ?) as got',
      [LOCK, letterId],
    );
    if (!rows[0]!.got) return;
    await db('letter_sends')
      .where({ letter_id: letterId, state: 'handing' })
      .update({ state: 'unsure', fault: STOPPED_HALF_WAY });
    await beginReleased(db, letterId, settings);
    const office = new PostOffice({ ...settings, mailServer });
    try {
      await deliverAll(db, letterId, office, signal);
    } finally {
      office.close();
    }
  });
}

async function deliverAll(db: Db, letterId: number, office: PostOffice, signal?: AbortSignal): Promise<void> {
  let notifiedAt = Date.now();
  // It stays as it was built until everybody has it, and is large: it is read once.
  const letter = await db('letters')
    .where({ id: letterId })
    .whereNotNull('content')
    .first<{ blogId: number; content: BuiltLetter } | undefined>('blog_id as blogId', 'content');
  if (!letter) return;
  // A process that is being stopped ends after those it has begun; the next one goes on.
  while (!signal?.aborted) {
    const maySend = await db('letters as l')
      .join('blogs as b', 'b.id', 'l.blog_id')
      .where({ 'l.id': letterId, 'l.state': 'sending' })
      .whereNull('b.sending_stopped_at')
      .first('l.id');
    if (!maySend) return;
    const next = await claim(db, letterId);
    if (next.length === 0) {
      if (!(await waitForDeferred(db, letterId))) await finish(db, letterId, letter.blogId);
      return;
    }
    // Subscribers who left meanwhile, or cannot be reached any more, get nothing.
    const claimed = next.filter((to) => to.state === 'active');
    const deliveries = await Promise.all(
      claimed.map((to) => office.deliver(letter.content, letter.blogId, to)),
    );
    if ((await record(db, letterId, claimed, deliveries)) === 'pause') {
      await inTransaction(db, (trx) => notifyLetter(trx, letter.blogId));
      return;
    }
    if (Date.now() - notifiedAt > TOLD_MS) {
      notifiedAt = Date.now();
      await inTransaction(db, (trx) => notifyLetter(trx, letter.blogId));
    }
  }
}

async function claim(db: Db, letterId: number): Promise<Claimed[]> {
  const { rows } = await db.raw<{ rows: Claimed[] }>(
    `
      with
        next as (
          select
            s.id,
            b.id as subscriber_id,
            coalesce(b.email, '') as email,
            coalesce(b.name, '') as name,
            coalesce(b.state, 'left') as state
          from
            letter_sends s
            left join subscribers b on b.id = s.subscriber_id
          where
            s.letter_id = ?
            and s.state = 'waiting'
            and s.due_at <= clock_timestamp()
          order by
            s.due_at,
            s.id
          limit
            ?
        )
      update letter_sends s
      set
        state = case when n.state = 'active' then 'handing' else 'left' end,
        at = clock_timestamp()
      from
        next n
      where
        n.id = s.id
      returning
        s.id,
        s.key,
        n.subscriber_id as "subscriberId",
        n.email,
        n.name,
        n.state
    `,
    [letterId, CONCURRENT_SENDS],
  );
  return rows;
}

/** Plans the next try of those who are left, all of whom are deferred; answers whether there are any. */
async function waitForDeferred(db: Db, letterId: number): Promise<boolean> {
  const { rows } = await db.raw<{ rows: { seconds: number | null }[] }>(
    `
      select
        ceil(extract(epoch from min(due_at) - clock_timestamp()))::int as seconds
      from
        letter_sends
      where
        letter_id = ?
        and state = 'waiting'
    `,
    [letterId],
  );
  const { seconds } = rows[0]!;
  if (seconds === null) return false;
  await planLetter(db, letterId, Math.max(1, seconds));
  return true;
}

async function finish(db: Db, letterId: number, blogId: number): Promise<void> {
  await inTransaction(db, async (trx) => {
    const done = await trx('letters')
      .where({ id: letterId, state: 'sending' })
      .update({ state: 'sent', ended_at: trx.fn.now(), note: '', refusal: '' });
    if (done > 0) await notifyLetter(trx, blogId);
  });
  log.info({ letter: letterId }, 'letter delivered');
}

/** Finds a worker for letters that are being sent and that nobody holds: after a process that died, or a stop. */
export async function planUnsentLetters(db: Db): Promise<void> {
  const { rows } = await db.raw<{ rows: { id: number }[] }>(
    `
      select
        l.id
      from
        letters l
        join blogs b on b.id = l.blog_id
        and b.sending_stopped_at is null
      where
        l.state = 'sending'
        and not exists (
          select 1 from pg_locks k where k.locktype = 'advisory' and k.classid = ? and k.objid = l.id
        )
        -- One that waits for its time, or for a worker, goes on by itself; that of a dead process never does.
        and not exists (
          select 1 from graphile_worker.jobs j where j.key = 'letter:' || l.id and j.locked_at is null
        )
    `,
    [LOCK],
  );
  for (const { id } of rows) await planLetter(db, id);
}
