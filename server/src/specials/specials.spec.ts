import { strFromU8, unzipSync } from 'fflate';
import { HtmlValidate } from 'html-validate';
import sharp from 'sharp';
import request from 'supertest';
import type { SpecialDraft, SpecialView } from '@keyroster/contract';
import { LOOK_KEYS } from '@keyroster/core';
import { release } from '../posts/release.js';
import { Newsroom, eventually, fromNow, type Who } from '../testing/newsroom.js';

const WORDS = 'Ring at the bell and wait where the keeper sees you, out of the way of the gates.';

describe('specials', () => {
  let room: Newsroom;
  /** What a browser without anything gets, at a path of the newsroom's address or of another host. */
  const get = (path: string, host?: string) => {
    const asked = request(room.url).get(path);
    return host === undefined ? asked : asked.set('Host', host);
  };
  beforeAll(async () => {
    room = await Newsroom.make({ jobs: true });
  });
  afterAll(() => room.close());

  const out = async (title: string): Promise<number> => {
    const { id } = await room.cleared(title);
    await room.change('chief', id, {
      slug: title
        .toLowerCase()
        .match(/[a-z0-9]+/g)!
        .join('-'),
    });
    await room.move('editor', id, { to: 'scheduled', runAt: fromNow(-1) });
    await release(room.db, id);
    return id;
  };
  const begin = async (title: string, who: Who = 'editor'): Promise<SpecialView> =>
    (await (await room.as(who)).post('/api/specials').send({ title })).body;
  const put = async (special: SpecialView, changes: Partial<SpecialDraft>) =>
    (await room.as('editor'))
      .put(`/api/specials/${special.id}`)
      .set('If-Match', `"${special.version}"`)
      .send({ ...draftOf(special), ...changes });
  const draftOf = ({ title, intro, slug, host, look, coverId, coverAlt, parts }: SpecialView) => ({
    ...{ title, intro, slug, host, look, coverId, coverAlt },
    postIds: parts.map((p) => p.id),
  });
  const publish = async (special: SpecialView, published = true) =>
    (await room.as('editor'))
      .post(`/api/specials/${special.id}/published`)
      .set('If-Match', `"${special.version}"`)
      .send({ published });
  const see = async (id: number): Promise<SpecialView> =>
    (await (await room.as('editor')).get(`/api/specials/${id}`)).body;
  const made = async (title: string, postIds: readonly number[], more: Partial<SpecialDraft> = {}) => {
    const kept = (await put(await begin(title), { postIds, intro: 'What ice does.', ...more })).body;
    const answer = await publish(kept as SpecialView);
    if (answer.status !== 200) throw new Error(answer.text);
    return answer.body as SpecialView;
  };

  it('show chosen posts in their order, under an address of their own, once they are published', async () => {
    const [one, two] = [await out('Ice on the summit'), await out('Ice at the wharf')];
    const begun = await begin('A winter of ice');
    expect([begun.slug, begun.publishedAt, begun.notes]).toEqual([
      'winter-ice',
      null,
      ['No post is in it yet.'],
    ]);
    expect((await publish(begun)).body.detail).toContain('nothing to publish');
    const kept = (await put(begun, { postIds: [two, one], intro: 'What ice does.\n\nAnd what we do.' })).body;
    expect((await get('/special/winter-ice/')).status).toBe(404);
    expect((await get('/special')).status).toBe(404);
    expect((await publish(kept as SpecialView)).status).toBe(200);

    const cover = await eventually(async () => {
      const answer = await get('/special/winter-ice/');
      return answer.status === 200 ? answer : null;
    });
    expect(cover.text.match(/<h2>.*?<\/h2>/g)).toEqual([
      '<h2><a href="ice-at-the-wharf">Ice at the wharf</a></h2>',
      '<h2><a href="ice-on-the-summit">Ice on the summit</a></h2>',
    ]);
    expect(cover.text).toContain('<p>And what we do.</p>');
    expect((await get('/special/winter-ice')).headers['location']).toBe('/special/winter-ice/');
    expect((await get('/special/winter-ice/ice-at-the-wharf/')).headers['location']).toBe(
      '/special/winter-ice/ice-at-the-wharf',
    );
    const page = await get('/special/winter-ice/ice-at-the-wharf');
    // One post has one place that search engines are told of: on the blog.
    expect(page.text).toContain('<link rel="canonical" href="http://127.0.0.1/ice-at-the-wharf">');
    for (const [shown, url, type] of [
      [cover, 'http://127.0.0.1/special/winter-ice/', 'website'],
      [page, 'http://127.0.0.1/ice-at-the-wharf', 'article'],
    ] as const) {
      expect(shown.text).toContain(`<meta property="og:url" content="${url}">`);
      expect(shown.text).toContain(`<meta property="og:type" content="${type}">`);
    }
    expect(page.text).toMatch(/"og:image" content="http:\/\/127\.0\.0\.1\/s\/\w{5}\/card\.png"/);
    expect(page.text).toContain('<a rel="next" href="ice-on-the-summit">');
    expect(page.text).not.toContain('rel="prev"');
    const nothing = await get('/special/winter-ice/nothing/of/it');
    expect([nothing.status, nothing.text.includes('href="../../look.css"')]).toEqual([404, true]);
    expect((await get('/special/winter-ice/look.css')).headers['content-type']).toContain('text/css');
    expect((await get('/special')).text).toContain('A winter of ice');
    expect((await get('/sitemap.xml')).text).toContain('<loc>http://127.0.0.1/special/winter-ice/</loc>');

    const hidden = await publish(await see(kept.id as number), false);
    expect(hidden.body.publishedAt).toBeNull();
    await eventually(async () => (await get('/special/winter-ice/')).status === 404);
    expect((await get('/special/winter-ice/ice-at-the-wharf')).status).toBe(404);
    expect((await get('/sitemap.xml')).text).not.toContain('winter-ice');
  });

  it('show nothing of what not everybody may read, and say where something was withdrawn', async () => {
    const open = await out('Open to all');
    const kinds = {
      members: await out('Membersonly Quillback'),
      staff: await out('Staffonly Quillback'),
      password: await out('Locked Quillback'),
      later: await out('Laterpart Quillback'),
      withdrawn: await out('Withdrawn Quillback'),
      binned: (await room.pitch('chief', 'Binned Quillback')).id,
      coming: (await room.scheduled(fromNow(86_400), 'Coming Quillback')).id,
      draft: (await room.pitch('chief', 'Pitched Quillback')).id,
    };
    await room.change('chief', kinds.members, { access: 'members' });
    await room.change('chief', kinds.staff, { access: 'staff' });
    await room.change('chief', kinds.password, { access: 'password', readingPassword: 'x' });
    await room.db('serials').insert({ blog_id: 1, title: 'One by one', intro: '' });
    await room.db('serial_parts').insert({
      ...{ serial_id: 1, post_id: kinds.later, position: 0, days: 3, hours: 0, minutes: 0 },
    });
    await room.move('chief', kinds.withdrawn, { to: 'withdrawn' });
    await room.db('all_posts').where({ id: kinds.binned }).update({ binned_at: room.db.fn.now() });
    const special = await made('Quiet waters', [...Object.values(kinds), open]);
    expect(special.parts.map((p) => p.state)).toEqual([
      ...['not for everybody', 'not for everybody', 'not for everybody', 'not for everybody'],
      ...['withdrawn', 'in the bin', 'not out', 'not out', 'readable'],
    ]);
    expect(special.notes[0]).toBe('1 post withdrawn, which the special says: “Withdrawn Quillback”.');

    const cover = await get('/special/quiet-waters/');
    expect(cover.text.match(/What stood here was withdrawn/g)).toHaveLength(1);
    expect(cover.text).not.toMatch(/quillback/i);
    for (const [kind, id] of Object.entries(kinds)) {
      const { slug } = (await room.db('all_posts').where({ id }).first<{ slug: string | null }>('slug'))!;
      const page = await get(`/special/quiet-waters/${slug ?? 'none'}`);
      expect([kind, page.status]).toEqual([kind, kind === 'withdrawn' ? 410 : 404]);
      expect(page.text).not.toMatch(/quillback/i);
    }
    // The newsroom sees no more of it there than anybody else: the page is the same for all.
    const staff = await (await room.as('chief')).get('/special/quiet-waters/');
    expect(staff.text).toBe(cover.text);

    // What is withdrawn later is gone from the special at once, and comes back with the post.
    await room.move('chief', open, { to: 'withdrawn' });
    await eventually(async () => (await get('/special/quiet-waters/open-to-all')).status === 410);
    expect((await get('/special/quiet-waters/')).text.match(/What stood here was/g)).toHaveLength(2);
    await room.move('chief', open, { to: 'published' });
    await eventually(async () => (await get('/special/quiet-waters/open-to-all')).status === 200);
  });

  it('lead from post to post within, and to the blog for all else', async () => {
    const [one, two, other] = [await out('Gates of oak'), await out('Gates of steel'), await out('Paddles')];
    const link = (href: string) => ({
      type: 'paragraph',
      content: [{ type: 'text', text: 'there', marks: [{ type: 'link', attrs: { href } }] }],
    });
    const hrefs = [
      '/gates-of-steel#rust',
      '/paddles',
      'http://127.0.0.1/gates-of-steel',
      'https://example.org/',
    ];
    const post = await room.see('chief', one);
    const answer = await (
      await room.as('chief')
    )
      .put(`/api/posts/${one}/body`)
      .set('If-Match', `"${post.version}"`)
      .send({ body: { type: 'doc', content: hrefs.map(link) } });
    expect(answer.status).toBe(200);
    await room.update('chief', one);
    await made('Gates', [one, two]);
    const page = await get(`/special/gates/${post.slug}`);
    const found = [...page.text.matchAll(/<p><a [^>]*?href="([^"]*)"[^>]*>there/g)].map((m) => m[1]);
    expect(found).toEqual([
      'gates-of-steel#rust',
      'http://127.0.0.1/paddles',
      'gates-of-steel',
      'https://example.org/',
    ]);
    expect(other).toBeGreaterThan(0);
  });

  it('can stand at a host of their own, where nothing else stands', async () => {
    const id = await out('Lamps');
    const special = await made('Lamps', [id], { host: 'lamps.example' });
    expect(special.home).toBe('http://lamps.example/');
    await eventually(async () => (await get('/', 'lamps.example')).text.includes('class="cover"'));
    expect((await get('/lamps', 'lamps.example')).text).toContain('<h1>Lamps</h1>');
    expect((await get('/feed.atom', 'lamps.example')).status).toBe(404);
    // Its pages are kept apart: at the blog's address each leads there.
    expect((await get('/special/lamps/')).headers['location']).toBe('http://lamps.example/');
    expect((await get('/special/lamps/lamps')).headers['location']).toBe('http://lamps.example/lamps');
    const place = { host: 'lamps.example', path: '' };
    const chief = await room.as('chief');
    expect((await chief.put('/api/blog/place').send(place)).body.detail).toBe('A special has that address.');
    const other = await begin('Other lamps');
    expect((await put(other, { host: 'lamps.example' })).body.fields).toEqual([
      { field: 'host', sentence: 'Another special has that address.' },
    ]);
    expect((await put(other, { host: '127.0.0.1' })).status).toBe(400);
    expect((await put(other, { slug: 'lamps' })).body.fields[0].sentence).toContain(
      '“Lamps” has this address',
    );
    expect((await put(other, { host: 'no host' })).status).toBe(400);
  });

  it('refuse posts and pictures of other blogs, and what somebody changed meanwhile', async () => {
    const special = await begin('Two people');
    const [first, second] = await Promise.all([
      put(special, { title: 'One of two' }),
      put(special, { title: 'The other' }),
    ]);
    expect([first.status, second.status].sort()).toEqual([200, 412]);
    const now = await see(special.id);
    expect((await put(now, { postIds: [99_999] })).status).toBe(400);
    expect((await put(now, { coverId: 99_999 })).status).toBe(400);
    expect((await put(now, { title: 'Two\nlines' })).status).toBe(400);
    expect((await put(now, { slug: 'archive' })).status).toBe(400);
    expect((await (await room.as('writer')).get('/api/specials')).status).toBe(403);
    expect((await get(`/api/specials/${now.id}/files`)).status).toBe(401);
    const removed = await (await room.as('editor')).delete(`/api/specials/${now.id}`);
    expect(removed.status).toBe(204);
    expect((await (await room.as('editor')).get(`/api/specials/${now.id}`)).status).toBe(404);
  });

  it('open their cover to everybody while they are published, and keep it out of the bin', async () => {
    const bytes = await sharp({ create: { width: 900, height: 500, channels: 3, background: '#2f6f9f' } })
      .jpeg()
      .toBuffer();
    const picture = (await (await room.as('editor')).post('/api/media').attach('file', bytes, 'cover.jpg'))
      .body as { id: number };
    expect((await get(`/media/${picture.id}`)).status).toBe(404);
    const special = await made('Covered', [await out('Under cover')], {
      coverId: picture.id,
      coverAlt: 'Ice & “reeds”',
    });
    expect((await get(`/media/${picture.id}`)).status).toBe(200);
    expect((await get('/special/covered/')).text).toContain('alt="Ice &amp; “reeds”"');
    const binned = await (await room.as('editor')).patch(`/api/media/${picture.id}`).send({ binned: true });
    expect(binned.body.detail).toBe('The special “Covered” has this picture on its cover.');
    await publish(special, false);
    expect((await get(`/media/${picture.id}`)).status).toBe(404);
  });

  describe('as plain files', () => {
    let files: Record<string, Uint8Array>;
    let pages: [string, string][];
    beforeAll(async () => {
      const bytes = await sharp({ create: { width: 1200, height: 700, channels: 3, background: '#7f6f4f' } })
        .png()
        .toBuffer();
      const picture = (await (await room.as('editor')).post('/api/media').attach('file', bytes, 'x.png'))
        .body as { id: number };
      const [one, two, gone] = [await out('Index'), await out('Rope & <twine>'), await out('Gonesoon')];
      for (const id of [one, two])
        await room.change('chief', id, { leadPicture: { media: picture.id, alt: 'Rope' }, excerpt: WORDS });
      for (const id of [one, two]) await room.update('chief', id);
      await room.move('chief', gone, { to: 'withdrawn' });
      const special = await made('Rope & twine', [gone, two, one], { coverId: picture.id });
      await eventually(
        async () =>
          (await room.db('media_sizes').where({ media_id: picture.id }).first('kind')) !== undefined,
      );
      const zip = await (
        await room.as('editor')
      )
        .get(`/api/specials/${special.id}/files`)
        .buffer(true)
        .parse((res, done) => {
          const parts: Buffer[] = [];
          res.on('data', (part: Buffer) => parts.push(part));
          res.on('end', () => done(null, Buffer.concat(parts)));
        });
      expect(zip.headers['content-disposition']).toContain(`${special.slug}.zip`);
      files = unzipSync(new Uint8Array(zip.body as Buffer));
      pages = Object.keys(files)
        .filter((name) => name.endsWith('.html'))
        .map((name) => [name, strFromU8(files[name]!)]);
    });

    it('hold each page once, and say what was withdrawn without naming it', () => {
      expect(pages.map(([name]) => name).sort()).toEqual(['index-.html', 'index.html', 'rope-twine.html']);
      const all = pages.map(([, html]) => html).join('');
      expect(all).toContain('What stood here was withdrawn.');
      expect(all).not.toContain('Gonesoon');
    });

    it('need nothing but each other: every address in them is a file of theirs or a whole one', () => {
      const missing: string[] = [];
      const look = (from: string, address: string) => {
        if (/^(?:https?:|mailto:|#)/.test(address)) return;
        const name = new URL(address, `http://zip/${from}`).pathname.slice(1);
        if (address.startsWith('/') || !files[name]?.length) missing.push(`${from}: ${address}`);
      };
      for (const [name, html] of pages) {
        for (const [, address] of html.matchAll(/ (?:href|src|poster)="([^"]+)"/g)) look(name, address!);
        for (const [, set] of html.matchAll(/ srcset="([^"]+)"/g))
          for (const candidate of set!.split(', ')) look(name, candidate.split(' ')[0]!);
      }
      for (const name of Object.keys(files).filter((n) => n.endsWith('.css')))
        for (const [, address] of strFromU8(files[name]!).matchAll(/url\(([^)]+)\)/g)) look(name, address!);
      expect(missing).toEqual([]);
      expect(Object.keys(files).filter((n) => n.startsWith('media/')).length).toBeGreaterThan(1);
      expect(Object.keys(files)).toEqual(
        expect.arrayContaining(['assets/site.css', 'look.css', 'assets/icon.svg']),
      );
    });
  });

  // html-validate, with its rules for documents as the HTML standard has them.
  it.each(LOOK_KEYS)('are valid HTML in the look %s, on the blog and as files', async (look) => {
    const validator = new HtmlValidate({ extends: ['html-validate:standard', 'html-validate:a11y'] });
    const special = await made(`Look ${look} <&> "it"`, [await out(`Looking ${look}`)], {
      look: { ...(await begin('Its look')).look, look },
    });
    const found: string[] = [];
    for (const path of ['', `looking-${look}`, 'nowhere']) {
      const { text } = await get(`/special/${special.slug}/${path}`);
      for (const { messages } of (await validator.validateString(text)).results)
        found.push(...messages.map((m) => `${path}: ${m.ruleId}: ${m.message}`));
    }
    const draft = { ...draftOf(await see(special.id)), page: null };
    const tried = await (await room.as('editor')).post(`/api/specials/${special.id}/try`).send(draft);
    expect(tried.body.html).toContain('Look ');
    expect(found).toEqual([]);
  });
});
