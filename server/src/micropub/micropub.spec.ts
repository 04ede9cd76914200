import request from 'supertest';
import sharp from 'sharp';
import type { NoteView, TokenMade, VersionsView } from '@keyroster/contract';
import type { TokenScope } from '@keyroster/core';
import { eventually, fromNow, Newsroom, type Who } from '../testing/newsroom.js';
import { release } from '../posts/release.js';
import { Writer } from '../testing/writer.js';

const ALL: TokenScope[] = ['create', 'update', 'delete', 'media'];
/** Where the newsroom says that it is; it listens elsewhere. */
const HOME = 'http://127.0.0.1';
const JSON_TYPE = 'application/json';

describe('drafts through Micropub', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  const keyOf = async (who: Who, scopes = ALL, name = 'Phone') => {
    const answer = await (await room.as(who)).post('/api/tokens').send({ name, scopes });
    expect(answer.status).toBe(201);
    return answer.body as TokenMade;
  };
  const keys = new Map<Who, string>();
  const bearer = async (who: Who) => {
    if (!keys.has(who)) keys.set(who, (await keyOf(who)).secret);
    return `Bearer ${keys.get(who)}`;
  };
  const send = async (who: Who, body: object) =>
    request(room.url)
      .post('/micropub')
      .set('Authorization', await bearer(who))
      .send(body);
  const ask = async (who: Who, query: string) =>
    request(room.url)
      .get(`/micropub?${query}`)
      .set('Authorization', await bearer(who));
  const idAt = (location: string | undefined) => Number(/\/desk\/posts\/(\d+)$/.exec(location ?? '')![1]);
  const entry = (properties: object) => ({ type: ['h-entry'], properties });
  const made = async (who: Who, properties: object) => {
    const answer = await send(who, entry(properties));
    expect([answer.status, answer.text]).toEqual([201, '']);
    return room.see('chief', idAt(answer.headers['location']));
  };
  const update = async (who: Who, id: number, changes: object) => {
    const answer = await send(who, { action: 'update', url: `${HOME}/desk/posts/${id}`, ...changes });
    return [answer.status, (answer.body as { error_description?: string }).error_description ?? ''];
  };
  const textOf = (post: { body: unknown }) =>
    JSON.stringify(post.body)
      .match(/(?<="text":")[^"]*/g)
      ?.join('|') ?? '';
  const notesOf = async (id: number) =>
    ((await (await room.as('chief')).get(`/api/posts/${id}/notes`)).body as NoteView[]).map((n) => n.text);
  const red = (side: number) =>
    sharp({ create: { width: side, height: side, channels: 3, background: '#a02020' } })
      .png()
      .toBuffer();

  it('come with a form, as the first example of the Recommendation has it, and land as drafts or pitches', async () => {
    const answer = await request(room.url)
      .post('/micropub')
      .type('form')
      .send(
        `h=entry&content=hello+world&category[]=foo&category[]=bar&access_token=${(await keyOf('chief')).secret}`,
      );
    expect(answer.status).toBe(201);
    const post = await room.see('chief', idAt(answer.headers['location']));
    expect([post.stage, post.title, textOf(post), post.byline?.id]).toEqual([
      'drafting',
      'hello world',
      'hello world',
      room.ids.chief,
    ]);
    expect(post.tags.map((t) => t.name)).toEqual(['bar', 'foo']);
    const versions = (await (await room.as('chief')).get(`/api/posts/${post.id}/versions`))
      .body as VersionsView;
    expect(versions.versions.map((v) => v.imported)).toEqual([null, 'Phone']);
    const pitched = await made('writer', { name: ['By a writer'], content: ['Some words.'] });
    expect([pitched.stage, pitched.byline?.id, textOf(pitched)]).toEqual([
      'pitch',
      room.ids.writer,
      'Some words.',
    ]);
  });

  it('have their metadata in the right fields, and say what was left out', async () => {
    const post = await made('chief', {
      name: ['All of it'],
      content: [{ html: '<p>Open the <b>gate</b>.</p><script>alert(1)</script><p>Wait.</p>' }],
      summary: ['What it is about.'],
      category: ['towpath', 'Winter'],
      'mp-slug': ['All-of-it'],
      location: ['geo:53.1,-2.2'],
      photo: ['https://elsewhere.example/a.jpg'],
    });
    expect(post).toMatchObject({
      title: 'All of it',
      excerpt: 'What it is about.',
      categoryId: 1,
      slug: 'all-of-it',
      leadPicture: null,
    });
    expect(post.tags.map((t) => t.name)).toEqual(['Winter']);
    expect(textOf(post)).toBe('Open the |gate|.|Wait.');
    const [note] = await notesOf(post.id);
    expect(note).toContain('A post has no place for location');
    expect(note).toContain('https://elsewhere.example/a.jpg was not fetched');
    expect(note).toContain('script');
    // An address that is taken does not lose the draft.
    const second = await made('chief', { name: ['Again'], content: ['x'], 'mp-slug': ['all-of-it'] });
    expect([second.slug, (await notesOf(second.id))[0]]).toEqual([
      null,
      expect.stringContaining('is not available'),
    ]);
  });

  it('bring pictures: to the media endpoint first, or with the form', async () => {
    const handed = await request(room.url)
      .post('/micropub/media')
      .set('Authorization', await bearer('chief'))
      .attach('file', await red(40), 'red.png');
    expect([handed.status, handed.headers['location']]).toEqual([
      201,
      expect.stringMatching(/^http:\/\/127\.0\.0\.1\/media\/\d+$/),
    ]);
    const location = handed.headers['location']!;
    const media = Number(location.split('/').at(-1));
    const post = await made('chief', { name: ['Red'], photo: [{ value: location, alt: 'A red square' }] });
    expect(post.leadPicture).toMatchObject({ media, alt: 'A red square' });
    const form = await request(room.url)
      .post('/micropub')
      .set('Authorization', await bearer('chief'))
      .field('h', 'entry')
      .field('content', 'Two pictures')
      .attach('photo[]', await red(41), 'a.png')
      .attach('photo[]', await red(42), 'b.png');
    expect(form.status).toBe(201);
    const two = await room.see('chief', idAt(form.headers['location']));
    expect(two.leadPicture).not.toBeNull();
    expect(JSON.stringify(two.body)).toContain('"type":"picture"');
    const film = await request(room.url)
      .post('/micropub')
      .set('Authorization', await bearer('chief'))
      .field('h', 'entry')
      .attach('video', Buffer.from('x'), 'a.mp4');
    expect([film.status, film.body]).toMatchObject([400, { error: 'invalid_request' }]);
    const junk = await request(room.url)
      .post('/micropub/media')
      .set('Authorization', await bearer('chief'))
      .attach('file', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'), 'a.svg');
    expect([junk.status, junk.body]).toMatchObject([400, { error: 'invalid_request' }]);
  });

  it('are changed: replace, add, remove, as the examples of section 3.4', async () => {
    const { id } = await made('chief', {
      name: ['Hello'],
      content: ['hello world'],
      category: ['foo', 'bar'],
    });
    expect(await update('chief', id, { replace: { content: ['hello moon'] } })).toEqual([204, '']);
    expect(textOf(await room.see('chief', id))).toBe('hello moon');
    await update('chief', id, { add: { category: ['micropub', 'indieweb'] } });
    await update('chief', id, { delete: { category: ['indieweb'] } });
    const tags = async () => (await room.see('chief', id)).tags.map((t) => t.name);
    expect(await tags()).toEqual(['bar', 'foo', 'micropub']);
    await update('chief', id, { delete: ['category'] });
    expect(await tags()).toEqual([]);
    await update('chief', id, { replace: { name: ['Moon'], summary: ['Short.'], 'mp-slug': ['moon'] } });
    expect(await room.see('chief', id)).toMatchObject({ title: 'Moon', excerpt: 'Short.', slug: 'moon' });
    // All of it or nothing.
    expect(await update('chief', id, { replace: { name: ['Sun'], weight: ['70'] } })).toEqual([
      400,
      'A post has no place for weight.',
    ]);
    expect(
      (await update('chief', id, { replace: { name: ['Sun'], photo: ['https://else.example/a.png'] } }))[0],
    ).toBe(400);
    expect((await update('chief', id, { delete: ['name'] }))[0]).toBe(400);
    expect((await room.see('chief', id)).title).toBe('Moon');
  });

  it('get by “add” what they lack (section 3.4.2), and not twice what they have one of', async () => {
    const { id } = await made('chief', { name: ['Adding'], content: ['It is there.'] });
    expect(await update('chief', id, { add: { summary: ['Short.'], 'mp-slug': ['adding-it'] } })).toEqual([
      204,
      '',
    ]);
    expect(await room.see('chief', id)).toMatchObject({ excerpt: 'Short.', slug: 'adding-it' });
    expect(await update('chief', id, { add: { summary: ['Longer.'], name: ['Again'] } })).toEqual([
      400,
      'The post has summary and name already, and room for one; send it under “replace”.',
    ]);
    const empty = await room.pitch('chief', 'Without words', { categoryId: 1, bylineId: room.ids.chief });
    expect(await update('chief', empty.id, { add: { content: ['First words.'] } })).toEqual([204, '']);
    expect(textOf(await room.see('chief', empty.id))).toBe('First words.');
    expect((await update('chief', id, { add: { content: ['More.'] } }))[0]).toBe(400);
  });

  it('bring pictures that their key can fetch, and say which methods their addresses accept', async () => {
    const brought = await request(room.url)
      .post('/micropub/media')
      .set('Authorization', await bearer('chief'))
      .attach('file', await red(40), 'red.png');
    const { pathname } = new URL(brought.headers['location']!);
    const fetched = (authorization: string) =>
      request(room.url).get(pathname).set('Authorization', authorization).redirects(0);
    expect((await fetched(await bearer('chief'))).status).toBe(200);
    expect((await fetched('Bearer krt_nothing')).status).toBe(404);
    expect((await request(room.url).get(pathname)).status).toBe(404);
    // RFC 9110, section 15.5.6.
    for (const [path, allow] of [
      ['/micropub', 'GET, HEAD, POST, OPTIONS'],
      ['/micropub/media', 'POST, OPTIONS'],
    ] as const) {
      const put = await request(room.url).put(path);
      expect([put.status, put.headers['allow']]).toEqual([405, allow]);
    }
    for (const method of ['get', 'put'] as const) {
      const at = await request(room.url)[method]('/webmention');
      expect([at.status, at.headers['allow']]).toEqual([405, 'POST']);
    }
  });

  it('are put in the bin and taken out again', async () => {
    const { id } = await made('chief', { name: ['To go'], content: ['x'] });
    const url = `${HOME}/desk/posts/${id}`;
    const act = async (who: Who, action: string) => (await send(who, { action, url })).status;
    expect(await act('writer', 'delete')).toBe(403);
    expect(await act('chief', 'delete')).toBe(204);
    expect((await (await room.as('chief')).get(`/api/posts/${id}`)).status).toBe(404);
    expect([await act('chief', 'delete'), (await ask('chief', `q=source&url=${url}`)).status]).toEqual([
      400, 400,
    ]);
    expect([await act('proofreader', 'undelete'), await act('chief', 'undelete')]).toEqual([400, 204]);
    expect((await room.see('chief', id)).title).toBe('To go');
  });

  it('are told of as properties, whole or some, and only to who may see them', async () => {
    const { id } = await made('chief', { name: ['Told'], content: ['One.'], category: ['Towpath', 'frost'] });
    const url = encodeURIComponent(`${HOME}/desk/posts/${id}`);
    expect((await ask('chief', `q=source&url=${url}`)).body).toMatchObject({
      type: ['h-entry'],
      properties: { name: ['Told'], content: [{ html: '<p>One.</p>' }], category: ['Towpath', 'frost'] },
    });
    expect((await ask('chief', `q=source&properties[]=name&properties[]=photo&url=${url}`)).body).toEqual({
      properties: { name: ['Told'] },
    });
    expect((await ask('proofreader', `q=source&url=${url}`)).body).toEqual({
      error: 'invalid_request',
      error_description: 'That post is not here.',
    });
    // Sent back as it came, the category is no tag.
    await update('chief', id, { replace: { category: ['Towpath', 'frost', 'ice'] } });
    expect((await room.see('chief', id)).tags.map((t) => t.name)).toEqual(['frost', 'ice']);
    expect((await ask('chief', 'q=config')).body).toEqual({
      'media-endpoint': `${HOME}/micropub/media`,
      'syndicate-to': [],
      q: ['config', 'source', 'syndicate-to', 'category'],
    });
    expect((await ask('chief', 'q=category')).body.categories).toEqual(
      expect.arrayContaining(['Engine', 'frost']),
    );
    expect((await ask('chief', 'q=else')).status).toBe(400);
  });

  it('go into a text that is open, and of a published post wait for its update', async () => {
    const { id } = await made('chief', { name: ['Open'], content: ['Before.'] });
    const writer = await Writer.open(room.url, id, await room.cookieOf('chief'));
    await update('chief', id, { replace: { content: ['After.'] } });
    await eventually(async () => writer.text === 'After.');
    writer.close();
    const out = await room.scheduled(fromNow(-1), 'Out already');
    await room.change('chief', out.id, { slug: 'out-already' });
    await release(room.db, out.id);
    expect(
      (await send('chief', { action: 'update', url: `${HOME}/out-already`, replace: { name: ['Changed'] } }))
        .status,
    ).toBe(204);
    expect(await room.see('chief', out.id)).toMatchObject({
      title: 'Changed',
      readersVersion: expect.any(Number),
    });
  });

  it('do what their sender may do, and what the key may, and nothing else', async () => {
    const theirs = await made('chief', { name: ['Not yours'], content: ['Mine.'] });
    expect((await update('writer', theirs.id, { replace: { content: ['Theirs.'] } }))[0]).toBe(403);
    expect((await send('proofreader', entry({ name: ['A draft'] }))).status).toBe(403);
    const own = await made('writer', { name: ['Own'], content: ['Own.'] });
    expect((await update('writer', own.id, { replace: { content: ['Own again.'] } }))[0]).toBe(204);
    expect((await update('writer', own.id, { replace: { 'mp-slug': ['own'] } }))[0]).toBe(403);

    const only = (await keyOf('chief', ['create'])).secret;
    const as = (key: string) => ({ Authorization: `Bearer ${key}` });
    for (const [scope, body] of [
      ['update', { action: 'update', url: `${HOME}/desk/posts/${own.id}`, replace: { name: ['X'] } }],
      ['delete', { action: 'delete', url: `${HOME}/desk/posts/${own.id}` }],
    ] as const)
      expect((await request(room.url).post('/micropub').set(as(only)).send(body)).body).toMatchObject({
        error: 'insufficient_scope',
        scope,
      });
    const picture = await request(room.url)
      .post('/micropub/media')
      .set(as(only))
      .attach('file', await red(9), 'a.png');
    expect([picture.status, picture.body]).toMatchObject([401, { scope: 'media' }]);
    // A session is no key, and a key is no session.
    expect((await (await room.as('chief')).get('/micropub?q=config')).body).toMatchObject({
      error: 'unauthorized',
    });
    expect((await request(room.url).get('/api/people').set(as(only))).status).toBe(401);
  });

  it.each([
    ['nothing', '', JSON_TYPE],
    ['half of JSON', '{"type":', JSON_TYPE],
    ['a letter', 'h=letter&content=x', 'application/x-www-form-urlencoded'],
    ['an empty entry', 'h=entry', 'application/x-www-form-urlencoded'],
    ['XML', '<entry/>', 'application/xml'],
    ['a NUL', JSON.stringify({ type: ['h-entry'], properties: { name: ['a\u0000b'] } }), JSON_TYPE],
    [
      'a long title',
      JSON.stringify({ type: ['h-entry'], properties: { name: ['a'.repeat(5000)] } }),
      JSON_TYPE,
    ],
  ])('refuse %s with a sentence', async (_, body, type) => {
    const answer = await request(room.url)
      .post('/micropub')
      .set({ Authorization: await bearer('chief'), 'Content-Type': type })
      .send(body);
    expect([answer.status, answer.body]).toEqual([
      400,
      { error: 'invalid_request', error_description: expect.stringMatching(/^.{10,}\.$/s) },
    ]);
  });

  it('may come from a program on another site, which learns what it may send', async () => {
    const asked = await request(room.url).options('/micropub').set('Origin', 'https://editor.example');
    expect([asked.status, asked.headers['access-control-allow-headers']]).toEqual([
      204,
      'Authorization, Content-Type',
    ]);
    const post = await send('chief', entry({ name: ['From afar'], content: ['x'] }));
    expect(post.headers).toMatchObject({
      'access-control-allow-origin': '*',
      'access-control-expose-headers': 'Location',
    });
    expect(post.headers['access-control-allow-credentials']).toBeUndefined();
  });
});
