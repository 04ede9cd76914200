import request from 'supertest';
import type { NoteView, TokenMade } from '@keyroster/contract';
import { release } from '../posts/release.js';
import { Newsroom, fromNow } from '../testing/newsroom.js';

/** Whoever writes to one of these tables first is ended by PostgreSQL as one of two that wait for one another. */
describe('a write that PostgreSQL ends because of another is retried', () => {
  let room: Newsroom;
  let key: string;
  let post: { id: number; slug: string };
  beforeAll(async () => {
    room = await Newsroom.make();
    await room.db.raw(`
      create sequence ended;
      create function end_first() returns trigger language plpgsql as $$
        begin
          -- A sequence does not go back when what called it does.
          if nextval('ended') = 1 then raise exception 'deadlock detected' using errcode = '40P01'; end if;
          return null;
        end
      $$;
    `);
    const chief = await room.as('chief');
    const token = { name: 'Phone', scopes: ['create', 'update', 'delete', 'media'] };
    key = ((await chief.post('/api/tokens').send(token)).body as TokenMade).secret;
    await chief.patch('/api/site').send({ comments: true, members: true, letter: true });
    const scheduled = await room.scheduled(fromNow(-60), 'Ice on the pound');
    await release(room.db, scheduled.id);
    post = { id: scheduled.id, slug: (await room.see('chief', scheduled.id)).slug! };
  });
  afterAll(() => room.close());

  /** Asks while the first write to a table is ended; it must have been, or nothing is shown. */
  async function endedOnce<T>(table: string, ask: () => PromiseLike<T>): Promise<T> {
    await room.db.raw('alter sequence ended restart');
    await room.db.raw(
      `create trigger ended before insert or update or delete on ${table} execute function end_first()`,
    );
    try {
      return await ask();
    } finally {
      await room.db.raw(`drop trigger ended on ${table}`);
      const { rows } = await room.db.raw<{ rows: { n: string }[] }>("select nextval('ended') - 1 as n");
      expect(Number(rows[0]!.n)).toBeGreaterThan(1);
    }
  }
  const micropub = (body: object) =>
    request(room.url).post('/micropub').set('Authorization', `Bearer ${key}`).send(body);
  const form = async (path: string, fields: object) =>
    request(room.url)
      .post(path)
      .type('form')
      .set('Cookie', await room.cookieOf('chief'))
      .redirects(0)
      .send(fields);
  const reader = (path: string, fields: object) =>
    request(room.url).post(path).type('form').redirects(0).send(fields);

  it('through the interface for programs', async () => {
    const chief = await room.as('chief');
    const made = await endedOnce('all_posts', () => chief.post('/api/posts').send({ title: 'Once' }));
    expect(made.status).toBe(201);
    expect(await room.db('posts').where({ title: 'Once' }).pluck('title')).toEqual(['Once']);
  });

  it('from a writing tool: bringing, changing and binning a draft, with each remark once', async () => {
    const properties = { name: ['Brought'], content: ['Some words.'], location: ['geo:53,-2'] };
    const made = await endedOnce('post_versions', () => micropub({ type: ['h-entry'], properties }));
    expect([made.status, made.text]).toEqual([201, '']);
    const url = made.headers['location']!;
    const id = Number(url.split('/').at(-1));
    const notes = (await (await room.as('chief')).get(`/api/posts/${id}/notes`)).body as NoteView[];
    expect(notes.map((n) => n.text.match(/location/g))).toEqual([['location']]);
    const changed = await endedOnce('post_versions', () =>
      micropub({ action: 'update', url, replace: { name: ['Changed'] } }),
    );
    expect([changed.status, (await room.see('chief', id)).title]).toEqual([204, 'Changed']);
    expect((await endedOnce('all_posts', () => micropub({ action: 'delete', url }))).status).toBe(204);
    expect((await endedOnce('all_posts', () => micropub({ action: 'undelete', url }))).status).toBe(204);
    expect((await room.see('chief', id)).title).toBe('Changed');
  });

  it('from the blog’s own pages: staff, who comments, who signs in or up, who mentions', async () => {
    const { version } = await room.see('chief', post.id);
    const back = `/${post.slug}`;
    const held = await endedOnce('all_posts', () =>
      form('/act', { post: post.id, version, back, do: 'hold' }),
    );
    expect(held.status).toBe(303);
    const comment = { post: post.id, name: 'Ada', email: '', text: 'We were frozen in.', website: '' };
    expect((await endedOnce('comments', () => reader('/comment', comment))).status).toBe(200);
    expect(await room.db('comments').pluck('text')).toEqual([comment.text]);
    const asked = { email: 'ada@example.org', website: '', back: '/' };
    expect((await endedOnce('member_links', () => reader('/sign-in', asked))).status).toBe(200);
    expect((await endedOnce('subscribers', () => reader('/letter', asked))).status).toBe(200);
    const mention = { source: 'https://towline.example/ice', target: `http://127.0.0.1${back}` };
    expect(
      (await endedOnce('graphile_worker._private_jobs', () => reader('/webmention', mention))).status,
    ).toBe(202);
  });

  it('and by the clock', async () => {
    const due = await room.scheduled(fromNow(-60), 'Due');
    expect(await endedOnce('release_log', () => release(room.db, due.id))).toBe('released');
    expect(await room.db('release_log').where({ post_id: due.id }).pluck('post_id')).toEqual([due.id]);
  });
});
