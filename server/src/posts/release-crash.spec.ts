import { spawn, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { PostDetails } from '@keyroster/contract';
import { Newsroom, eventually, fromNow } from '../testing/newsroom.js';

const MAIN = fileURLToPath(new URL('../../dist/main.js', import.meta.url));

/** A server process of its own on the newsroom's database, as production runs it. */
function process2(room: Newsroom): ChildProcess {
  return spawn(process.execPath, [MAIN], {
    env: { ...process.env, DATABASE_URL: room.databaseUrl, PORT: '0', LOG_LEVEL: 'silent', DEMO: '0' },
    stdio: 'ignore',
  });
}
const kill = (child: ChildProcess) =>
  new Promise<void>((done) => {
    child.once('exit', () => done());
    child.kill('SIGKILL');
  });

describe('a release when processes die', () => {
  let room: Newsroom;
  beforeEach(async () => {
    room = await Newsroom.make();
  });
  afterEach(() => room.close());
  const logged = async (id: number) => room.db('release_log').where({ post_id: id });

  it('neither doubles nor loses a post when the server is killed in the middle', async () => {
    // Holds every release open inside its transaction, after the stage is set and before it commits.
    await room.db.raw(
      `
        create function dawdle () returns trigger language plpgsql as $$ begin perform pg_sleep(3); return new; end $$;

        create trigger dawdle
        before insert on release_log for each row
        execute function dawdle ()
      `,
    );
    const post = await room.scheduled(fromNow(-1), 'Killed half-way');
    const first = process2(room);
    await eventually(
      async () =>
        (
          await room.db.raw<{ rows: unknown[] }>(
            `
              select
                1
              from
                pg_stat_activity
              where
                datname = current_database()
                and wait_event = 'PgSleep'
            `,
          )
        ).rows.length > 0,
    );
    await kill(first);
    await eventually(
      async () =>
        (
          await room.db.raw<{ rows: unknown[] }>(
            `
              select
                1
              from
                pg_stat_activity
              where
                datname = current_database()
                and wait_event = 'PgSleep'
            `,
          )
        ).rows.length === 0,
    );
    expect((await room.see('chief', post.id)).stage).toBe('scheduled');
    expect(await logged(post.id)).toHaveLength(0);
    await room.db.raw('drop trigger dawdle on release_log');

    const second = process2(room);
    try {
      await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
      expect(await logged(post.id)).toHaveLength(1);
    } finally {
      await kill(second);
    }
  });

  it('sends out at start what came due while nothing ran, in order, and logs it as late', async () => {
    const posts: PostDetails[] = [];
    for (const [i, seconds] of [-3000, -9000, -60].entries())
      posts.push(await room.scheduled(fromNow(seconds), `Due while down ${i}`));
    // They were scheduled before they were due, and the server was down since.
    await room.db('posts').update({ scheduled_at: fromNow(-20_000) });
    const server = process2(room);
    try {
      await eventually(async () => (await room.db('release_log')).length === 3);
      const log = (await (await room.as('editor')).get('/api/release-log')).body as {
        postId: number;
        late: boolean;
        lateness: number;
      }[];
      expect(log.every((e) => e.late)).toBe(true);
      expect(Math.round(log.find((e) => e.postId === posts[1]!.id)!.lateness / 1000)).toBeGreaterThanOrEqual(
        9000,
      );
    } finally {
      await kill(server);
    }
  });

  it('releases each of many once, with two processes at work', async () => {
    const at = fromNow(3);
    const posts: PostDetails[] = [];
    for (let i = 0; i < 12; i++) posts.push(await room.scheduled(at, `Shared ${i}`));
    const servers = [process2(room), process2(room)];
    try {
      await eventually(
        async () =>
          Number((await room.db('posts').where({ stage: 'published' }).count())[0]!['count']) === 12,
      );
      expect(
        await room
          .db('release_log')
          .pluck('post_id')
          .then((ids) => [...ids].sort((a, b) => a - b)),
      ).toEqual(posts.map((p) => p.id).sort((a, b) => a - b));
    } finally {
      await Promise.all(servers.map(kill));
    }
  });
});
