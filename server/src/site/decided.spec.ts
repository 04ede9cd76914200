import request from 'supertest';
import type { BlogView, SiteView } from '@keyroster/contract';
import { FIRST_LOOK, addDays, newPanel, shortCode, type Look } from '@keyroster/core';
import { applyBatch } from '../archive/apply.js';
import { release } from '../posts/release.js';
import { fromNow, Newsroom, type Who } from '../testing/newsroom.js';
import { pageAt } from './pages.js';
import { relatePost } from './relate.js';

describe('what the editor decides about the pages', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const see = async () => (await (await room.as('chief')).get('/api/site')).body as SiteView;
  const change = async (who: Who, changes: object, version?: number) =>
    (await room.as(who)).patch('/api/site').send({ version: version ?? (await see()).version, ...changes });
  const out = async (title: string, more: object = {}) => {
    const post = await room.scheduled(fromNow(-1), title);
    if (Object.keys(more).length > 0) await room.change('chief', post.id, more);
    await release(room.db, post.id);
    return room.see('chief', post.id);
  };
  /** A page made anew, as nobody kept it. */
  const page = async (path: string, query?: string) =>
    (await pageAt(room.db, room.running.services.settings, path, { query }))!;

  it('is the managing editor’s to decide, and nobody loses what somebody else decided meanwhile', async () => {
    for (const who of ['editor', 'writer', 'proofreader'] as const) {
      expect((await (await room.as(who)).get('/api/site')).status).toBe(403);
      expect((await change(who, { settings: { letter: false } })).status).toBe(403);
    }
    const { version } = await see();
    expect((await change('chief', { settings: { postsPerPage: 7 } }, version)).body).toMatchObject({
      version: version + 1,
      settings: { postsPerPage: 7, letter: true },
    });
    const late = await change('chief', { settings: { postsPerPage: 9 } }, version);
    expect([late.status, late.body.detail]).toEqual([412, expect.stringContaining('so this is not saved')]);
    expect((await see()).settings.postsPerPage).toBe(7);
    for (const wrong of [
      { settings: { postsPerPage: 0 } },
      { settings: { addressPattern: '/:slug' } },
      { menu: [{ kind: 'post', id: 99_999, label: '' }] },
      { menu: [{ kind: 'address', url: 'javascript:alert(1)', label: 'x' }] },
      { menu: [{ kind: 'address', url: '//evil.example', label: 'x' }] },
      { panels: [{ ...newPanel('links'), links: [{ label: '', url: 'data:text/html,x' }] }] },
      { panels: [{ ...newPanel('about'), kind: 'script' }] },
      {},
    ])
      expect((await change('chief', wrong)).status).toBe(400);
  });

  it('shows so many posts on a page', async () => {
    for (const n of [1, 2, 3]) await out(`Number ${n} of the lock cottage`);
    await change('chief', { settings: { postsPerPage: 2 } });
    expect((await page('/')).body.match(/<article class="entry/g)).toHaveLength(2);
    expect((await page('/page/2')).status).toBe(200);
    expect((await page('/page/3')).status).toBe(404);
    await change('chief', { settings: { postsPerPage: 10 } });
    expect((await page('/page/2')).status).toBe(404);
  });

  it('gives posts another build of address, and leads on from the one before', async () => {
    const post = await out('The reeds behind the cottage');
    const slug = post.slug!;
    const dated = `/${post.runLocal!.slice(0, 4)}/${post.runLocal!.slice(5, 7)}/${slug}`;
    expect((await page(`/${slug}`)).status).toBe(200);
    expect(await page(dated)).toMatchObject({ status: 301, location: `/${slug}` });
    await change('chief', { settings: { addressPattern: 'year and month' } });
    expect(await page(`/${slug}`)).toMatchObject({ status: 301, location: dated });
    // Another month is no address of it.
    expect(await page(`/1999/01/${slug}`)).toMatchObject({ status: 301, location: dated });
    const { status, body } = await page(dated);
    expect(status).toBe(200);
    expect(body).toContain(
      `<link rel="canonical" href="${room.running.services.settings.publicUrl}${dated}">`,
    );
    for (const path of ['/', '/feed.atom', '/feed.rss', '/feed.json', '/sitemap.xml'])
      expect((await page(path)).body).toContain(dated);
    expect(await page(`/s/${shortCode(post.id)}`)).toMatchObject({ status: 301, location: dated });
    expect((await page(`/s/${shortCode(post.id + 5000)}`)).status).toBe(404);
    await change('chief', { settings: { addressPattern: 'slug' } });
  });

  it('has the menu lead where it was told, and says what is amiss', async () => {
    const post = await out('Where the towpath ends');
    const hidden = await room.cleared('Not out yet');
    const made = await change('chief', {
      menu: [
        { kind: 'page', page: 'front', label: 'All of it' },
        { kind: 'category', id: 1, label: '' },
        { kind: 'post', id: post.id, label: '' },
        { kind: 'post', id: hidden.id, label: '' },
        { kind: 'address', url: 'https://boats.example/?a=1&b=2', label: 'Boats <b>' },
      ],
    });
    expect(made.body.warnings).toEqual([expect.stringContaining('One entry leads')]);
    const html = (await page('/')).body;
    const nav = html.slice(html.indexOf('<nav aria-label="Menu">'), html.indexOf('</nav>'));
    expect(nav.match(/<li>/g)).toHaveLength(4);
    expect(nav).toContain('<a href="/">All of it</a>');
    expect(nav).toContain('<a href="/category/towpath">Towpath</a>');
    expect(nav).toContain(`<a href="/${post.slug}">Where the towpath ends</a>`);
    expect(nav).toContain('<a href="https://boats.example/?a=1&amp;b=2">Boats &lt;b&gt;</a>');
    expect(html).not.toContain('Not out yet');
    expect((await page('/category/towpath')).body).toContain('aria-current="page">Towpath');
    // Away with it: the categories again, and the blog in no menu.
    const usual = await change('chief', { menu: null });
    expect(usual.body).toMatchObject({ menuIsUsual: true, menu: [{ id: 1 }, { id: 2 }] });
    expect(usual.body.warnings).toEqual([expect.stringContaining('in no menu')]);
  });

  it('puts panels beside the posts; one that is taken away keeps what was written in it', async () => {
    const about = { ...newPanel('about'), title: 'Who we are', text: 'Five people.\n\nOne <boat>.' };
    await change('chief', { panels: [about, newPanel('search'), newPanel('months'), newPanel('spotlight')] });
    const html = (await page('/')).body;
    expect(html).toContain('Who we are');
    expect(html).toContain('<p>One &lt;boat&gt;.</p>');
    expect(html).toContain('role="search"');
    expect(html).toContain('By month');
    // Nothing is in the spotlight, so there is no empty panel.
    expect(html).not.toContain('In the spotlight');
    const hidden = await change('chief', { panels: [{ ...about, shown: false }] });
    expect((await page('/')).body).not.toContain('Who we are');
    expect(hidden.body.panels[0]).toMatchObject({ shown: false, text: about.text });
    await change('chief', { panels: [] });
  });

  it('takes sign-ups for the letter, or none', async () => {
    const sign = async () => room.nobody().post('/letter').type('form').send({ email: 'reader@example.com' });
    expect((await sign()).status).toBe(200);
    await change('chief', { settings: { letter: false }, panels: [newPanel('letter')] });
    expect((await sign()).status).toBe(404);
    expect((await page('/')).body).not.toContain('E-mail address');
    await change('chief', { settings: { letter: true } });
    expect((await page('/')).body).toContain('E-mail address');
    await change('chief', { panels: [] });
  });

  it('shows lists of categories and tags to search engines, or not; posts unless one says otherwise', async () => {
    const post = await out('A lamp in every lock');
    await room.change('chief', post.id, { tags: ['lamps'] });
    await room.update('chief', post.id);
    const hidden = async (path: string) => (await page(path)).body.includes('noindex');
    expect([await hidden('/category/towpath'), await hidden('/tag/lamps'), await hidden('/')]).toEqual([
      true,
      true,
      false,
    ]);
    await change('chief', { settings: { categoriesInSearch: true } });
    expect([await hidden('/category/towpath'), await hidden('/tag/lamps')]).toEqual([false, true]);
    expect(await hidden(`/${post.slug}`)).toBe(false);
    expect((await page('/sitemap.xml')).body).toContain(`/${post.slug}<`);
    await room.change('chief', post.id, { inSearch: false });
    expect(await hidden(`/${post.slug}`)).toBe(true);
    expect((await page('/sitemap.xml')).body).not.toContain(`/${post.slug}<`);
  });

  it('has a page for newcomers once there are posts for it', async () => {
    expect((await page('/start')).status).toBe(404);
    const [one, two] = [await out('Begin with ropes'), await out('Then with knots')];
    await change('chief', { settings: { start: { intro: 'Sit down.', posts: [two.id, one.id] } } });
    const { status, body } = await page('/start');
    expect([status, body.includes('Sit down.')]).toEqual([200, true]);
    expect(body.indexOf('Then with knots')).toBeLessThan(body.indexOf('Begin with ropes'));
  });

  it('leaves scheduling to the managing editor alone, in a move, a batch and a changed run time', async () => {
    const post = await room.cleared('Who may schedule this');
    const planned = await room.scheduled(fromNow(86_400), 'Planned already');
    await change('chief', { settings: { editorsSchedule: false } });
    const refused = await room.move('editor', post.id, { to: 'scheduled', runAt: fromNow(90_000) });
    expect([refused.status, refused.body.code]).toEqual([403, 'not-yours']);
    const editor = await room.as('editor');
    const batch = await editor
      .post('/api/batches')
      .send({ ids: [post.id], changes: [{ kind: 'stage', to: 'scheduled' }] });
    expect(batch.body.counts).toMatchObject({ changes: 0, refused: 1 });
    const { version } = await room.see('editor', planned.id);
    const moved = await editor
      .patch(`/api/posts/${planned.id}`)
      .set('If-Match', `"${version}"`)
      .send({ runAt: fromNow(100_000) });
    expect(moved.status).toBe(403);
    expect((await room.move('chief', post.id, { to: 'scheduled', runAt: fromNow(90_000) })).status).toBe(200);
    // Nor by undoing that somebody took it off the clock.
    const off = await (
      await room.as('chief')
    )
      .post('/api/batches')
      .send({ ids: [post.id], changes: [{ kind: 'stage', to: 'cleared' }] });
    await room.db('batches').where({ id: off.body.id }).update({ state: 'waiting' });
    await applyBatch(room.db, off.body.id as number);
    await editor.post(`/api/batches/${off.body.id}/undo`).send({});
    expect((await room.see('chief', post.id)).stage).toBe('cleared');
    await change('chief', { settings: { editorsSchedule: true } });
    await editor.post(`/api/batches/${off.body.id}/undo`).send({});
    expect((await room.see('chief', post.id)).stage).toBe('scheduled');
  });

  it('tries a look without a trace, applies it, and goes back to the one before', async () => {
    const look: Look = { look: 'plate', palette: 'clay', measure: 'wide', size: 'large', facts: ['date'] };
    const chief = await room.as('chief');
    const before = (await page('/')).body;
    const tried = await chief.post('/api/site/try').send({ page: 'post', look });
    expect(tried.body.html).toContain('class="look-plate"');
    expect(tried.body.html).toContain('--paper:#f7f2ec');
    expect((await page('/')).body).toBe(before);
    const { version } = await see();
    expect((await (await room.as('editor')).post('/api/site/look').send({ version, look })).status).toBe(403);
    const wrong = { ...look, palette: 'chalk' };
    expect((await chief.post('/api/site/look').send({ version, look: wrong })).status).toBe(400);
    const applied = await chief.post('/api/site/look').send({ version, look });
    expect(applied.body.looks.map((l: { look: Look }) => l.look.look)).toEqual(['plate', 'press']);
    const { body } = await page('/');
    expect(body).toContain('class="look-plate"');
    // Only the date is told.
    expect(body).not.toContain('rel="author"');
    expect((await page('/look.css')).body).toContain('--measure:48rem');
    expect(body).not.toContain(before.match(/look\.css\?[\w-]+/)![0]);
    const back = await chief.post('/api/site/look').send({ version: version + 1, look: FIRST_LOOK });
    expect(back.body.look).toEqual(FIRST_LOOK);
    expect((await page('/')).body).toBe(before);
  });

  it('keeps wall times when the blog moves to another zone, and refuses what would go out at once', async () => {
    const soon = await room.scheduled(fromNow(3600), 'In an hour');
    const chief = await room.as('chief');
    const refused = await chief.patch('/api/blog').send({ zone: 'Pacific/Kiritimati' });
    expect([refused.status, refused.body.detail]).toEqual([422, expect.stringContaining('go out at once')]);
    await room.move('chief', soon.id, { to: 'cleared' });
    // At noon, which no clock change touches.
    const noon = `${addDays(fromNow(0).slice(0, 10), 3)}T12:00`;
    const later = await room.scheduled(noon, 'In three days');
    const before = await room.see('chief', later.id);
    const moved = await chief.patch('/api/blog').send({ zone: 'America/New_York' });
    expect([moved.status, (moved.body as BlogView).zone]).toEqual([200, 'America/New_York']);
    const after = await room.see('chief', later.id);
    expect([after.runLocal, after.runZone]).toEqual([before.runLocal, 'America/New_York']);
    const hours = (Date.parse(after.runAt!) - Date.parse(before.runAt!)) / 3_600_000;
    // London is ahead of New York by four hours for some weeks of the year, else by five.
    expect([4, 5]).toContain(hours);
    expect((await chief.patch('/api/blog').send({ zone: 'Mars/Olympus' })).status).toBe(400);
    await chief.patch('/api/blog').send({ zone: 'Europe/London' });
    expect((await room.see('chief', later.id)).runAt).toBe(before.runAt);
  });

  describe('what readers find', () => {
    it('by its words, with the matches marked and nothing that they may not see', async () => {
      const post = await out('A windlass for the paddle');
      await out('Staff have a windlass too', { access: 'staff' });
      await room.cleared('A windlass that is not out');
      const { body } = await page('/search', 'windlass <script>');
      expect(body).not.toContain('<script>');
      const found = (await page('/search', 'WINDLASS')).body;
      expect(found).toContain('A <mark>windlass</mark> for the paddle');
      expect(found).not.toMatch(/Staff have|not out/);
      // What waits for its update is not found yet; what readers see still is.
      await room.change('chief', post.id, { title: 'A crank for the paddle' });
      expect((await page('/search', 'crank')).body).toContain('Nothing on Test Lock has “crank”.');
      expect((await page('/search', 'windlass')).body).toContain('for the paddle</a>');
      for (const hostile of ["' or 1=1 --", '"', '\\', ':* & !', '\u0000\ue000x', 'a'.repeat(5000), '%00'])
        expect((await page('/search', hostile)).status).toBe(200);
    });

    it('by its words again and again, by a feed of what is asked', async () => {
      const post = await out('Ratchets & pawls, explained');
      await out('Staff keep ratchets too', { access: 'staff' });
      await room.cleared('Ratchets that are not out');
      const shown = (await page('/search', 'ratchets & pawls')).body;
      expect(shown).toContain('href="/search/feed.atom?q=ratchets+%26+pawls"');
      const asked = async (query: string, kind = 'json') => {
        const { status, text, headers } = await (
          await room.as('chief')
        )
          .get(`/search/feed.${kind}`)
          .query({ q: query });
        expect([status, headers['content-type']]).toEqual([200, expect.stringContaining(kind)]);
        return text;
      };
      // The same for staff: a feed is read by programs that are nobody.
      const feed = JSON.parse(await asked('ratchets')) as {
        title: string;
        feed_url: string;
        items: { title: string }[];
      };
      expect(feed.title).toBe('Search: ratchets · Test Lock');
      expect(feed.items.map((i) => i.title)).toEqual(['Ratchets & pawls, explained']);
      expect(await asked('ratchets & pawls', 'atom')).toContain('/search/feed.atom?q=ratchets+%26+pawls');
      expect(await asked('no such thing', 'rss')).toContain(
        '<title>Search: no such thing · Test Lock</title>',
      );
      await room.change('chief', post.id, { title: 'Cranks, explained' });
      expect((JSON.parse(await asked('cranks')) as { items: object[] }).items).toEqual([]);
      expect((await page('/search/feed.atom')).status).toBe(404);
    });

    it('by writer, month and year, each with its feeds; whoever has nothing out has no page', async () => {
      const { writer, otherWriter } = room.ids;
      const slugOf = async (id: number) =>
        (await room.db('memberships').where({ person_id: id }).first<{ slug: string }>('slug'))!.slug;
      const mine = await page(`/writer/${await slugOf(writer)}`);
      expect(mine.body).toContain('ProfilePage');
      expect((await page(`/writer/${await slugOf(otherWriter)}`)).status).toBe(404);
      expect((await page('/writers')).body).not.toContain('otherWriter');
      // Nor does a feed tell the name of a person, or of a tag, that no page has.
      await room.change('chief', (await room.cleared('Tagged')).id, { tags: ['hush'] });
      for (const path of [`/writer/${await slugOf(otherWriter)}`, '/tag/hush', '/1999'])
        for (const kind of ['atom', 'rss', 'json'])
          expect((await page(`${path}/feed.${kind}`)).status).toBe(404);
      const { runLocal } = await out('For its month');
      const [year, month] = [runLocal!.slice(0, 4), runLocal!.slice(5, 7)];
      for (const base of [
        `/${year}`,
        `/${year}/${month}`,
        `/writer/${await slugOf(writer)}`,
        '/category/towpath',
      ])
        for (const path of [base, `${base}/feed.atom`, `${base}/feed.rss`, `${base}/feed.json`]) {
          const { status, body } = await page(path);
          expect([path, status, body.includes('For its month')]).toEqual([path, 200, true]);
        }
      expect((await page(`/${year}/13`)).status).toBe(404);
      expect((await page('/1999')).status).toBe(404);
      expect(await page(`/${year}/${month}/page/1`)).toMatchObject({ status: 301 });
      expect((await page('/archive')).body).toContain(`/${year}/${month}"`);
    });

    it('under a post what is most like it, and nothing that is hidden from them', async () => {
      const text = (words: string) => ({
        type: 'doc',
        content: [{ type: 'paragraph', content: [{ type: 'text', text: words }] }],
      });
      const made: number[] = [];
      for (const [title, words, access] of [
        ['Eels in the weir', 'Eels climb the weir at night when the sluice is shut.', 'everyone'],
        ['Eels again', 'The eels of the weir are few now; the sluice is to blame.', 'everyone'],
        ['Eels for staff', 'Eels, weir, sluice: all of it for staff.', 'staff'],
        ['Porridge', 'Oats, water, salt, a spoon and ten minutes.', 'everyone'],
      ] as const) {
        const post = await out(title, { access });
        const body = JSON.stringify(text(words));
        await room.db('all_posts').where({ id: post.id }).update({ body, body_text: words });
        made.push(post.id);
      }
      for (const id of made) await relatePost(room.db, id);
      const slug = (await room.see('chief', made[0]!)).slug!;
      const related = (html: string) =>
        html.slice(html.indexOf('id="related"'), html.indexOf('aria-label="Other posts"'));
      const { body } = await page(`/${slug}`);
      expect(related(body)).toContain('Eels again');
      expect(related(body)).not.toMatch(/staff|Porridge/);
      await room.move('chief', made[1]!, { to: 'withdrawn' });
      expect((await page(`/${slug}`)).body).not.toContain('Eels again');
    });

    it('when an address has a slip in it: what it may have meant', async () => {
      await out('The heron at Marl Bridge');
      const { status, body } = await page('/heron-marl-brigde');
      expect(status).toBe(404);
      expect(body).toContain('The heron at Marl Bridge');
      for (const odd of ['/%E0%A4%A', '/a/b/c/d', '/writer/', '/..%2f..%2fetc', '/search/feed.exe'])
        expect([404, 301, 200]).toContain((await page(odd)).status);
    });
  });
});

describe('a site around the blog', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const mount = { host: 'shop.example', path: '/more/journal' };
  const theme = (more: object = {}) =>
    JSON.stringify({
      name: 'Ropewalk <Stores>',
      home: 'https://shop.example',
      color: { paper: { $value: '#fffaf0' }, ink: { $value: '#2a1c0b' }, act: { $value: '#8a3d00' } },
      header: [{ label: 'Rope', url: 'https://shop.example/rope' }],
      footer: [{ label: 'Returns', url: 'https://shop.example/returns' }],
      ...more,
    });
  const put = async (who: Who, body: object) => {
    const { version } = (await (await room.as('chief')).get('/api/site')).body as SiteView;
    return (await room.as(who)).put('/api/site/around').send({ version, ...body });
  };
  const within = (path: string, host = mount.host) => request(room.url).get(path).set('Host', host);

  it('gives it colours, a menu and a path there, and leaves it as it was at its own address', async () => {
    const post = await room.scheduled(fromNow(-1), 'In the shop');
    await release(room.db, post.id);
    expect((await put('editor', { theme: theme(), mount })).status).toBe(403);
    expect((await put('chief', { theme: null, mount })).status).toBe(400);
    const unreadable = await put('chief', { theme: theme({ color: {} }), mount });
    expect([unreadable.status, unreadable.body.fields[0].field]).toEqual([400, 'theme']);
    expect((await put('chief', { theme: theme(), mount: { host: 'x y', path: '' } })).status).toBe(400);
    expect((await put('chief', { theme: theme(), mount })).body.around).toMatchObject({ mount });
    await room.running.services.places.refresh();
    const front = await within('/more/journal/');
    expect(front.status).toBe(200);
    for (const words of [
      'Ropewalk &lt;Stores&gt;',
      '<a href="https://shop.example/rope">Rope</a>',
      'Returns',
      `<a href="/more/journal/${post.slug}">`,
      'href="/more/journal/assets/site.css"',
      'href="/more/journal/look.css?',
      // It has one address for search engines, which is its own.
      `rel="canonical" href="${room.running.services.settings.publicUrl}/"`,
    ])
      expect(front.text).toContain(words);
    expect((await within('/more/journal/look.css')).text).toContain('--paper:#fffaf0');
    expect((await within('/more/journal/assets/site.css')).status).toBe(200);
    expect((await within(`/more/journal/${post.slug}`)).status).toBe(200);
    const own = await within('/', 'elsewhere.example');
    expect(own.text).not.toContain('Ropewalk');
    expect((await within('/look.css', 'elsewhere.example')).text).not.toContain('#fffaf0');
    // Nothing but the blog is to be had through the shop.
    expect((await within('/more/journal/api/session')).status).toBe(404);
    expect((await put('chief', { theme: null, mount: null })).body.around).toBeNull();
    await room.running.services.places.refresh();
    expect((await within('/more/journal/')).status).toBe(404);
  });
});
