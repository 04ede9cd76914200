// Releases: how late one is, and how a rush of them compares with the bare queue.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { max, median } from './bench-figures.mjs';
import { root } from './machine.mjs';

const { Logger, run: runWorker } = createRequire(join(root, 'server', 'package.json'))('graphile-worker');
const { connect, planReleases } = await import('@keyroster/server');

/** So many copies of a published post, scheduled for one moment through the same job as any other. */
async function schedule(db, count, at) {
  await db.transaction(async (trx) => {
    const made = await trx.raw(
      `
        insert into
          posts (
            blog_id,
            stage,
            title,
            slug,
            category_id,
            byline_id,
            body,
            body_text,
            words,
            run_local,
            run_zone,
            run_at,
            scheduled_at
          )
        select
          blog_id,
          'scheduled',
          'Bench ' || n,
          'bench-' || extract(
            epoch
            from
              ?::timestamptz
          )::bigint || '-' || n,
          category_id,
          byline_id,
          body,
          body_text,
          words,
          ?::timestamptz at time zone 'Europe/London',
          'Europe/London',
          ?::timestamptz,
          now()
        from
          (
            select
              *
            from
              posts
            where
              stage = 'published'
            order by
              id
            limit
              1
          ) p,
          generate_series(1, ?) n
        returning
          id
      `,
      [at, at, at, count],
    );
    await planReleases(
      trx,
      made.rows.map(({ id }) => ({ postId: id, runAt: at })),
    );
  });
}

async function released(db, at, count, limitMs) {
  const end = Date.now() + limitMs;
  for (;;) {
    const log = await db('release_log')
      .where('due_at', at)
      .select('post_id', db.raw('extract(epoch from released_at - due_at) * 1000 as late'));
    if (log.length >= count || Date.now() > end)
      return log.map((l) => ({ id: l.post_id, late: Number(l.late) }));
    await new Promise((done) => setTimeout(done, 100));
  }
}

const at = (seconds) =>
  new Date(Math.ceil(Date.now() / 1000) * 1000 + seconds * 1000).toISOString().replace('.000Z', 'Z');

export async function benchReleases(databaseUrl, row) {
  const db = connect(databaseUrl);
  const lates = [];
  for (let i = 0; i < 15; i++) {
    const due = at(1);
    await schedule(db, 1, due);
    lates.push(...(await released(db, due, 1, 10_000)).map((r) => r.late));
  }
  row(
    'a release alone, 15 times, two processes: median lateness',
    `${median(lates).toFixed(0)} ms (most ${max(lates).toFixed(0)} ms)`,
    'its run time',
    'within 250 ms',
  );
  const rush = async (count) => {
    const due = at(count / 100 + 3);
    await schedule(db, count, due);
    await new Promise((done) => setTimeout(done, Math.max(0, Date.parse(due) - Date.now())));
    const log = await released(db, due, count, 60_000);
    const once = new Set(log.map((l) => l.id)).size;
    return { seconds: max(log.map((l) => l.late)) / 1000, once, releases: log.length };
  };
  const few = await rush(200);
  row(
    '200 due in one second, two processes',
    `all out after ${few.seconds.toFixed(2)} s; ${few.once} posts, ${few.releases} releases`,
    'its run time',
    'each once',
  );
  // In turns, since the machine is not always as quick as itself.
  const [ours, plain] = [[], []];
  for (let i = 0; i < 3; i++) {
    ours.push(await rush(1000));
    plain.push(await plainQueue(databaseUrl, db, 1000));
  }
  const [mine, theirs] = [median(ours.map((o) => o.seconds)), median(plain)];
  row(
    '1000 due in one second, two processes, three times',
    `all out after ${mine.toFixed(2)} s (${ours.map((o) => `${o.once} posts, ${o.releases} releases`).join('; ')})`,
    `the same queue with one plain UPDATE a job: ${theirs.toFixed(2)} s; ${(mine / theirs).toFixed(1)} ×`,
    'each once, at most 1.5 × the queue',
  );
  await db.destroy();
}

/** The same queue, twice as here, with nothing to do but one UPDATE a job: seconds until the last is done. */
async function plainQueue(databaseUrl, db, count) {
  const ids = await db('posts').limit(count).pluck('id');
  const due = at(count / 100 + 3);
  let last = 0;
  let left = ids.length;
  const runners = [];
  for (let i = 0; i < 2; i++)
    runners.push(
      await runWorker({
        connectionString: databaseUrl,
        concurrency: 6,
        pollInterval: 150,
        noHandleSignals: true,
        crontab: '',
        logger: new Logger(() => () => undefined),
        taskList: {
          plain: async ({ id }, { query }) => {
            await query('update all_posts set updated_at = clock_timestamp() where id = $1', [id]);
            last = Date.now();
            left--;
          },
        },
      }),
    );
  await db.raw(
    `
      select graphile_worker.add_job('plain', json_build_object('id', id), run_at => ?::timestamptz)
      from unnest(?::int[]) id
    `,
    [due, ids],
  );
  const end = Date.parse(due) + 60_000;
  while (left > 0 && Date.now() < end) await new Promise((done) => setTimeout(done, 50));
  for (const runner of runners) await runner.stop();
  return (last - Date.parse(due)) / 1000;
}
