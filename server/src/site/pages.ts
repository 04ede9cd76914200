import type { Reader } from '../db/connect.js';
import type { Settings } from '../settings.js';
import type { Page } from './cache.js';
import { atomFeed, jsonFeed, rssFeed } from './feeds.js';
import { readable, readerBlog, type ReaderBlog } from './readers.js';
import { listPage, tagPage } from './listing.js';
import { postPage } from './post-page.js';
import { HTML, eta, helpers, movedTo } from './templates.js';

type Moved = (found: RegExpExecArray) => string;

type Route = (
  found: RegExpExecArray,
  context: { db: Reader; blog: ReaderBlog; settings: Settings },
) => Promise<Page | null>;

/** Addresses of the readers' side, tried in order. A post's address comes last, since it may be any word. */
const ROUTES: [RegExp, Route][] = [
  [/^\/(?:page\/([1-9]\d{0,5}))?$/, (found, context) => listPage(context, Number(found[1] ?? 1))],
  [
    /^\/category\/([a-z0-9-]{1,80})(?:\/page\/([1-9]\d{0,5}))?$/,
    (found, context) => listPage(context, Number(found[2] ?? 1), found[1]),
  ],
  [
    /^\/tag\/([a-z0-9-]{1,80})(?:\/page\/([1-9]\d{0,5}))?$/,
    (found, context) => tagPage(context, Number(found[2] ?? 1), found[1]!),
  ],
  [
    /^\/feed\.atom$/,
    async (_, { db, blog, settings }) => ({
      status: 200,
      type: 'application/atom+xml; charset=utf-8',
      body: await atomFeed(db, blog, settings.publicUrl),
      tags: ['lists'],
    }),
  ],
  [
    /^\/feed\.rss$/,
    async (_, { db, blog, settings }) => ({
      status: 200,
      type: 'application/rss+xml; charset=utf-8',
      body: await rssFeed(db, blog, settings.publicUrl),
      tags: ['lists'],
    }),
  ],
  [
    /^\/feed\.json$/,
    async (_, { db, blog, settings }) => ({
      status: 200,
      type: 'application/feed+json; charset=utf-8',
      body: await jsonFeed(db, blog, settings.publicUrl),
      tags: ['lists'],
    }),
  ],
  [
    /^\/sitemap\.xml$/,
    async (_, { db, blog, settings }) => ({
      status: 200,
      type: 'application/xml; charset=utf-8',
      body: await sitemap(db, blog, settings.publicUrl),
      tags: ['lists'],
    }),
  ],
  [
    /^\/robots\.txt$/,
    (_, { settings }) =>
      Promise.resolve({
        status: 200,
        type: 'text/plain; charset=utf-8',
        body: `User-agent: *\nDisallow: /desk\nDisallow: /api\n\nSitemap: ${settings.publicUrl}/sitemap.xml\n`,
        tags: [],
      }),
  ],
  [/^\/([a-z0-9]+(?:-[a-z0-9]+)*)$/, (found, context) => postPage(context, found[1]!)],
];

/** Second addresses of one page lead to the first: a slash at the end, and page 1 by number. */
const ALIASES: [RegExp, Moved][] = [
  [/^(\/(?:.*[^/])?)\/+$/, (found) => found[1] || '/'],
  [/^((?:\/(?:category|tag)\/[a-z0-9-]{1,80})?)\/page\/0*1$/, (found) => found[1] || '/'],
];

/** The page at a path, or a 404 page; null when no blog is set up yet. */
export async function pageAt(db: Reader, settings: Settings, path: string): Promise<Page | null> {
  const blog = await readerBlog(db);
  if (!blog) return null;
  for (const [pattern, moved] of ALIASES) {
    const found = pattern.exec(path);
    if (!found || path === '/') continue;
    const page = await pageAt(db, settings, moved(found));
    return page?.status === 200 ? movedTo(moved(found)) : page;
  }
  for (const [pattern, route] of ROUTES) {
    const found = pattern.exec(path);
    const page = found && (await route(found, { db, blog, settings }));
    if (page) return page;
  }
  return {
    status: 404,
    type: HTML,
    body: eta.render('missing', { ...helpers, blog, settings, title: 'Not here' }),
    tags: [],
  };
}

/** A post for signed-in staff alone, at the address it would have for readers; null when there is none. */
export async function staffPageAt(db: Reader, settings: Settings, path: string): Promise<Page | null> {
  const slug = /^\/([a-z0-9]+(?:-[a-z0-9]+)*)$/.exec(path)?.[1];
  const blog = slug === undefined ? null : await readerBlog(db);
  const page = blog && (await postPage({ db, blog, settings }, slug!, 'staff'));
  return page?.status === 200 ? page : null;
}

/** What a reader is told after signing up for the letter. */
export async function letterPage(
  db: Reader,
  settings: Settings,
  heading: string,
  sentence: string,
): Promise<string> {
  return eta.render('letter', {
    ...helpers,
    blog: (await readerBlog(db)) ?? { title: '', tagline: '', categories: [] },
    settings,
    title: heading,
    heading,
    sentence,
    noindex: true,
  });
}

async function sitemap(db: Reader, blog: ReaderBlog, base: string): Promise<string> {
  const posts = await readable(db, blog.id)
    .orderByRaw('posts.run_at desc nulls last, posts.id desc')
    .limit(49_000)
    .select<{ slug: string; updated_at: string }[]>('posts.slug', 'posts.updated_at');
  return eta.render('sitemap', { base, posts });
}
