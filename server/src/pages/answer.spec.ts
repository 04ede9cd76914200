import { parseFeed } from '@rowanmanning/feed-parser';
import type { MediaView, PostChanges } from '@keyroster/contract';
import { shortCode } from '@keyroster/core';
import sharp from 'sharp';
import { matchesTag } from '../http/etag.js';
import { Newsroom, eventually, fromNow } from '../testing/newsroom.js';
import { codingFor } from './answer.js';

describe('what a reader takes', () => {
  it.each([
    // RFC 9110, section 12.5.3, with its own examples.
    ['compress, gzip', 'gzip'],
    ['', 'identity'],
    ['*', 'br'],
    ['compress;q=0.5, gzip;q=1.0', 'gzip'],
    ['gzip;q=1.0, identity; q=0.5, *;q=0', 'gzip'],
    ['gzip, deflate, br', 'br'],
    ['br;q=0, gzip', 'gzip'],
    ['br;q=0', 'identity'],
    ['gzip;q=0, br;q=0, identity;q=0', null],
    ['br;q=0.2, gzip;q=0.8', 'gzip'],
  ])('of “%s” is %s', (accepts, coding) => {
    expect(codingFor(accepts)).toBe(coding);
  });

  it.each([
    // RFC 9110, sections 8.8.3.2 and 13.1.2.
    ['"a"', true],
    ['W/"a"', true],
    ['"b", "a"', true],
    ['W/"b" , W/"a"', true],
    ['*', true],
    ['"b"', false],
    ['a', false],
    ['"A"', false],
    ['"b, a"', false],
    ['', false],
  ])('with If-None-Match %s is known: %s', (header, known) => {
    expect(matchesTag(header, '"a"')).toBe(known);
  });
});

describe('the readers’ pages', () => {
  let room: Newsroom;
  const title = 'A lock </script> of <author>one</author> & “two”';
  let slug: string;
  beforeAll(async () => {
    room = await Newsroom.make({ jobs: true });
    for (let i = 0; i < 24; i++) {
      const post = await room.scheduled(fromNow(-600 + i), i === 23 ? title : `Post ${i} about paddles`);
      if (i === 23) {
        await changed(post.id, { tags: ['Rope & rod'], excerpt: 'Say <b>less</b> & mean it.' });
        slug = (await room.see('chief', post.id)).slug!;
      }
    }
    await eventually(async () => (await get(`/${slug}`)).status === 200);
    await eventually(async () => (await get('/page/2')).status === 200);
  });
  afterAll(() => room.close());
  const get = (path: string) => room.nobody().get(path);
  /** The clock may release the post between reading its version and changing it. */
  const changed = async (id: number, changes: PostChanges) => {
    await eventually(async () => (await room.change('chief', id, changes)).status === 200);
    const { stage, readersVersion } = await room.see('chief', id);
    if (stage === 'published' && readersVersion !== null)
      expect((await room.update('chief', id)).status).toBe(200);
  };

  it('have a tag for each coding, and are sent again only when they changed', async () => {
    const tags = new Set<string>();
    for (const [accepts, coding] of [
      ['br', 'br'],
      ['gzip', 'gzip'],
      ['identity', null],
      ['br;q=0, gzip;q=0', null],
    ] as const) {
      const answer = await fetch(`${room.url}/${slug}`, { headers: { 'Accept-Encoding': accepts } });
      expect([accepts, answer.headers.get('content-encoding')]).toEqual([accepts, coding]);
      const etag = answer.headers.get('etag')!;
      tags.add(etag);
      for (const known of [etag, `W/${etag}`, `"other", ${etag}`, '*']) {
        const again = await fetch(`${room.url}/${slug}`, {
          headers: { 'Accept-Encoding': accepts, 'If-None-Match': known },
        });
        expect([known, again.status, again.headers.get('etag')]).toEqual([known, 304, etag]);
      }
    }
    expect(tags.size).toBe(3);
    const { headers } = await get(`/${slug}`);
    expect((await get(`/${slug}`).set('If-Modified-Since', headers['last-modified']!)).status).toBe(304);
    expect((await get(`/${slug}`).set('If-Modified-Since', 'Thu, 01 Jan 1970 00:00:00 GMT')).status).toBe(
      200,
    );
    const packed = await fetch(`${room.url}/${slug}`, { headers: { 'Accept-Encoding': 'gzip' } });
    expect(await packed.text()).toBe((await get(`/${slug}`).set('Accept-Encoding', 'identity')).text);
  });

  it('say what they are to search engines and to those who share them', async () => {
    const { text } = await get(`/${slug}`);
    const [, json] = /<script type="application\/ld\+json">(.*?)<\/script>/s.exec(text)!;
    expect(JSON.parse(json!)).toMatchObject({
      '@context': 'https://schema.org',
      '@type': 'BlogPosting',
      headline: title,
      description: 'Say <b>less</b> & mean it.',
      url: `http://127.0.0.1/${slug}`,
      author: [{ '@type': 'Person', name: 'writer Test' }],
      keywords: ['Rope & rod'],
    });
    const meta = (property: string) =>
      new RegExp(`<meta property="${property}" content="([^"]*)">`).exec(text)?.[1];
    expect(meta('og:url')).toBe(`http://127.0.0.1/${slug}`);
    expect(meta('og:site_name')).toBe('Test Lock');
    expect(meta('og:locale')).toBe('en_GB');
    expect(Date.parse(meta('article:published_time')!)).toBeLessThanOrEqual(
      Date.parse(meta('article:modified_time')!),
    );
  });

  it('are shared with their card where they have no picture, as long as everybody may read them', async () => {
    const { text } = await get(`/${slug}`);
    const meta = (property: string) =>
      new RegExp(`<meta property="${property}" content="([^"]*)">`).exec(text)?.[1];
    const image = meta('og:image')!;
    expect(image).toMatch(/^http:\/\/127\.0\.0\.1\/s\/\w{5}\/card\.png$/);
    expect(meta('og:image:alt')).toBe(
      title.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;'),
    );
    expect(/"image":"([^"]*)"/.exec(text)![1]).toBe(image);
    const path = new URL(image).pathname;
    const card = await get(path).buffer(true);
    expect([card.status, card.headers['content-type'], card.headers['vary'] ?? '']).toEqual([
      200,
      'image/png',
      '',
    ]);
    const { width, height } = await sharp(card.body as Buffer).metadata();
    expect([String(width), String(height)]).toEqual([meta('og:image:width'), meta('og:image:height')]);
    expect((await get(path).set('If-None-Match', card.headers['etag']!)).status).toBe(304);
    expect((await room.nobody().head(path)).headers['content-type']).toBe('image/png');

    const post = await room.scheduled(fromNow(-30), 'Nothing to be shared');
    await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
    const own = `/s/${shortCode(post.id)}/card.png`;
    expect((await get(own)).status).toBe(200);
    await changed(post.id, { access: 'members' });
    expect((await get(own)).status).toBe(404);
    await changed(post.id, { access: 'everyone' });
    await room.move('chief', post.id, { to: 'withdrawn' });
    expect((await get(own)).status).toBe(404);
  });

  it('have one address each: listings say which, second ones lead there', async () => {
    const canonical = async (path: string) =>
      /<link rel="canonical" href="http:\/\/127\.0\.0\.1([^"]*)">/.exec((await get(path)).text)?.[1];
    for (const path of ['/', '/page/2', '/category/towpath', '/category/towpath/page/2', '/tag/rope-rod'])
      expect([path, await canonical(path)]).toEqual([path, path]);
    for (const path of ['/', '/page/2', '/category/towpath', '/tag/rope-rod'])
      expect((await get(path)).text).toMatch(/<meta name="description" content="[^"]{5,}">/);
    for (const [from, to] of [
      ['/page/1', '/'],
      ['/category/towpath/page/1', '/category/towpath'],
      ['/category/towpath/', '/category/towpath'],
      [`/${slug}/`, `/${slug}`],
      ['/page/2/', '/page/2'],
    ] as const) {
      const answer = await get(from).redirects(0);
      expect([from, answer.status, answer.headers['location']]).toEqual([from, 301, to]);
    }
    expect((await get('/nothing-here/')).status).toBe(404);
    expect((await get('//evil.example/')).status).toBe(404);
  });

  it('say what they take where only the method is wrong', async () => {
    for (const path of ['/', `/${slug}`, '/feed.atom', '/assets/site.css', '/healthz']) {
      const answer = await room.nobody().post(path).send({});
      expect([path, answer.status, answer.headers['allow']]).toEqual([path, 405, 'GET, HEAD']);
    }
    expect((await room.nobody().post('/nothing-here').send({})).status).toBe(404);
  });

  it('are never taken for what they are not', async () => {
    for (const path of [
      '/',
      '/assets/site.css',
      '/healthz',
      '/calendar/x.ics',
      '/nothing',
      '/api/session',
      '/outlets/x.atom',
    ])
      expect([path, (await get(path)).headers['x-content-type-options']]).toEqual([path, 'nosniff']);
    for (const path of ['/', '/assets/icon.svg', '/healthz', '/calendar/x.ics', '/nothing', '/api/session'])
      expect((await get(path)).headers['content-security-policy']).toContain("default-src 'none'");
  });

  it('are for staff where a post is for staff: read by them alone, and kept nowhere', async () => {
    const post = await room.scheduled(fromNow(-30), 'Only among ourselves');
    await changed(post.id, { access: 'staff' });
    await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
    const path = `/${(await room.see('chief', post.id)).slug}`;
    await eventually(async () => (await get(path)).status === 404);
    const seen = await (await room.as('writer')).get(path);
    expect(seen.status).toBe(200);
    expect(seen.text).toContain('Only among ourselves');
    expect(seen.headers['cache-control']).toBe('private, no-store');
    expect((await (await room.as('reader')).get(path)).status).toBe(404);
    expect((await get(path)).status).toBe(404);
    expect((await (await room.as('writer')).get('/nothing-here')).status).toBe(404);
  });

  it('have feeds with whole addresses, categories, and words as they are', async () => {
    const post = await room.scheduled(fromNow(-5), 'With a way in');
    await room
      .db('all_posts')
      .where({ id: post.id })
      .update({
        body: JSON.stringify({
          type: 'doc',
          content: [
            {
              type: 'paragraph',
              content: [
                { type: 'text', text: 'In', marks: [{ type: 'link', attrs: { href: `/${slug}` } }] },
                { type: 'text', text: ' and code href="/stays".' },
              ],
            },
          ],
        }),
      });
    await changed(post.id, { excerpt: 'Now.' });
    await eventually(async () => (await get('/feed.atom')).text.includes('With a way in'));
    for (const path of ['/feed.atom', '/feed.rss']) {
      const { text } = await get(path);
      const feed = parseFeed(text);
      const item = feed.items.find((i) => i.url?.endsWith(`/${slug}`))!;
      expect([path, item.title?.replace(/&lt;/g, '<').replace(/&gt;/g, '>').replace(/&amp;/g, '&')]).toEqual([
        path,
        title,
      ]);
      expect(item.authors.map((a) => a.name)).toEqual(['writer Test']);
      const { content } = feed.items.find((i) => i.title === 'With a way in')!;
      expect(content).toContain(`href="http://127.0.0.1/${slug}"`);
      expect(content).toContain('href="/stays"');
      expect(item.categories.map((c) => c.term)).toContain('Rope & rod');
    }
    const { items } = JSON.parse((await get('/feed.json')).text) as {
      items: { url: string; title: string; content_html: string }[];
    };
    expect(items.find((i) => i.url.endsWith(`/${slug}`))!.title).toBe(title);
    expect(items.find((i) => i.title === 'With a way in')!.content_html).toContain(
      `href="http://127.0.0.1/${slug}"`,
    );
    expect((await get('/feed.rss')).text).toContain('<dc:creator>writer Test</dc:creator>');
    expect((await get('/feed.rss')).text).not.toMatch(/<author>(?!one)/);
  });

  it('have pictures that other sites may show, and hidden ones that they may not', async () => {
    const bytes = await sharp({ create: { width: 900, height: 600, channels: 3, background: '#3a6' } })
      .jpeg()
      .toBuffer();
    const picture = (
      await (await room.as('chief')).post('/api/media').attach('file', bytes, { filename: 'lock.jpg' })
    ).body as MediaView;
    const policy = async () =>
      (await (await room.as('chief')).get(`/media/${picture.id}`)).headers['cross-origin-resource-policy'];
    expect(await policy()).toBe('same-origin');
    const post = (await (await room.as('chief')).get('/api/posts?words=lock')).body.posts[0] as {
      id: number;
    };
    await changed(post.id, { leadPicture: { media: picture.id, alt: 'A lock' } });
    expect(await policy()).toBe('cross-origin');
  });
});
