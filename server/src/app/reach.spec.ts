import { Newsroom } from '../testing/newsroom.js';

describe('while the database is out of reach', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  it('requests are told to come again, and are answered when it is back', async () => {
    const writer = await room.as('writer');
    const post = await room.pitch('chief', 'Before the restart');
    // As a restart does: connections in use and idle ones end under whoever holds them.
    let going = true;
    const ending = (async () => {
      while (going) {
        await room.db
          .raw(
            `select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()`,
          )
          .catch(() => undefined);
        await new Promise((done) => setTimeout(done, 5));
      }
    })();
    const answers: { status: number; retry: string | undefined; code: string | undefined }[] = [];
    for (let round = 0; round < 25; round++) {
      const some = await Promise.all([
        writer.get('/api/today'),
        writer.get(`/api/posts/${post.id}`),
        writer.get('/api/archive?line=restart'),
        writer.post('/api/posts').send({ title: `Round ${round}` }),
        room.nobody().post('/api/session').send({ email: 'writer@test.example', password: 'wrong or not' }),
      ]);
      for (const { status, headers, body } of some)
        answers.push({
          status,
          retry: headers['retry-after'] as string | undefined,
          code: (body as { code?: string }).code,
        });
    }
    going = false;
    await ending;
    const failed = answers.filter((a) => a.status >= 500);
    expect(failed.length).toBeGreaterThan(0);
    for (const answer of failed) expect(answer).toEqual({ status: 503, retry: '2', code: 'unavailable' });
    expect((await writer.get(`/api/posts/${post.id}`)).status).toBe(200);
  });

  it('nor is anybody left waiting for a connection that none gives back', async () => {
    const pool = (room.db.client as { pool: { acquireTimeoutMillis: number } }).pool;
    const before = pool.acquireTimeoutMillis;
    const held = await Promise.all(Array.from({ length: 12 }, () => room.db.transaction()));
    try {
      await Promise.all(held.map((trx) => trx.raw('select 1')));
      // Only now: making twelve connections anew takes its time on a busy machine.
      pool.acquireTimeoutMillis = 200;
      const answer = await room.nobody().get('/api/session');
      expect([answer.status, answer.headers['retry-after']]).toEqual([503, '2']);
    } finally {
      pool.acquireTimeoutMillis = before;
      await Promise.all(held.map((trx) => trx.rollback()));
    }
    expect((await room.nobody().get('/api/session')).status).toBe(200);
  });
});
