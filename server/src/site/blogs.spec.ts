import request from 'supertest';
import sharp from 'sharp';
import type { CheckContext, MediaView, NewsroomBlog, PostView, SessionView } from '@keyroster/contract';
import { release } from '../posts/release.js';
import { fromNow, Newsroom, type Who } from '../testing/newsroom.js';

describe('several blogs in one newsroom', () => {
  let room: Newsroom;
  let weir: NewsroomBlog;
  const HEADER = 'Key-Roster-Blog';
  const begin = async (who: Who, more: object) =>
    (await room.as(who)).post('/api/blogs').send({
      title: 'Weir letters',
      tagline: 'By the water',
      zone: 'Europe/Dublin',
      host: null,
      path: '/weir',
      ...more,
    });
  /** Somebody's request as a page of the second blog makes it. */
  const there = async (
    who: Who,
    method: 'get' | 'post' | 'patch' | 'delete',
    path: string,
    body?: object,
  ) => {
    const asked = (await room.as(who))[method](path).set(HEADER, String(weir.id));
    return body ? asked.send(body) : asked;
  };
  const reads = (path: string, host = '127.0.0.1') => request(room.url).get(path).set('Host', host);
  const outThere = async (title: string) => {
    const made = (await there('chief', 'post', '/api/posts', { title, categoryId: null })).body as PostView;
    await publishThere(made.id, title);
    return made.id;
  };
  const publishThere = async (id: number, title: string) => {
    const [category] = await room.db('categories').where({ blog_id: weir.id }).select<{ id: number }[]>('id');
    await room
      .db('all_posts')
      .where({ id })
      .update({
        category_id: category!.id,
        byline_id: room.ids.chief,
        slug: title.toLowerCase().replace(/\W+/g, '-'),
        words: 3,
        body_text: 'Water over stone.',
        stage: 'scheduled',
        scheduled_at: new Date(),
        run_local: '2026-11-01T08:00:00',
        run_zone: 'Europe/Dublin',
        run_at: '2026-11-01T08:00:00Z',
      });
    await release(room.db, id);
  };

  beforeAll(async () => {
    room = await Newsroom.make();
    weir = (await begin('chief', {})).body as NewsroomBlog;
    await there('chief', 'post', '/api/categories', { name: 'Water', hue: 2 });
  });
  afterAll(() => room.close());

  it('each stand at an address that nothing else has', async () => {
    expect(weir).toMatchObject({ path: '/weir', role: 'managing editor', posts: 0, people: 1 });
    expect(weir.home).toBe(`${room.running.services.settings.publicUrl}/weir`);
    expect((await begin('editor', { path: '/mine' })).status).toBe(403);
    const post = await room.cleared('Standing in the way');
    await room.change('chief', post.id, { slug: 'in-the-way-here' });
    for (const [place, why] of [
      [{ path: '/weir' }, 'Weir letters'],
      [{ path: '' }, 'Test Lock'],
      [{ path: '/desk' }, 'leads elsewhere'],
      [{ path: '/in-the-way-here' }, 'Standing in the way'],
    ] as const) {
      const answer = await begin('chief', place);
      expect([answer.status, answer.body.detail]).toEqual([409, expect.stringContaining(why)]);
    }
    // Nor does a post come to stand where a blog does.
    const taken = await room.change('chief', post.id, { slug: 'weir' });
    expect([taken.status, taken.body.detail]).toEqual([409, expect.stringContaining('Weir letters')]);
    for (const wrong of [{ path: 'weir' }, { path: '/We ir' }, { path: '/a/b' }, { host: 'http://x' }])
      expect((await begin('chief', wrong)).status).toBe(400);
  });

  it('show readers their own posts and nothing of each other', async () => {
    const here = await room.scheduled(fromNow(-1), 'Heron on the lock');
    await release(room.db, here.id);
    await outThere('Heron at the weir');
    await room.running.services.places.refresh();
    const front = await reads('/weir/');
    expect(front.text).toContain('<a href="/weir/heron-at-the-weir">');
    expect(front.text).not.toContain('Heron on the lock');
    expect(front.text).toContain('href="/weir/look.css');
    expect(front.text).toContain('href="/assets/site.css"');
    expect((await reads('/weir')).status).toBe(200);
    const post = await reads('/weir/heron-at-the-weir');
    expect([
      post.status,
      post.text.includes(`rel="canonical" href="${weir.home}/heron-at-the-weir"`),
    ]).toEqual([200, true]);
    expect((await reads('/')).text).not.toContain('Heron at the weir');
    expect((await reads('/heron-at-the-weir')).status).toBe(404);
    expect((await reads(`/weir/${here.slug}`)).status).toBe(404);
    expect((await reads('/weir/search?q=heron')).text).toContain('1 post');
    expect((await reads('/weir/search?q=heron')).text).not.toContain('on the lock');
    for (const path of [
      '/weir/feed.atom',
      '/weir/sitemap.xml',
      '/weir/archive',
      '/weir/writers',
      '/weir/look.css',
    ])
      expect((await reads(path)).status).toBe(200);
    expect((await reads('/weir/feed.atom')).text).toContain(`${weir.home}/heron-at-the-weir`);
    expect((await reads('/weir/nothing')).text).toContain('Weir letters');
  });

  it('can have a host of their own, and a host that no blog has changes nothing', async () => {
    const put = await (
      await room.as('chief')
    )
      .put('/api/blog/place')
      .set(HEADER, String(weir.id))
      .send({ host: 'weir.example', path: '' });
    expect(put.body.home).toBe('http://weir.example');
    await room.running.services.places.refresh();
    const own = await reads('/heron-at-the-weir', 'weir.example');
    expect([own.status, own.text.includes('href="http://weir.example/heron-at-the-weir"')]).toEqual([
      200,
      true,
    ]);
    expect((await reads('/weir/')).status).toBe(404);
    // Neither a foreign host nor what a proxy might say gets into a page that others are shown.
    const odd = await reads('/', 'evil.example').set('X-Forwarded-Host', 'evil.example');
    expect(odd.text).toContain('Test Lock');
    expect(odd.text).not.toContain('evil.example');
    await (
      await room.as('chief')
    )
      .put('/api/blog/place')
      .set(HEADER, String(weir.id))
      .send({ host: null, path: '/weir' });
    await room.running.services.places.refresh();
  });

  it('have their own people, each with a role of their own there', async () => {
    const email = 'editor@test.example';
    const add = (role: string, address = email) =>
      there('chief', 'post', '/api/people', {
        name: 'Somebody else',
        email: address,
        role,
        categories: [],
        password: 'a long enough password',
      });
    const added = await add('contributor');
    expect([added.status, added.body.name, added.body.role]).toEqual([201, 'editor Test', 'contributor']);
    expect((await add('editor')).status).toBe(409);
    // Their password is still their own.
    room.forget('editor');
    const session = (await (await room.as('editor')).get('/api/session')).body as SessionView;
    expect([session.me?.role, session.blogs.map((b) => b.role)]).toEqual([
      'editor',
      ['editor', 'contributor'],
    ]);
    const view = (await there('editor', 'get', '/api/session')).body as SessionView;
    expect([view.me?.role, view.blog?.title]).toEqual(['contributor', 'Weir letters']);
    expect((await there('editor', 'get', '/api/site')).status).toBe(403);
    // Who is not on a blog does nothing there, and is told so rather than signed out.
    const foreign = await there('writer', 'get', '/api/posts');
    expect([foreign.status, foreign.body.code]).toEqual([403, 'not-yours']);
    expect((await (await room.as('writer')).get('/api/posts')).status).toBe(200);
  });

  it('are worked for one at a time, as the session or the page says', async () => {
    const chief = await room.as('chief');
    const chosen = await chief.post('/api/session/blog').send({ blogId: weir.id });
    expect(chosen.body.blog.title).toBe('Weir letters');
    expect((await chief.get('/api/session')).body.blog.title).toBe('Weir letters');
    expect((await chief.get('/api/session').set(HEADER, '1')).body.blog.title).toBe('Test Lock');
    expect((await chief.get('/api/session?blog=1')).body.blog.title).toBe('Test Lock');
    await chief.post('/api/session/blog').send({ blogId: 1 });
    const writer = await room.as('writer');
    expect((await writer.post('/api/session/blog').send({ blogId: weir.id })).status).toBe(404);
  });

  it('stand at no address that anything on any blog answers at, with a host or without', async () => {
    const post = await room.scheduled(fromNow(-1), 'Old name of it');
    await release(room.db, post.id);
    const { slug } = await room.see('chief', post.id);
    await room.change('chief', post.id, { slug: 'new-name-of-it' });
    const chief = await room.as('chief');
    const move = (host: string | null, path: string) => chief.put('/api/blog/place').send({ host, path });
    const theme = JSON.stringify({
      name: 'Ropewalk',
      home: 'https://shop.example',
      color: { paper: { $value: '#fffaf0' }, ink: { $value: '#2a1c0b' }, act: { $value: '#8a3d00' } },
      header: [{ label: 'Rope', url: 'https://shop.example/rope' }],
      footer: [{ label: 'Returns', url: 'https://shop.example/returns' }],
    });
    const mount = async (host: string, path: string) => {
      return chief
        .put('/api/site/around')
        .set(HEADER, String(weir.id))
        .send({ theme, mount: { host, path } });
    };
    const place = (host: string | null, path: string) =>
      chief.put('/api/blog/place').set(HEADER, String(weir.id)).send({ host, path });
    expect((await move('locks.example', '')).status).toBe(200);
    const asWas = await room.db('blogs').where({ id: weir.id }).first('host', 'path');
    for (const path of [`/${slug}`, '/new-name-of-it', '/archive', '/2026', '']) {
      const answer = await place('locks.example', path);
      expect([path, answer.status]).toEqual([path, 409]);
      expect(answer.text).not.toContain('Old name of it');
    }
    for (const path of ['/new-name-of-it', '/archive', '']) {
      const answer = await mount('locks.example', path);
      expect([path, answer.status, answer.body.code]).toEqual([path, 409, 'taken']);
    }
    expect(await room.db('blogs').where({ id: weir.id }).first('host', 'path')).toEqual(asWas);
    expect((await place('locks.example', '/beside')).status).toBe(200);
    // Nor does a blog come to stand where another one below would hide its posts.
    await place(asWas.host, asWas.path);
    await move(null, '');
    await room.change('chief', post.id, { slug: 'beside' });
    await place('locks.example', '/beside');
    expect((await move('locks.example', '')).status).toBe(409);
    await place(asWas.host, asWas.path);
  });

  it('keep their posts from each other, whatever number is asked for', async () => {
    const { id } = await room.cleared('Only on the first');
    for (const [method, path, body] of [
      ['get', `/api/posts/${id}`],
      ['get', `/api/posts/${id}/notes`],
      ['get', `/api/posts/${id}/versions`],
      ['get', `/api/posts/${id}/chores`],
      ['get', `/api/posts/${id}/preview`],
      ['get', `/api/posts/${id}/rollout`],
      ['post', `/api/posts/${id}/moves`, { to: 'drafting', note: 'x' }],
      ['post', `/api/posts/${id}/copies`, {}],
    ] as const) {
      const answer = await there('chief', method, path, body);
      expect([path, answer.status]).toEqual([path, 404]);
    }
    const batch = await there('chief', 'post', '/api/batches', {
      ids: [id],
      changes: [{ kind: 'comments', to: false }],
    });
    expect([400, 404]).toContain(
      batch.status === 201 ? (batch.body.counts.changes === 0 ? 404 : 201) : batch.status,
    );
  });

  it('take posts from each other with their pictures; moved, the one before goes to the bin', async () => {
    const bytes = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#17604f' } })
      .png()
      .toBuffer();
    const chief = await room.as('chief');
    const media = (await chief.post('/api/media').attach('file', bytes, 'lamp.png')).body as MediaView;
    const post = await room.cleared('Goes upstream');
    await room.change('chief', post.id, { leadPicture: { media: media.id, alt: 'A lamp' } });
    const copy = await chief.post(`/api/posts/${post.id}/copies`).send({ blogId: weir.id });
    expect([copy.status, copy.body.stage, copy.body.byline.id]).toEqual([201, 'pitch', room.ids.chief]);
    expect((await chief.get(`/api/posts/${copy.body.id}`)).status).toBe(404);
    const seen = (await there('chief', 'get', `/api/posts/${copy.body.id}`)).body as PostView;
    expect(seen.title).toBe('Goes upstream');
    expect(seen.leadPicture?.media).not.toBe(media.id);
    const own = await room
      .db('media')
      .where({ id: seen.leadPicture!.media })
      .first<{ blog_id: number }>('blog_id');
    expect(own.blog_id).toBe(weir.id);
    // Twice, and the picture is there once.
    await chief.post(`/api/posts/${post.id}/copies`).send({ blogId: weir.id, move: true });
    expect(await room.db('media').where({ blog_id: weir.id })).toHaveLength(1);
    expect((await chief.get(`/api/posts/${post.id}`)).status).toBe(404);
    expect(await room.db('all_posts').where({ id: post.id }).whereNotNull('binned_at')).toHaveLength(1);
    const out = await room.scheduled(fromNow(-1), 'Stays before readers');
    await release(room.db, out.id);
    const refused = await chief.post(`/api/posts/${out.id}/copies`).send({ blogId: weir.id, move: true });
    expect([refused.status, refused.body.detail]).toEqual([409, expect.stringContaining('Withdraw it')]);
    // Withdrawn it moves, and what readers knew leads to it once it is published there.
    await room.move('chief', out.id, { to: 'withdrawn' });
    const moved = await chief.post(`/api/posts/${out.id}/copies`).send({ blogId: weir.id, move: true });
    expect(moved.status).toBe(201);
    expect((await reads(`/${out.slug}`)).status).toBe(404);
    // A post that links to it is told so until it is out there.
    const links = await room.cleared('Links to what moved');
    const text = { type: 'text', text: 'There.', marks: [{ type: 'link', attrs: { href: `/${out.slug}` } }] };
    await room.write('chief', links.id, { type: 'doc', content: [{ type: 'paragraph', content: [text] }] });
    const found = async () =>
      ((await room.call('chief', 'get', `/api/posts/${links.id}/checks`)).body as CheckContext).pages;
    expect(await found()).toEqual({ [`/${out.slug}`]: 'missing' });
    await publishThere(moved.body.id as number, 'Stays at the weir');
    const led = await reads(`/${out.slug}`);
    expect([led.status, led.headers['location']]).toEqual([301, `${weir.home}/stays-at-the-weir`]);
    expect(await found()).toEqual({ [`/${out.slug}`]: 'published' });
    // Whoever is not there takes nothing there; whoever does not plan a post moves none away.
    const writer = await room.as('writer');
    const stays = await room.scheduled(fromNow(-1), 'Before readers here');
    await release(room.db, stays.id);
    expect((await writer.post(`/api/posts/${stays.id}/copies`).send({ blogId: weir.id })).status).toBe(404);
    const other = await room.cleared('Not theirs to move');
    await room.db('editor_categories').where({ person_id: room.ids.editor }).delete();
    const editor = await room.as('editor');
    expect(
      (await editor.post(`/api/posts/${other.id}/copies`).send({ blogId: weir.id, move: true })).status,
    ).toBe(403);
  });

  it('show pictures and posts for staff to the staff of that blog alone', async () => {
    const bytes = await sharp({ create: { width: 50, height: 40, channels: 3, background: '#8a3d00' } })
      .png()
      .toBuffer();
    const added = await (
      await room.as('chief')
    )
      .post('/api/media')
      .set(HEADER, String(weir.id))
      .attach('file', bytes, 'hidden.png');
    const { id } = added.body as MediaView;
    const staff = await outThere('Only for the weir');
    await room.db('all_posts').where({ id: staff }).update({ access: 'staff' });
    // The editor is on both blogs, the writer on the first alone; what the session is at does not matter.
    for (const [who, status] of [
      ['chief', 200],
      ['writer', 404],
    ] as const) {
      const agent = await room.as(who);
      expect([who, (await agent.get(`/media/${id}`)).status]).toEqual([who, status]);
      expect([who, (await agent.get('/weir/only-for-the-weir')).status]).toEqual([who, status]);
    }
  });
});
