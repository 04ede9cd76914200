import { createServer, type Server } from 'node:http';
import request from 'supertest';
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
      if (typeof page === 'number' || page === undefined) return void res.writeHead(page ?? 404).end();
      res.writeHead(200, { 'content-type': 'text/html', link: '</webmention>; rel="webmention"' }).end(page);
    });
    await new Promise<void>((ready) => other.listen(0, '127.0.0.1', ready));
    there = `http://127.0.0.1:${(other.address() as { port: number }).port}`;
    room = await Newsroom.make({ jobs: true, privateOutlets: [there] });
    home = room.running.services.settings.publicUrl;
    await (await room.as('chief')).patch('/api/site').send({ version: 1, settings: { comments: true } });
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

  it('said again are looked at again: changed, they are changed, and gone, they are gone', async () => {
    const job = { blogId: 1, postId, source: `${there}/moved`, target };
    const settings = { privateOutlets: [there], publicUrl: home };
    pages.set('/article', `<title>Ice, once more</title><a href="${target}">they say</a>`);
    expect(await receiveMention(room.db, job, settings)).toBe('kept');
    expect(await kept()).toEqual([expect.objectContaining({ state: 'approved', text: 'Ice, once more' })]);
    pages.set('/article', '<title>Ice</title>No link any more.');
    expect(await receiveMention(room.db, job, settings)).toBe('gone');
    expect(await kept()).toEqual([]);
    pages.set('/article', `<a href="${target}">they say</a>`);
    await receiveMention(room.db, job, settings);
    pages.set('/article', 410);
    expect(await receiveMention(room.db, job, settings)).toBe('gone');
    // A site that is down says nothing about it.
    pages.set('/article', 503);
    await expect(receiveMention(room.db, job, settings)).rejects.toThrow('could not be read');
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
  it('ask nothing within the house that the settings do not name', async () => {
    const job = { blogId: 1, postId, source: `${there}/article`, target };
    await expect(receiveMention(room.db, job, { privateOutlets: [], publicUrl: home })).rejects.toThrow(
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
    const settings = { privateOutlets: [there], publicUrl: home };
    told.length = 0;
    await room.change('chief', post.id, { access: 'members' });
    // What is no longer everybody's is told of nothing new; who was told before sees that it is gone.
    await sendMentions(room.db, { postId: post.id }, settings);
    expect(new Set(told.map((t) => t.target))).toEqual(new Set([`${there}/cited#part`, `${there}/plain`]));
    expect(await room.db('mentions_sent').where({ post_id: post.id })).toEqual([]);
  });
});
