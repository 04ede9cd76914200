import { createServer, type Server } from 'node:http';
import request from 'supertest';
import { findPerson } from '../accounts/who.js';
import { inTransaction } from '../db/write.js';
import { editPosts } from '../posts/edit.js';
import { release } from '../posts/release.js';
import { sendMentions } from './send.js';
import { receiveMention } from './receive.js';
import { Newsroom, eventually, fromNow } from '../testing/newsroom.js';

describe('mentions between sites', () => {
  let room: Newsroom;
  let other: Server;
  let there: string;
  /** Pages of the other site; a number is a status. */
  const pages = new Map<string, string | number>();
  const types = new Map<string, string>();
  const told: { source: string; target: string }[] = [];
  let home: string;
  let postId: number;
  let target: string;

  beforeAll(async () => {
    other = createServer((req, res) => {
      if (req.url === '/webmention' && req.method === 'POST') {
        let body = '';
        req.on('data', (part: Buffer) => (body += part.toString()));
        req.on('end', () => {
          told.push(Object.fromEntries(new URLSearchParams(body)) as { source: string; target: string });
          res.writeHead(202).end();
        });
        return;
      }
      if (req.url === '/moved') return void res.writeHead(302, { location: '/article' }).end();
      const page = pages.get(req.url ?? '');
      const type = types.get(req.url ?? '') ?? 'text/html';
      if (typeof page === 'number' || page === undefined) return void res.writeHead(page ?? 404).end();
      res.writeHead(200, { 'content-type': type, link: '</webmention>; rel="webmention"' }).end(page);
    });
    await new Promise<void>((ready) => other.listen(0, '127.0.0.1', ready));
    there = `http://127.0.0.1:${(other.address() as { port: number }).port}`;
    room = await Newsroom.make({ jobs: true, privateMentions: [there] });
    home = room.running.services.settings.publicUrl;
    await (await room.as('chief')).patch('/api/site').send({ comments: true });
    const post = await room.scheduled(fromNow(-5), 'Frost on the steps');
    await release(room.db, post.id);
    postId = post.id;
    target = `${home}/${(await room.see('chief', post.id)).slug}`;
  });
  afterAll(async () => {
    await room.close();
    await new Promise((done) => other.close(done));
  });
  const mention = (source: string, to = target) =>
    request(room.url).post('/webmention').type('form').send({ source, target: to });
  const kept = () => room.db('comments').where({ kind: 'mention' }).select('state', 'name', 'text', 'source');

  it('are looked at, and wait until somebody has read them', async () => {
    pages.set('/article', `<title>Ice, again</title><a href="${target}">they say</a>`);
    const answer = await mention(`${there}/moved`);
    expect([answer.status, answer.text]).toEqual([202, 'Thank you. It is looked at soon.']);
    await eventually(async () => (await kept()).length === 1);
    expect(await kept()).toEqual([
      { state: 'held', name: new URL(there).host, text: 'Ice, again', source: `${there}/moved` },
    ]);
    expect((await request(room.url).get(new URL(target).pathname)).text).toContain(
      'rel="webmention" href="/webmention"',
    );
    const [{ id }] = (await (await room.as('editor')).get('/api/comments?state=held')).body.comments;
    await (await room.as('editor')).post('/api/comments/moves').send({ ids: [id], to: 'approved' });
    await eventually(async () =>
      (await request(room.url).get(new URL(target).pathname)).text.includes('Ice, again'),
    );
  });

  it('sent again are checked again: changed, they wait again, and gone, they are gone', async () => {
    const job = { blogId: 1, postId, source: `${there}/moved`, target };
    const settings = { privateMentions: [there], publicUrl: home };
    pages.set('/article', `<title>Ice, once more</title><a href="${target}">they say</a>`);
    expect(await receiveMention(room.db, job, settings)).toBe('kept');
    expect(await kept()).toEqual([expect.objectContaining({ state: 'held', text: 'Ice, once more' })]);
    await eventually(
      async () => !(await request(room.url).get(new URL(target).pathname)).text.includes('Ice, again'),
    );
    // The same words again change nothing that was decided.
    await room.db('comments').update({ state: 'approved' });
    await receiveMention(room.db, job, settings);
    expect(await kept()).toEqual([expect.objectContaining({ state: 'approved', text: 'Ice, once more' })]);
    pages.set('/article', '<title>Ice</title>No link any more.');
    expect(await receiveMention(room.db, job, settings)).toBe('gone');
    expect(await kept()).toEqual([]);
    pages.set('/article', `<a href="${target}">they say</a>`);
    await receiveMention(room.db, job, settings);
    pages.set('/article', 410);
    expect(await receiveMention(room.db, job, settings)).toBe('gone');
  });

  it('stay where their page says nothing about them, and go when it is not found a day apart', async () => {
    const job = { blogId: 1, postId, source: `${there}/article`, target };
    const settings = { privateMentions: [there], publicUrl: home };
    pages.set('/article', `<a href="${target}">they say</a>`);
    expect(await receiveMention(room.db, job, settings)).toBe('kept');
    for (const status of [429, 500, 503]) {
      pages.set('/article', status);
      await expect(receiveMention(room.db, job, settings)).rejects.toThrow('could not be read');
    }
    for (const status of [400, 401, 403, 404, 404, 451]) {
      pages.set('/article', status);
      expect(await receiveMention(room.db, job, settings)).toBe('none');
    }
    expect(await kept()).toHaveLength(1);
    const [again] = await room
      .db('graphile_worker.jobs')
      .where({ task_identifier: 'mentioned' })
      .select('run_at');
    expect(Date.parse(again.run_at) - Date.now()).toBeGreaterThan(23 * 3600_000);
    // Found in between, the day begins again.
    const missing = () => room.db('comments').where({ kind: 'mention' }).pluck('missing_since');
    pages.set('/article', `<a href="${target}">they say</a>`);
    await receiveMention(room.db, job, settings);
    expect(await missing()).toEqual([null]);
    pages.set('/article', 404);
    await receiveMention(room.db, job, settings);
    await room.db('comments').update({ missing_since: room.db.raw(`now() - interval '25 hours'`) });
    expect(await receiveMention(room.db, job, settings)).toBe('gone');
    expect(await kept()).toEqual([]);
  });

  // W3C Recommendation Webmention, section 3.2.2: what a receiver should look for by media type.
  it.each([
    ['text/plain; charset=utf-8', (to: string) => `See ${to}. It is good.`, 'kept'],
    ['text/plain', (to: string) => `See ${to}-two.`, 'none'],
    ['application/json', (to: string) => JSON.stringify({ a: [{ reply: to }] }), 'kept'],
    ['application/feed+json', (to: string) => JSON.stringify([[`See ${to}`]]), 'none'],
    ['application/json', (to: string) => `{"a": "${to}"`, 'none'],
  ] as const)('in %s are found as that type has them', async (type, text, came) => {
    const path = '/typed';
    types.set(path, type);
    pages.set(path, text(target));
    const job = { blogId: 1, postId, source: `${there}${path}`, target };
    expect(await receiveMention(room.db, job, { privateMentions: [there], publicUrl: home })).toBe(came);
    await room.db('comments').where({ source: job.source }).delete();
  });

  it.each([
    ['no source', '', undefined],
    ['another protocol', 'ftp://x.example/a', undefined],
    ['a password in the address', 'https://a:b@x.example/a', undefined],
    ['a page that is not here', 'https://x.example/a', 'http://127.0.0.1/no-such-post'],
    ['another site', 'https://x.example/a', 'https://elsewhere.example/frost'],
    ['the front page', 'https://x.example/a', 'http://127.0.0.1/'],
  ])('are refused: %s', async (_, source, to) => {
    expect((await mention(source, to)).status).toBe(400);
  });
  it('are refused of themselves, of hidden posts, and where comments are closed', async () => {
    expect((await mention(target)).status).toBe(400);
    const draft = await room.cleared('Not out');
    expect(
      (await mention(`${there}/article`, `${home}/${(await room.see('chief', draft.id)).slug}`)).status,
    ).toBe(400);
    await room.change('chief', postId, { comments: false });
    expect((await mention(`${there}/article`)).status).toBe(400);
    await room.change('chief', postId, { comments: true });
  });
  it('call nothing in a private network that the settings do not name, whatever outlets may have', async () => {
    const job = { blogId: 1, postId, source: `${there}/article`, target };
    await expect(receiveMention(room.db, job, { privateMentions: [], publicUrl: home })).rejects.toThrow(
      'could not be read',
    );
  });

  it('are sent to what a post links to, once it is out, and to what it linked to before', async () => {
    pages.set('/cited', '<p>Something to cite.</p>');
    pages.set('/plain', '<p>No way in.</p>');
    const post = await room.cleared('A post that cites');
    const chief = await room.as('chief');
    const link = (href: string) => ({
      type: 'text',
      text: 'there',
      marks: [{ type: 'link', attrs: { href } }],
    });
    const write = async (hrefs: string[]) =>
      chief
        .put(`/api/posts/${post.id}/body`)
        .set('If-Match', `"${(await room.see('chief', post.id)).version}"`)
        .send({ body: { type: 'doc', content: [{ type: 'paragraph', content: hrefs.map(link) }] } });
    expect((await write([`${there}/cited#part`, `${there}/plain`, target])).status).toBe(200);
    expect(told).toEqual([]);
    expect((await room.move('chief', post.id, { to: 'scheduled', runAt: fromNow(1) })).status).toBe(200);
    await eventually(async () => told.length > 0);
    const source = `${home}/${(await room.see('chief', post.id)).slug}`;
    expect(told).toContainEqual({ source, target: `${there}/cited#part` });
    const settings = { privateMentions: [there], publicUrl: home };
    told.length = 0;
    await room.change('chief', post.id, { access: 'members' });
    // What is no longer everybody's is told of nothing new; who was told before sees that it is gone.
    await sendMentions(room.db, { postId: post.id }, settings);
    expect(new Set(told.map((t) => t.target))).toEqual(new Set([`${there}/cited#part`, `${there}/plain`]));
    expect(await room.db('mentions_sent').where({ post_id: post.id })).toEqual([]);
  });

  it('are sent again when the post is withdrawn or binned, and its address says that it is gone', async () => {
    pages.set('/cited', '<p>Something to cite.</p>');
    const settings = { privateMentions: [there], publicUrl: home };
    for (const away of ['withdrawn', 'binned'] as const) {
      const post = await room.cleared(`Soon ${away}`);
      const marks = [{ type: 'link', attrs: { href: `${there}/cited` } }];
      const content = [{ type: 'paragraph', content: [{ type: 'text', text: 'there', marks }] }];
      await (
        await room.as('chief')
      )
        .put(`/api/posts/${post.id}/body`)
        .set('If-Match', `"${(await room.see('chief', post.id)).version}"`)
        .send({ body: { type: 'doc', content } });
      await room.move('chief', post.id, { to: 'scheduled', runAt: fromNow(-1) });
      await release(room.db, post.id);
      const source = `${home}/${(await room.see('chief', post.id)).slug}`;
      await sendMentions(room.db, { postId: post.id }, settings);
      told.length = 0;
      if (away === 'withdrawn') await room.move('chief', post.id, { to: 'withdrawn' });
      else {
        const chief = (await findPerson(room.db, room.ids.chief, 1))!;
        await inTransaction(room.db, (trx) => editPosts(trx, 1, chief, [post.id], () => [{ kind: 'bin' }]));
      }
      await eventually(async () => told.length > 0);
      expect(told).toEqual([{ source, target: `${there}/cited` }]);
      const gone = await request(room.url).get(new URL(source).pathname);
      expect([gone.status, gone.text.includes('This post was withdrawn')]).toEqual([410, true]);
      expect(gone.text).not.toContain(`Soon ${away}`);
    }
    // One that was never published is not known to anybody.
    const draft = await room.cleared('Never out');
    expect((await request(room.url).get(`/${(await room.see('chief', draft.id)).slug}`)).status).toBe(404);
  });
});
