import request from 'supertest';
import { release } from '../posts/release.js';
import { Newsroom, eventually, fromNow, type Who } from '../testing/newsroom.js';

describe('staff on the blog', () => {
  let room: Newsroom;
  let postId: number;
  let path: string;
  beforeAll(async () => {
    room = await Newsroom.make();
    const post = await room.scheduled(fromNow(-60), 'Ice on the pound');
    await release(room.db, post.id);
    postId = post.id;
    path = `/${(await room.see('chief', post.id)).slug}`;
  });
  afterAll(() => room.close());

  const page = async (who: Who | null, at = path) => {
    const asked = request(room.url).get(at);
    return who === null ? asked : asked.set('Cookie', await room.cookieOf(who));
  };
  const act = async (who: Who | null, form: Record<string, unknown>, to = '/act') => {
    const asked = request(room.url).post(to).type('form').redirects(0);
    const version = (await room.see('chief', postId)).version;
    return (who === null ? asked : asked.set('Cookie', await room.cookieOf(who))).send({
      ...{ post: postId, version, back: path },
      ...form,
    });
  };
  const deedsIn = (html: string) =>
    [...html.matchAll(/<button type="submit" name="do" value="([^"]+)"/g)].map((m) => m[1]);

  it('see what they may do beside posts, in a rendering of their own that nobody keeps', async () => {
    for (const at of [path, '/', '/category/towpath']) {
      const own = await page('editor', at);
      expect([own.headers['cache-control'], own.headers['etag']]).toEqual(['private, no-store', undefined]);
      expect(deedsIn(own.text)).toEqual(['hold', 'close comments', 'withdraw']);
      expect(own.text).toContain(`href="/desk/posts/${postId}?blog=1"`);
      expect(own.text).toContain('Begin a post');
    }
    for (const who of ['otherEditor', 'writer', 'proofreader'] as const) {
      const own = await page(who);
      expect([who, deedsIn(own.text), own.text.includes('staff-key')]).toEqual([who, [], true]);
    }
  });

  it('are the only ones: readers get the page that is the same for all', async () => {
    const reader = await page(null);
    expect(reader.text).not.toMatch(/staff|Begin a post|popover/);
    expect(reader.headers['cache-control']).toBe('public, max-age=0, must-revalidate');
    for (const cookie of ['key_roster=s%3Aforged.sig', await room.cookieOf('reader')]) {
      const asked = await request(room.url).get(path).set('Cookie', cookie);
      expect([asked.status, asked.text]).toEqual([200, reader.text]);
    }
    // Nor does what one of them was shown lie anywhere for the next.
    expect((await page(null)).text).toBe(reader.text);
  });

  it('hold a post on top, close comments and withdraw, as the newsroom lets them', async () => {
    const held = await act('editor', { do: 'hold' });
    const { version, spotlight } = await room.see('chief', postId);
    const there = `${path}?did=hold&post=${postId}&version=${version}`;
    expect([held.status, held.headers['location']]).toEqual([303, there]);
    expect(spotlight).not.toBeNull();
    const said = await page('editor', there);
    expect(said.text).toContain('It is held on top for a week.');
    // Said by the address alone, it is said to no reader.
    expect((await page(null, there)).text).not.toContain('It is held on top');
    expect(deedsIn(said.text)).toContain('drop');
    await act('editor', { do: 'drop' });
    await act('chief', { do: 'close comments' });
    expect(await room.see('chief', postId)).toMatchObject({ spotlight: null, comments: false });
    for (const who of ['otherEditor', 'writer', 'proofreader', 'reader', null] as const)
      for (const deed of ['hold', 'open comments', 'withdraw'])
        expect([who, deed, (await act(who, { do: deed })).status]).toEqual([who, deed, 403]);
    const late = await act('editor', { do: 'hold', version: 1 });
    expect([late.status, late.text.includes('in the meantime')]).toEqual([412, true]);
    expect((await act('editor', { do: 'erase' })).status).toBe(400);
    expect((await act('editor', { do: 'constructor' })).status).toBe(400);
    const foreign = await request(room.url)
      .post('/act')
      .type('form')
      .set('Origin', 'https://evil.example')
      .set('Cookie', await room.cookieOf('chief'))
      .send({ post: postId, do: 'withdraw', version: 1 });
    expect(foreign.status).toBe(403);
    expect((await room.see('chief', postId)).stage).toBe('published');
    const gone = await act('editor', { do: 'withdraw', own: 'yes' });
    expect(gone.headers['location']).toMatch(/^\/\?did=withdraw&/);
    expect((await page('editor', gone.headers['location'])).text).not.toContain('value="undo"');
    await eventually(async () => (await page(null)).status === 410);
  });

  it('undo what they just did, as long as nothing else came since', async () => {
    const other = await room.scheduled(fromNow(-50), 'Mooring pins');
    await release(room.db, other.id);
    const at = `/${(await room.see('chief', other.id)).slug}`;
    const done = async (deed: string, who: Who = 'editor') => {
      const { version } = await room.see('chief', other.id);
      return (await act(who, { post: other.id, version, do: deed, back: at })).headers['location']!;
    };
    const undo = async (who: Who, location: string) => {
      const version = new URLSearchParams(location.split('?')[1]).get('version');
      return act(who, { post: other.id, version, do: 'undo', back: at });
    };
    await done('hold');
    const { spotlight } = await room.see('chief', other.id);
    const dropped = await done('drop');
    expect((await page('editor', dropped)).text).toContain('name="do" value="undo"');
    expect((await undo('writer', dropped)).status).toBe(403);
    expect((await undo('editor', dropped)).status).toBe(303);
    expect((await room.see('chief', other.id)).spotlight).toEqual(spotlight);
    const closed = await done('close comments');
    await room.change('chief', other.id, { tags: ['ice'] });
    expect((await undo('editor', closed)).status).toBe(412);
    expect((await room.see('chief', other.id)).comments).toBe(false);
  });

  it('say things under a post in their own name, at once', async () => {
    const on = { comments: true };
    await (await room.as('chief')).patch('/api/site').send(on).expect(200);
    const other = await room.scheduled(fromNow(-40), 'Windlasses');
    await release(room.db, other.id);
    const at = `/${(await room.see('chief', other.id)).slug}`;
    expect((await page('writer', at)).text).toContain('You say it as <b>');
    expect((await page(null, at)).text).not.toContain('You say it as');
    const form = { post: other.id, name: 'Somebody else', email: 'x@y.example', text: 'Ask at the yard.' };
    expect((await act('writer', form, '/comment')).status).toBe(303);
    const [comment] = await room.db('comments').where({ post_id: other.id });
    const { name } = await room.db('people').where({ id: room.ids.writer }).first<{ name: string }>('name');
    expect(comment).toMatchObject({ state: 'approved', name, email: '', author_key: null });
    const seen = await page(null, at);
    expect(seen.text).toContain('Ask at the yard.');
    expect(seen.text).not.toContain('Somebody else');
    // A reader of the newsroom's is a reader.
    expect((await act('reader', form, '/comment')).text).toContain('Others see it once');
  });

  it('lead back to the blog and nowhere else', async () => {
    for (const back of [
      '//evil.example',
      'https://evil.example',
      '/\\evil.example',
      '/a?b',
      'javascript:alert(1)',
    ])
      expect((await act('chief', { do: 'open comments', back })).headers['location']).toMatch(
        /^\/\?did=open\+comments&post=\d+&version=\d+$/,
      );
  });

  it('begin a post, who may', async () => {
    const begun = await act('writer', { title: '  Locks at   night ' }, '/begin');
    const id = Number(/\/desk\/posts\/(\d+)\?blog=1$/.exec(begun.headers['location']!)![1]);
    expect(await room.see('chief', id)).toMatchObject({ title: 'Locks at night', stage: 'pitch' });
    expect((await act('proofreader', { title: 'No' }, '/begin')).status).toBe(403);
    expect((await act('writer', { title: ' ' }, '/begin')).status).toBe(400);
    expect((await act(null, { title: 'No' }, '/begin')).status).toBe(403);
  });
});
