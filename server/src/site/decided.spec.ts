import type { BlogView, SiteView } from '@keyroster/contract';
import { FIRST_LOOK, addDays, newPanel, shortCode, type Look } from '@keyroster/core';
import { applyBatch } from '../archive/apply.js';
import { fromNow, Newsroom, type Who } from '../testing/newsroom.js';
import { pageAt } from '../pages/pages.js';

describe('what the editor decides about the pages', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const see = async () => (await (await room.as('chief')).get('/api/site')).body as SiteView;
  const change = async (who: Who, changes: object, version?: number) =>
    (await room.as(who))
      .patch('/api/site')
      .set('If-Match', version === undefined ? '*' : `"${version}"`)
      .send(changes);
  /** A page made anew, as nobody kept it. */
  const page = async (path: string, query?: string) =>
    (await pageAt(room.db, room.running.services.settings, path, { query }))!;

  it('is the managing editor’s to decide, and nobody loses what somebody else decided meanwhile', async () => {
    for (const who of ['editor', 'writer', 'proofreader'] as const) {
      expect((await (await room.as(who)).get('/api/site')).status).toBe(403);
      expect((await change(who, { letter: false })).status).toBe(403);
    }
    const { version } = await see();
    expect((await change('chief', { postsPerPage: 7 }, version)).body).toMatchObject({
      version: version + 1,
      settings: { postsPerPage: 7, letter: true },
    });
    const late = await change('chief', { postsPerPage: 9 }, version);
    expect([late.status, late.body.detail]).toEqual([412, expect.stringContaining('so yours is not saved')]);
    expect((await see()).settings.postsPerPage).toBe(7);
    for (const wrong of [
      { postsPerPage: 0 },
      { addressPattern: '/:slug' },
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
    for (const n of [1, 2, 3]) await room.published(`Number ${n} of the lock cottage`);
    await change('chief', { postsPerPage: 2 });
    expect((await page('/')).body.match(/<article class="entry/g)).toHaveLength(2);
    expect((await page('/page/2')).status).toBe(200);
    expect((await page('/page/3')).status).toBe(404);
    await change('chief', { postsPerPage: 10 });
    expect((await page('/page/2')).status).toBe(404);
  });

  it('gives posts another build of address, and leads on from the one before', async () => {
    const post = await room.published('The reeds behind the cottage');
    const slug = post.slug!;
    const dated = `/${post.runLocal!.slice(0, 4)}/${post.runLocal!.slice(5, 7)}/${slug}`;
    expect((await page(`/${slug}`)).status).toBe(200);
    expect(await page(dated)).toMatchObject({ status: 301, location: `/${slug}` });
    await change('chief', { addressPattern: 'year and month' });
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
    await change('chief', { addressPattern: 'slug' });
  });

  it('has the menu lead where it was told, and says what is amiss', async () => {
    const post = await room.published('Where the towpath ends');
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
    await change('chief', { letter: false, panels: [newPanel('letter')] });
    expect((await sign()).status).toBe(404);
    expect((await page('/')).body).not.toContain('E-mail address');
    await change('chief', { letter: true });
    expect((await page('/')).body).toContain('E-mail address');
    await change('chief', { panels: [] });
  });

  it('shows lists of categories and tags to search engines, or not; posts unless one says otherwise', async () => {
    const post = await room.published('A lamp in every lock');
    await room.change('chief', post.id, { tags: ['lamps'] });
    await room.update('chief', post.id);
    const hidden = async (path: string) => (await page(path)).body.includes('noindex');
    expect([await hidden('/category/towpath'), await hidden('/tag/lamps'), await hidden('/')]).toEqual([
      true,
      true,
      false,
    ]);
    await change('chief', { categoriesInSearch: true });
    expect([await hidden('/category/towpath'), await hidden('/tag/lamps')]).toEqual([false, true]);
    expect(await hidden(`/${post.slug}`)).toBe(false);
    expect((await page('/sitemap.xml')).body).toContain(`/${post.slug}<`);
    await room.change('chief', post.id, { inSearch: false });
    expect(await hidden(`/${post.slug}`)).toBe(true);
    expect((await page('/sitemap.xml')).body).not.toContain(`/${post.slug}<`);
  });

  it('has a page for newcomers once there are posts for it', async () => {
    expect((await page('/start')).status).toBe(404);
    const [one, two] = [await room.published('Begin with ropes'), await room.published('Then with knots')];
    await change('chief', { start: { intro: 'Sit down.', posts: [two.id, one.id] } });
    const { status, body } = await page('/start');
    expect([status, body.includes('Sit down.')]).toEqual([200, true]);
    expect(body.indexOf('Then with knots')).toBeLessThan(body.indexOf('Begin with ropes'));
  });

  it('leaves scheduling to the managing editor alone, in a move, a batch and a changed run time', async () => {
    const post = await room.cleared('Who may schedule this');
    const planned = await room.scheduled(fromNow(86_400), 'Planned already');
    await change('chief', { editorsSchedule: false });
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
    await change('chief', { editorsSchedule: true });
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
    expect((await (await room.as('editor')).post('/api/site/look').send({ look })).status).toBe(403);
    const wrong = { ...look, palette: 'chalk' };
    expect((await chief.post('/api/site/look').send({ look: wrong })).status).toBe(400);
    const applied = await chief.post('/api/site/look').send({ look });
    expect(applied.body.looks.map((l: { look: Look }) => l.look.look)).toEqual(['plate', 'press']);
    const { body } = await page('/');
    expect(body).toContain('class="look-plate"');
    // Only the date is told.
    expect(body).not.toContain('rel="author"');
    expect((await page('/look.css')).body).toContain('--measure:48rem');
    expect(body).not.toContain(before.match(/look\.css\?[\w-]+/)![0]);
    const back = await chief.post('/api/site/look').send({ look: FIRST_LOOK });
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
});
