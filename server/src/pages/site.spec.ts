import { parseFeed } from '@rowanmanning/feed-parser';
import Ajv from 'ajv';
import { parse as parseHtml5 } from 'parse5';
import { parseFeed as parseFeedToo } from 'htmlparser2';
import { Newsroom, eventually, fromNow } from '../testing/newsroom.js';
import { PageCache } from './cache.js';

/** JSON Feed 1.1, https://jsonfeed.org/version/1.1, as a JSON schema (from memory of its text). */
const JSON_FEED = {
  type: 'object',
  required: ['version', 'title', 'items'],
  properties: {
    version: { const: 'https://jsonfeed.org/version/1.1' },
    title: { type: 'string' },
    home_page_url: { type: 'string', pattern: '^https?://' },
    feed_url: { type: 'string', pattern: '^https?://' },
    language: { type: 'string' },
    items: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id'],
        anyOf: [{ required: ['content_html'] }, { required: ['content_text'] }],
        not: { required: ['author'] },
        properties: {
          id: { type: 'string', minLength: 1 },
          url: { type: 'string', pattern: '^https?://' },
          title: { type: 'string' },
          content_html: { type: 'string' },
          summary: { type: 'string' },
          date_published: {
            type: 'string',
            pattern: '^\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d:\\d\\d(\\.\\d+)?(Z|[+-]\\d\\d:\\d\\d)$',
          },
          date_modified: { type: 'string', pattern: '^\\d{4}-' },
          authors: {
            type: 'array',
            items: { type: 'object', minProperties: 1, properties: { name: { type: 'string' } } },
          },
          tags: { type: 'array', items: { type: 'string' } },
        },
      },
    },
  },
};

/** Child elements by name, of a small XML document whose text holds no markup outside CDATA. */
function elements(xml: string, name: string): string[] {
  return [
    ...xml
      .replace(/<!\[CDATA\[[\s\S]*?\]\]>/g, (c) => c.replace(/[<>]/g, ''))
      .matchAll(new RegExp(`<${name}(?:\\s[^>]*)?(?:/>|>([\\s\\S]*?)</${name}>)`, 'g')),
  ].map((m) => m[0]);
}

describe('the readers’ side', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make({ jobs: true });
    for (const [i, title] of ['First & <best>', 'Second “light” café', 'Third'].entries()) {
      const post = await room.scheduled(fromNow(-300 + i * 60), title);
      await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
    }
    const hidden = await room.cleared('For staff');
    await room.change('editor', hidden.id, { access: 'staff' });
    await room.move('editor', hidden.id, { to: 'scheduled', runAt: fromNow(-10) });
    await eventually(async () => (await room.see('chief', hidden.id)).stage === 'published');
    await room.cleared('Only cleared');
    await eventually(async () => (await room.nobody().get('/')).text.includes('Third'));
  });
  afterAll(() => room.close());
  const get = (path: string) => room.nobody().get(path);

  it('shows the newest first, escaped, and nothing that is not out or not for everyone', async () => {
    const { text, headers } = await get('/');
    expect([...text.matchAll(/<h2><a [^>]*>([^<]*)<\/a>/g)].map((m) => m[1])).toEqual([
      'Third',
      'Second “light” café',
      'First &amp; &lt;best&gt;',
    ]);
    expect(text).not.toMatch(/For staff|Only cleared/);
    expect(headers['content-security-policy']).toMatch(/default-src 'none'/);
    expect(text).not.toMatch(/<script(?! type="application\/ld\+json">)|set-cookie/i);
    for (const path of [
      '/staff',
      '/only-cleared',
      '/desk-nothing',
      '/nothing/here',
      '/page/99',
      '/category/none',
    ])
      expect((await get(path)).status).toBe(404);
  });

  it('keeps listings of categories out of search engines, posts never', async () => {
    expect((await get('/category/towpath')).text).toContain('name="robots" content="noindex');
    expect((await get('/third-towpath')).text).not.toContain('noindex');
    expect((await get('/robots.txt')).text).toMatch(/Sitemap: http/);
  });

  it('answers with an ETag, 304, Brotli and HEAD', async () => {
    const first = await get('/third-towpath');
    const again = await get('/third-towpath').set('If-None-Match', first.headers['etag']!);
    expect([again.status, again.text]).toEqual([304, '']);
    const packed = await fetch(`${room.url}/third-towpath`, { headers: { 'Accept-Encoding': 'br' } });
    expect(packed.headers.get('content-encoding')).toBe('br');
    expect(await packed.text()).toBe(first.text);
    expect((await room.nobody().head('/third-towpath')).headers['content-length']).toBe(
      String(Buffer.byteLength(first.text)),
    );
  });

  it('shows a change within a moment, through the cache', async () => {
    const before = (await get('/second-light-cafe-towpath')).text;
    expect(before).toContain('Second');
    const post = (await (await room.as('chief')).get('/api/posts?words=second')).body.posts[0];
    await room.change('editor', post.id, { title: 'Second, mended' });
    await room.update('editor', post.id);
    await eventually(async () => (await get('/second-light-cafe-towpath')).text.includes('Second, mended'));
    await eventually(async () => (await get('/')).text.includes('Second, mended'));
  });

  it('gives an Atom feed by RFC 4287', async () => {
    const { text, headers } = await get('/feed.atom');
    expect(headers['content-type']).toMatch(/^application\/atom\+xml/);
    // Sections 4.1.1 and 4.1.2: exactly one id, title and updated in the feed and in each entry; an author in
    // each entry or the feed.
    const head = text.slice(0, text.indexOf('<entry>'));
    for (const name of ['id', 'title', 'updated']) expect(elements(head, name)).toHaveLength(1);
    expect(head).toMatch(/<link rel="self" href="http[^"]+\/feed\.atom"\/>/);
    const entries = elements(text, 'entry');
    expect(entries).toHaveLength(3);
    for (const entry of entries) {
      for (const name of ['id', 'title', 'updated']) expect(elements(entry, name)).toHaveLength(1);
      expect(elements(entry, 'name').length).toBeGreaterThan(0);
      // Section 3.3: RFC 3339 dates. Section 4.2.6: an IRI that is not relative. RFC 4151: tag URIs.
      expect(elements(entry, 'updated')[0]).toMatch(/>\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z</);
      expect(elements(entry, 'id')[0]).toMatch(/>tag:[\w.-]+,\d{4}:post-\d+</);
    }
  });

  it('gives an RSS feed by the RSS 2.0 specification', async () => {
    const { text } = await get('/feed.rss');
    expect(text).toMatch(/<rss version="2\.0"/);
    const head = text.slice(0, text.indexOf('<item>'));
    for (const name of ['title', 'link', 'description']) expect(elements(head, name)).toHaveLength(1);
    for (const item of elements(text, 'item')) {
      expect(elements(item, 'title').length + elements(item, 'description').length).toBeGreaterThan(0);
      expect(elements(item, 'guid')[0]).toMatch(/isPermaLink="false"/);
      // RFC 822 dates with four-figure years.
      expect(elements(item, 'pubDate')[0]).toMatch(
        />(Mon|Tue|Wed|Thu|Fri|Sat|Sun), \d\d (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec) \d{4} \d\d:\d\d:\d\d GMT</,
      );
      // <author> must be an e-mail address; we have only names, so it must not be there.
      expect(item).not.toMatch(/<author>(?![^<]*@)/);
    }
  });

  it('gives a JSON feed by JSON Feed 1.1', async () => {
    const { text, headers } = await get('/feed.json');
    expect(headers['content-type']).toMatch(/^application\/feed\+json/);
    const validate = new Ajv({ strict: false, allErrors: true }).compile(JSON_FEED);
    const valid = validate(JSON.parse(text));
    expect(validate.errors).toBeNull();
    expect(valid).toBe(true);
  });

  it('is read back by independent parsers', async () => {
    const titles = ['Third', 'Second, mended', 'First & <best>'];
    for (const path of ['/feed.atom', '/feed.rss']) {
      const { text } = await get(path);
      expect(parseFeed(text).items.map((i) => i.title)).toEqual(titles);
      const { items } = parseFeedToo(text)!;
      // This one leaves the HTML of an Atom title to its reader.
      const plain = (title: string) =>
        title.replace(/&lt;/g, '<').replace(/&gt;/g, '>').replace(/&amp;/g, '&');
      expect(items.map((i) => plain(i.title!))).toEqual(titles);
      expect(items.every((i) => i.link?.startsWith('http') && !Number.isNaN(i.pubDate!.getTime()))).toBe(
        true,
      );
    }
  });

  it('lists every open post in the sitemap', async () => {
    const { text } = await get('/sitemap.xml');
    expect(text.startsWith('<?xml version="1.0" encoding="UTF-8"?>')).toBe(true);
    expect(
      elements(text, 'loc').map((l) => l.replace(/<\/?loc>/g, '').replace(/^http:\/\/[^/]+/, '')),
    ).toEqual(['/', '/third-towpath', '/second-light-cafe-towpath', '/first-best-towpath']);
  });

  it('shows a preview to staff only, exactly as the page will be', async () => {
    const post = (await (await room.as('chief')).get('/api/posts?stage=cleared')).body.posts[0];
    const preview = await (await room.as('editor')).get(`/api/posts/${post.id}/preview`);
    expect(preview.text).toContain('<h1>Only cleared</h1>');
    expect(preview.headers['content-security-policy']).toMatch(/frame-ancestors 'self'/);
    const main = (html: string) =>
      html.slice(html.indexOf('<article class="post">'), html.indexOf('</article>'));
    const published = (await (await room.as('chief')).get('/api/posts?words=third')).body.posts[0];
    expect(main((await (await room.as('editor')).get(`/api/posts/${published.id}/preview`)).text)).toBe(
      main((await get('/third-towpath')).text),
    );
    expect(parseHtml5(preview.text).childNodes.length).toBeGreaterThan(0);
  });

  it('leads from an address that was changed to the new one, for good, and gives it to nobody else', async () => {
    const post = await room.scheduled(fromNow(-20), 'An address that moves');
    await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
    expect((await room.change('chief', post.id, { slug: 'moved-away' })).status).toBe(200);
    expect((await room.update('chief', post.id)).status).toBe(200);
    await eventually(async () => (await get(`/${post.slug}`)).status === 301);
    expect((await get(`/${post.slug}`)).headers['location']).toBe('/moved-away');
    expect((await room.change('chief', post.id, { slug: 'moved-again' })).status).toBe(200);
    expect((await room.update('chief', post.id)).status).toBe(200);
    await eventually(async () => (await get('/moved-away')).headers['location'] === '/moved-again');
    expect((await get(`/${post.slug}`)).headers['location']).toBe('/moved-again');
    const other = await room.cleared('Another');
    expect((await room.change('chief', other.id, { slug: post.slug })).body.detail).toMatch(
      /once stood there/,
    );
    expect((await room.change('chief', post.id, { slug: post.slug })).status).toBe(200);
    expect((await room.update('chief', post.id)).status).toBe(200);
    await eventually(async () => (await get(`/${post.slug}`)).status === 200);
    expect((await get('/moved-again')).headers['location']).toBe(`/${post.slug}`);
  });

  it('shows details where they belong, and hides a staff post from every address', async () => {
    const post = await room.scheduled(fromNow(-15), 'With all details');
    await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
    await room.change('chief', post.id, {
      subtitle: 'A second line',
      tags: ['Cold & wet'],
      searchTitle: 'For searching',
      searchDescription: 'What they see.',
      sourceUrl: 'https://waterways.example/a',
      titleLinks: true,
      place: 'Tolver',
      secondCategoryId: 2,
    });
    expect((await room.update('chief', post.id)).status).toBe(200);
    const page = await eventually(async () => {
      const { text } = await get(`/${post.slug}`);
      return text.includes('A second line') && text;
    });
    for (const part of [
      '<title>For searching · ',
      'content="What they see."',
      '<a href="https://waterways.example/a">With all details</a>',
      'Tolver',
      '<a href="/tag/cold-wet">Cold &amp; wet</a>',
      'property="og:title" content="With all details"',
    ])
      expect(page).toContain(part);
    expect((await get('/tag/cold-wet')).text).toContain('noindex');
    const slug = (await (await room.as('chief')).get('/api/session')).body.blog.categories[1].slug as string;
    expect((await get(`/category/${slug}`)).text).toContain('With all details');
    await room.change('chief', post.id, { access: 'staff' });
    for (const path of [
      `/${(await room.see('chief', post.id)).slug}`,
      '/tag/cold-wet',
      `/category/${slug}`,
      '/',
      '/feed.atom',
      '/feed.rss',
      '/feed.json',
      '/sitemap.xml',
    ]) {
      await eventually(async () => !(await get(path)).text.includes('With all details'));
    }
  });

  it('counts how often a post is read, by people and not by programs', async () => {
    const { db, reads } = room.running.services;
    const third = await db('posts')
      .where({ title: 'Third' })
      .first<{ id: number; slug: string }>('id', 'slug');
    const count = async () => {
      await reads.flush();
      return Number(
        (
          await db('post_reads').where({ post_id: third!.id }).sum<{ sum: string | null }[]>('reads as sum')
        )[0]!.sum ?? 0,
      );
    };
    const before = await count();
    for (const agent of ['Mozilla/5.0 (X11; Linux)', 'Mozilla/5.0 (X11; Linux)', 'SomeBot/2.1', 'a crawler'])
      await get(`/${third!.slug}`).set('User-Agent', agent);
    await get('/').set('User-Agent', 'Mozilla/5.0');
    expect(await count()).toBe(before + 2);
  });

  it('takes sign-ups for the letter once each, from its own pages, and not too many at once', async () => {
    const sign = (email: string) => room.nobody().post('/letter?post=1').type('form').send({ email });
    for (let i = 0; i < 2; i++)
      expect((await sign(' Dot@Readers.example ')).text).toContain('Look into your mail');
    expect((await sign('not an address')).status).toBe(400);
    const elsewhere = room.nobody().post('/letter').set('Sec-Fetch-Site', 'cross-site').type('form');
    expect((await elsewhere.send({ email: 'a@b.example' })).status).toBe(403);
    const csv = await (await room.as('chief')).get('/api/subscribers.csv');
    expect(csv.text.split('\r\n').filter((l) => l.includes('dot@readers.example'))).toHaveLength(1);
    expect((await (await room.as('editor')).get('/api/subscribers.csv')).status).toBe(403);
    for (let i = 0; i < 8; i++) await sign(`reader${i}@readers.example`);
    expect((await sign('late@readers.example')).status).toBe(429);
  });
});

describe('the page cache', () => {
  const page =
    (body: string, tags: string[] = []) =>
    () =>
      Promise.resolve({ status: 200, type: 'text/html', body, tags });

  it('makes a page once for all who wait', async () => {
    const cache = new PageCache({ maxBytes: 1e6, lifeMs: 1000 });
    let made = 0;
    const render = async () => {
      made++;
      await new Promise((r) => setTimeout(r, 20));
      return { status: 200, type: 't', body: 'x', tags: [] };
    };
    await Promise.all(Array.from({ length: 20 }, () => cache.get('/a', 0, render)));
    expect(made).toBe(1);
    expect(cache.peek('/a', 999)).not.toBeNull();
    expect(cache.peek('/a', 1001)).toBeNull();
  });

  it('forgets by tag, and does not keep what was being made when something changed', async () => {
    const cache = new PageCache({ maxBytes: 1e6, lifeMs: 1000 });
    await cache.get('/a', 0, page('a', ['post:1']));
    await cache.get('/b', 0, page('b', ['post:2']));
    cache.forget(['post:1']);
    expect([cache.peek('/a', 0), cache.peek('/b', 0)?.bytes.identity.toString()]).toEqual([null, 'b']);
    const making = cache.get('/c', 0, async () => {
      await new Promise((r) => setTimeout(r, 20));
      return { status: 200, type: 't', body: 'old', tags: [] };
    });
    cache.forget(['lists']);
    expect((await making).bytes.identity.toString()).toBe('old');
    expect(cache.peek('/c', 0)).toBeNull();
  });

  it('stays within its bytes, dropping what was asked for least lately', async () => {
    const cache = new PageCache({ maxBytes: 250, lifeMs: 1000 });
    await cache.get('/a', 0, page('a'.repeat(90)));
    await cache.get('/b', 0, page('b'.repeat(90)));
    cache.peek('/a', 0);
    await cache.get('/c', 0, page('c'.repeat(90)));
    expect([
      cache.peek('/a', 0) !== null,
      cache.peek('/b', 0) !== null,
      cache.peek('/c', 0) !== null,
    ]).toEqual([true, false, true]);
  });
});
