import request from 'supertest';
import sharp from 'sharp';
import { anybody, mayRead, shortCode, type Access, type ReaderRights } from '@keyroster/core';
import { release } from '../posts/release.js';
import { relatePost } from '../pages/relate.js';
import { mayReadSql } from './readable.js';
import { digestOf } from '../http/secrets.js';
import { Newsroom, fromNow } from '../testing/newsroom.js';

/** Posts of every access, and one that is part of a serial; each with a word that stands nowhere else. */
const POSTS = {
  everyone: { access: 'everyone', word: 'quillon' },
  members: { access: 'members', word: 'brindlewharf' },
  password: { access: 'password', word: 'castlegarrow' },
  staff: { access: 'staff', word: 'dunnockmere' },
  part: { access: 'everyone', word: 'elverstoke' },
} as const satisfies Record<string, { access: Access; word: string }>;
type Kind = keyof typeof POSTS;
const KINDS = Object.keys(POSTS) as Kind[];
const PASSWORD = 'open, gate';

const READERS = ['anybody', 'member', 'with the password', 'a day later', 'everything', 'staff'] as const;
type ReaderKind = (typeof READERS)[number];

describe('who may read', () => {
  let room: Newsroom;
  const ids = {} as Record<Kind, number>;
  const slugs = {} as Record<Kind, string>;
  const pictures = {} as Record<Kind, number>;
  const cookies = {} as Record<ReaderKind, string>;
  /** In which they were published, by the blog's clock. */
  let month: string;
  const rights = (reader: ReaderKind): ReaderRights => ({
    staff: reader === 'staff',
    member: reader === 'member' || reader === 'everything',
    opened: reader === 'with the password' || reader === 'everything' ? [ids.password] : [],
    withheld: reader === 'a day later' || reader === 'everything' ? [] : [ids.part],
  });
  const get = (path: string, reader: ReaderKind) =>
    request(room.url).get(path).set('Cookie', cookies[reader]).redirects(0);

  beforeAll(async () => {
    room = await Newsroom.make();
    const chief = await room.as('chief');
    for (const [at, kind] of KINDS.entries()) {
      const { access, word } = POSTS[kind];
      const picture = await chief.post('/api/media').attach(
        'file',
        await sharp({ create: { width: 40 + at, height: 30, channels: 3, background: '#2f6f9f' } })
          .png()
          .toBuffer(),
        'p.png',
      );
      pictures[kind] = picture.body.id;
      const post = await room.cleared(`The ${word} lock and its long pound`);
      await room.write(
        'chief',
        post.id,
        `Below the ${word} lock the pound runs dry each summer, as pounds do.`,
      );
      const changed = await room.change('chief', post.id, {
        access,
        ...(access === 'password' ? { readingPassword: PASSWORD } : {}),
        excerpt: `All about ${word}.`,
        tags: ['drought', `of-${word}`],
        bylineId: at % 2 ? room.ids.otherWriter : room.ids.writer,
        leadPicture: { media: pictures[kind], alt: `A gate at ${word}` },
        spotlight: { from: '2020-01-01', until: '2099-01-01' },
      });
      expect([kind, changed.status]).toEqual([kind, 200]);
      const moved = await room.move('chief', post.id, { to: 'scheduled', runAt: fromNow(-60) });
      expect([kind, moved.status, moved.text.slice(0, 200)]).toEqual([kind, 200, expect.anything()]);
      await release(room.db, post.id);
      ids[kind] = post.id;
      const { slug, runLocal } = await room.see('chief', post.id);
      slugs[kind] = slug!;
      month = runLocal!.slice(0, 7);
    }
    for (const kind of KINDS) await relatePost(room.db, ids[kind]);
    const made = await chief.post('/api/serials').send({ title: 'The long pound', intro: '' });
    const serial = await chief.put(`/api/serials/${made.body.id}`).send({
      ...{ title: 'The long pound', intro: '', accepting: true },
      parts: [{ postId: ids.part, delay: { days: 1, hours: 0, minutes: 0 } }],
    });
    expect(serial.status).toBe(200);
    const site = await chief.patch('/api/site').send({
      members: true,
      start: { intro: 'Begin.', posts: Object.values(ids) },
      menu: Object.values(ids).map((id) => ({ kind: 'post', id, label: '' })),
      panels: ['recent posts', 'spotlight', 'months'].map((kind) => ({
        ...{ kind, shown: true, title: '', text: '', links: [], count: 9 },
      })),
    });
    expect(site.status).toBe(200);
    const { identities } = room.running.services;
    await identities.refresh();
    const early = identities.newVisit(1, Date.now() - 25 * 3_600_000);
    const late = identities.newVisit(1, Date.now());
    const [member] = await room
      .db('members')
      .insert({ blog_id: 1, email: 'm@test.example', first_visit: room.db.raw('now()') })
      .returning<{ id: number }[]>('id');
    await room.db('member_sessions').insert({
      digest: digestOf('a-session'),
      member_id: member!.id,
      expires_at: room.db.raw(`now() + interval '1 day'`),
    });
    const opened = identities.withOpened(undefined, 1, ids.password, PASSWORD);
    cookies.anybody = 'other=1';
    cookies.member = `kr_member_1=a-session; kr_visit_1=${late}`;
    cookies['with the password'] = `kr_opened_1=${opened}`;
    cookies['a day later'] = `kr_visit_1=${early}`;
    cookies.everything = `${cookies.member.split(';')[0]}; kr_opened_1=${opened}; kr_visit_1=${early}`;
    cookies.staff = await room.cookieOf('proofreader');
  });
  afterAll(() => room.close());

  /** Which of the posts something names, by words of theirs that stand nowhere else. */
  const named = (text: string) => KINDS.filter((kind) => new RegExp(POSTS[kind].word, 'i').test(text));
  const readableFor = (reader: ReaderKind) =>
    KINDS.filter((kind) =>
      mayRead(rights(reader), { id: ids[kind], stage: 'published', access: POSTS[kind].access }),
    );

  it('is different for each of these readers, or the table below would show nothing', () => {
    const sets = READERS.map((reader) => readableFor(reader).join());
    expect(sets).toEqual([
      'everyone',
      'everyone,members',
      'everyone,password',
      'everyone,part',
      'everyone,members,password,part',
      'everyone,members,password,staff,part',
    ]);
  });

  /** Everything that tells of posts; `all` are those that tell the same to whoever asks. */
  const lists = ['', '/category/towpath', '/tag/drought', '/writer/writer-test', '/writer/otherwriter-test'];
  const DOORS: [string, () => string, 'their own' | 'the same for all'][] = [
    ['front page', () => '/', 'their own'],
    ['category', () => '/category/towpath', 'their own'],
    ['tag', () => '/tag/drought', 'their own'],
    ['year', () => `/${month.slice(0, 4)}`, 'their own'],
    ['month', () => `/${month.replace('-', '/')}`, 'their own'],
    ['months', () => '/archive', 'their own'],
    ['writers', () => '/writers', 'their own'],
    ['start page', () => '/start', 'their own'],
    ['search', () => '/search?q=pound', 'their own'],
    ['no such page', () => '/the-long-pound-runs', 'their own'],
    ['post that is related to all', () => `/${slugs.everyone}`, 'their own'],
    ['sitemap', () => '/sitemap.xml', 'the same for all'],
    ...lists.flatMap((list) =>
      ['atom', 'rss', 'json'].map((as): [string, () => string, 'the same for all'] => [
        `feed ${list} ${as}`,
        () => `${list}/feed.${as}`,
        'the same for all',
      ]),
    ),
  ];

  it.each(READERS.flatMap((reader) => DOORS.map(([door, path, kind]) => ({ reader, door, path, kind }))))(
    '$door for $reader names what they may read and nothing else',
    async ({ reader, path, kind }) => {
      // As it is made, and as it was kept.
      for (let time = 0; time < 2; time++) {
        const answer = await get(path(), reader);
        const may = kind === 'their own' ? readableFor(reader) : ['everyone'];
        const told = named(answer.text);
        expect(told.filter((post) => !may.includes(post))).toEqual([]);
        // Feeds of writers name what is theirs alone.
        if (kind === 'their own') expect(told).toEqual(may);
        else if (!path().startsWith('/writer')) expect(told).toEqual(may);
      }
    },
  );

  it.each(READERS.flatMap((reader) => KINDS.map((kind) => ({ reader, kind }))))(
    'the page, short address and picture of what is for $kind, for $reader',
    async ({ reader, kind }) => {
      const may = readableFor(reader).includes(kind);
      const page = await get(`/${slugs[kind]}`, reader);
      const gate = !may && (kind === 'members' || kind === 'password');
      expect(page.status).toBe(may ? 200 : gate ? 403 : 404);
      // What was asked for is the reader's own, also where it is offered to be searched.
      const said = page.text.replaceAll(slugs[kind], '').replaceAll(slugs[kind].replaceAll('-', ' '), '');
      if (!may) expect(named(said)).not.toContain(kind);
      expect((await get(`/s/${shortCode(ids[kind])}`, reader)).status).toBe(may ? 301 : 404);
      expect((await get(`/media/${pictures[kind]}`, reader)).status).toBe(may ? 200 : 404);
      expect((await get(`/tag/${POSTS[kind].word}`, reader)).status).toBe(may ? 200 : 404);
    },
  );

  it('lets nobody else keep what is not for all', async () => {
    for (const reader of READERS.filter((r) => r !== 'anybody')) {
      const kind = readableFor(reader).at(-1)!;
      expect((await get(`/${slugs[kind]}`, reader)).headers['cache-control']).toMatch(/^private|no-store/);
      expect((await get(`/media/${pictures[kind]}`, reader)).headers['cache-control']).toMatch(/^private/);
    }
    expect((await get(`/${slugs.everyone}`, 'anybody')).headers['vary']).toBe('Accept-Encoding, Cookie');
  });

  it('counts nobody’s word that they came earlier', async () => {
    const [minute, mac] = cookies['a day later'].replace('kr_visit_1=', '').split('.') as [string, string];
    const earlier = (parseInt(minute, 36) - 5000).toString(36);
    for (const forged of [
      `${earlier}.${mac}`,
      minute,
      `${minute}.`,
      `zzzzzzzz.${mac}`,
      '%00',
      'a'.repeat(5000),
    ]) {
      const page = await request(room.url).get('/').set('Cookie', `kr_visit_1=${forged}`);
      expect([page.status, named(page.text)]).toEqual([200, ['everyone']]);
      // And is given a first visit that counts.
      expect(page.headers['set-cookie']).toEqual([
        expect.stringMatching(/^kr_visit_1=\w+\.[\w-]{22}; Path=\/; /),
      ]);
    }
  });

  it('begins to count at the first page, for what is no program, and only where something comes later', async () => {
    const { visits } = room.running.services;
    const counted = async () => {
      await visits.flush();
      const row = await room.db('first_visits').sum<{ sum: string | null }[]>('readers as sum').first();
      return Number(row?.sum ?? 0);
    };
    const before = await counted();
    const first = await request(room.url).get('/').set('User-Agent', 'Mozilla/5.0 (X11)');
    const cookie = first.headers['set-cookie']![0]!.split(';')[0]!;
    expect(first.headers['cache-control']).toBe('private, no-cache');
    expect(await counted()).toBe(before + 1);
    const again = await request(room.url)
      .get('/')
      .set('Cookie', cookie)
      .set('User-Agent', 'Mozilla/5.0 (X11)');
    expect(again.headers['set-cookie']).toBeUndefined();
    expect(again.headers['cache-control']).toBe('public, max-age=0, must-revalidate');
    await request(room.url).get('/').set('User-Agent', 'somebot/2');
    await request(room.url).get('/feed.atom').set('User-Agent', 'Mozilla/5.0 (X11)');
    await request(room.url).get('/nothing-here').set('User-Agent', 'Mozilla/5.0 (X11)');
    await request(room.url).head('/').set('User-Agent', 'Mozilla/5.0 (X11)');
    expect(await counted()).toBe(before + 1);
  });

  it('sends nothing of these posts to other places', async () => {
    for (const kind of KINDS.filter((k) => k !== 'everyone')) {
      const rows = await room
        .db('posts as p')
        .where('p.id', ids[kind])
        .whereRaw(mayReadSql('p'))
        .pluck('p.id');
      expect([kind, rows]).toEqual([kind, []]);
    }
    expect(mayRead(anybody([ids.part]), { id: ids.part, stage: 'published', access: 'everyone' })).toBe(
      false,
    );
  });

  it('takes a password a few times, and opens what it is of', async () => {
    const form = (password: string, address: string) =>
      request(room.url)
        .post('/open')
        .type('form')
        .set('X-Forwarded-For', address)
        .send({ post: ids.password, back: `/${slugs.password}`, password });
    const wrong = await form('sesame', 'a');
    expect([wrong.status, named(wrong.text.replaceAll(slugs.password, ''))]).toEqual([403, ['everyone']]);
    expect(wrong.text).toContain('That is not the password.');
    const right = await form(PASSWORD, 'a');
    expect([right.status, right.headers['location']]).toEqual([303, `/${slugs.password}`]);
    const cookie = right.headers['set-cookie']![0]!;
    expect(cookie).toMatch(/HttpOnly; SameSite=Lax/i);
    const open = (mark: string) => request(room.url).get(`/${slugs.password}`).set('Cookie', mark);
    expect((await open(cookie.split(';')[0]!)).status).toBe(200);
    // Thirty at once are as many as thirty one after the other.
    const many = await Promise.all(Array.from({ length: 30 }, (_, i) => form(`guess ${i}`, 'a')));
    expect(many.filter((a) => a.status === 403).length).toBeLessThanOrEqual(10);
    expect(many.some((a) => a.status === 429)).toBe(true);
    expect((await form(PASSWORD, 'a')).status).toBe(429);
    // Another password makes the old one worth nothing.
    await room.change('chief', ids.password, { readingPassword: 'another' });
    expect((await open(cookie.split(';')[0]!)).status).toBe(403);
    await room.change('chief', ids.password, { readingPassword: PASSWORD });
  });

  it('tells the password to who decides about the post alone', async () => {
    for (const who of ['chief', 'editor'] as const)
      expect((await room.see(who, ids.password)).readingPassword).toBe(PASSWORD);
    for (const who of ['writer', 'otherEditor', 'proofreader'] as const)
      expect((await room.see(who, ids.password)).readingPassword).toBe('');
    const versions = await (await room.as('writer')).get(`/api/posts/${ids.password}/versions`);
    expect(JSON.stringify(versions.body)).not.toContain(PASSWORD);
  });

  it('lets no post out that asks for a password and has none', async () => {
    const post = await room.cleared('No password yet');
    await room.change('chief', post.id, { access: 'password' });
    const refused = await room.move('chief', post.id, { to: 'scheduled', runAt: fromNow(3600) });
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      expect.stringContaining('It needs the password that readers are to be asked for.'),
    ]);
    const emptied = await room.change('chief', ids.password, { readingPassword: '' });
    expect(emptied.status).toBe(409);
  });

  it('shows a post to who has a link, with its pictures, until it is taken back', async () => {
    const draft = await room.cleared('Not out yet');
    await room.change('chief', draft.id, { leadPicture: { media: pictures.staff, alt: 'A gate' } });
    const writer = await room.as('writer');
    const made = await writer.post(`/api/posts/${draft.id}/preview-links`).send({ label: 'Pilot', days: 3 });
    // Cleared, it is no longer the writer's to show.
    expect(made.status).toBe(403);
    const shown = await (
      await room.as('editor')
    )
      .post(`/api/posts/${draft.id}/preview-links`)
      .send({ label: 'The lock keeper', days: 3 });
    expect(shown.status).toBe(201);
    const path = new URL(shown.body.address).pathname;
    const page = await request(room.url).get(path);
    expect([page.status, page.headers['cache-control'], page.headers['referrer-policy']]).toEqual([
      200,
      'private, no-store',
      'no-referrer',
    ]);
    expect(page.text).toContain('Not out yet');
    expect(page.text).toContain('noindex');
    const cookie = page.headers['set-cookie']![0]!.split(';')[0]!;
    const picture = (id: number) => request(room.url).get(`/media/${id}`).set('Cookie', cookie);
    expect((await picture(pictures.staff)).status).toBe(200);
    expect((await picture(pictures.members)).status).toBe(404);
    const listed = await (await room.as('chief')).get(`/api/posts/${draft.id}/preview-links`);
    expect(listed.body).toEqual([expect.objectContaining({ label: 'The lock keeper', opened: 1 })]);
    expect(JSON.stringify(listed.body)).not.toContain(path.split('/').at(-1));
    for (const who of ['otherEditor', 'otherWriter', 'proofreader'] as const)
      expect([403, 404]).toContain(
        (await (await room.as(who)).delete(`/api/preview-links/${shown.body.link.id}`)).status,
      );
    await (await room.as('chief')).delete(`/api/preview-links/${shown.body.link.id}`).expect(204);
    expect((await request(room.url).get(path)).status).toBe(410);
    expect((await picture(pictures.staff)).status).toBe(404);
    // Time ends it as well.
    const other = await (
      await room.as('chief')
    )
      .post(`/api/posts/${draft.id}/preview-links`)
      .send({ label: '', days: 1 });
    await room.db('preview_links').update({ expires_at: room.db.raw(`now() - interval '1 second'`) });
    expect((await request(room.url).get(new URL(other.body.address).pathname)).status).toBe(410);
  });
});
