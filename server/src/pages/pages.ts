import { idOfShortCode, type Look, type ReaderRights } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { WholePostRow } from '../posts/store.js';
import type { Settings } from '../settings.js';
import { moved, type Page } from './cache.js';
import { pageContext, type Context } from './context.js';
import { feedPage, type FeedKind } from './feeds.js';
import {
  categoryListing,
  frontListing,
  listPage,
  tagListing,
  timeListing,
  writersListing,
  type ListingAnswer,
} from './listing.js';
import { missingPage } from './missing.js';
import { archivePage } from './months.js';
import { postPage, previewPage } from './post-page.js';
import { pathIn, readerBlog, sheetOf, type ReaderBlog } from './reader-blog.js';
import { readable } from '../access/readable.js';
import { shownPanels, type ShownPanel } from './panels.js';
import { readerPosts } from './readers.js';
import type { DoneDeed } from './staff-deeds.js';
import { searchFeed, searchPage } from './search.js';
import { SPECIAL_TAG, specialAt, specialCovers } from './special-pages.js';
import { startPage } from './start-page.js';
import { eta } from './templates.js';
import { writersPage } from './writers.js';

type Found = RegExpExecArray;
type Route = (found: Found, context: Context) => Promise<Page | null> | Page | null;

const SLUG = '[a-z0-9]+(?:-[a-z0-9]+)*';
const LISTED = '[a-z0-9-]{1,80}';

/** Lists of posts by their addresses: each has pages by number, and feeds. */
const LISTS: [string, (found: Found, context: Context) => Promise<ListingAnswer> | ListingAnswer][] = [
  ['', (_, { blog }) => ({ listing: frontListing(blog) })],
  [`/category/(${LISTED})`, (found, context) => categoryListing(context, found[1]!)],
  [`/tag/(${LISTED})`, (found, context) => tagListing(context, found[1]!)],
  [`/writer/(${LISTED})`, (found, context) => writersListing(context, found[1]!)],
  ['/(\\d{4})/(\\d\\d)', (found, { blog }) => timeListing(blog, Number(found[1]), Number(found[2]))],
  ['/(\\d{4})', (found, { blog }) => timeListing(blog, Number(found[1]), null)],
];

const listRoutes = LISTS.flatMap(([pattern, load]): [RegExp, Route][] => {
  const whole = (
    of: (found: Found, context: Context, answer: ListingAnswer) => Promise<Page | null>,
  ): Route => {
    return async (found, context) => of(found, context, await load(found, context));
  };
  const numberAt = pattern.match(/\((?!\?)/g)?.length ?? 0;
  return [
    [
      new RegExp(`^${pattern}${pattern === '' ? '/' : ''}$`),
      whole(async (_, context, answer) => {
        if (!answer || 'moved' in answer) return answer?.moved ?? null;
        return listPage(context, answer.listing, 1);
      }),
    ],
    [
      new RegExp(`^${pattern}/page/([1-9]\\d{0,5})$`),
      whole(async (found, context, answer) => {
        if (!answer || 'moved' in answer) return answer?.moved ?? null;
        return listPage(context, answer.listing, Number(found[numberAt + 1]));
      }),
    ],
    [
      new RegExp(`^${pattern}/feed\\.(atom|rss|json)$`),
      whole(async (found, context, answer) => {
        if (!answer || 'moved' in answer) return null;
        return feedPage(context, answer.listing, found[numberAt + 1] as FeedKind);
      }),
    ],
  ];
});

/** Addresses of the readers' side, tried in order. A post's address comes last, since it may be any word. */
const ROUTES: [RegExp, Route][] = [
  // A post may be called as a year is.
  [/^\/(\d{4})$/, (found, context) => postPage(context, found[1]!, found[0])],
  ...listRoutes,
  [/^\/look\.css$/, (_, { blog }) => lookSheet(blog)],
  [/^\/writers$/, (_, context) => writersPage(context)],
  [/^\/archive$/, (_, context) => archivePage(context)],
  [/^\/start$/, (_, context) => startPage(context)],
  [/^\/search$/, (_, context) => searchPage(context, '')],
  [/^\/s\/(\w{5})$/, (found, context) => shortAddress(context, found[1]!)],
  [/^\/sitemap\.xml$/, (_, context) => sitemap(context)],
  [/^\/robots\.txt$/, (_, { blog }) => robots(blog.home, blog.prefix)],
  [new RegExp(`^/\\d{4}/\\d\\d/(${SLUG})$`), (found, context) => postPage(context, found[1]!, found[0])],
  [new RegExp(`^/(${SLUG})$`), (found, context) => postPage(context, found[1]!, found[0])],
];

const SEARCH_FEED = /^\/search\/feed\.(atom|rss|json)$/;

/** Second addresses of one page lead to the first: a slash at the end, and page 1 by number. */
const ALIASES: [RegExp, (found: Found) => string][] = [
  [/^(\/(?:.*[^/])?)\/+$/, (found) => found[1] || '/'],
  [/^((?:\/[a-z0-9-]{1,80}){0,2})\/page\/0*1$/, (found) => found[1] || '/'],
];

export interface Asked {
  /** Of the newsroom's blogs; without it the first. */
  blogId?: number;
  /** What is searched. */
  query?: string;
  /** Within the site around it. */
  mounted?: boolean;
  /** At the host of a special. */
  ofSpecial?: boolean;
  /** Who reads; without it who brings nothing. */
  rights?: ReaderRights | null;
  /** Who of the newsroom looks at it, and what was just done from there. */
  person?: CurrentPerson | null;
  did?: DoneDeed | null;
  /** Gives the panels as they were made before, or has them made. */
  panels?: (make: () => Promise<ShownPanel[]>) => Promise<ShownPanel[]>;
}

/** The page at a path of a blog, or a 404 page; null when no blog is set up yet. */
export async function pageAt(
  db: Queryable,
  settings: Settings,
  path: string,
  { blogId, query, mounted, ofSpecial, rights, panels, person, did }: Asked = {},
): Promise<Page | null> {
  const blog = await readerBlog(db, settings, blogId, { mounted, rights });
  if (!blog) return null;
  const made = () => shownPanels(db, blog);
  const context = await pageContext(db, blog, settings, () => (panels ? panels(made) : made()));
  const special = await specialAt(context, path, ofSpecial ?? false);
  if (special) return special;
  return pageOf(person ? { ...context, person, here: path, did } : context, path, query);
}

async function pageOf(context: Context, path: string, query?: string): Promise<Page> {
  for (const [pattern, to] of ALIASES) {
    const found = pattern.exec(path);
    if (!found || path === '/') continue;
    const page = await pageOf(context, to(found));
    return page.status === 200 ? moved(`${context.blog.prefix}${to(found)}`) : page;
  }
  if (path === '/search' && query !== undefined) return searchPage(context, query);
  const feed = SEARCH_FEED.exec(path)?.[1] as FeedKind | undefined;
  if (feed) return (await searchFeed(context, query ?? '', feed)) ?? missingPage(context, path);
  for (const [pattern, route] of ROUTES) {
    const found = pattern.exec(path);
    const page = found && (await route(found, context));
    if (page) return page;
  }
  return missingPage(context, path);
}

/** A post as it will look to readers, whatever its stage. */
export async function previewOf(db: Queryable, settings: Settings, row: WholePostRow): Promise<string> {
  const blog = (await readerBlog(db, settings, row.blog_id))!;
  return previewPage(await pageContext(db, blog, settings), row);
}

/** The front page, or the newest post, as a look would have it. */
export async function tryPage(
  db: Queryable,
  settings: Settings,
  blogId: number,
  { page, look }: { page: 'front' | 'post'; look: Look },
): Promise<string> {
  const blog = (await readerBlog(db, settings, blogId, { trying: look }))!;
  const context = { ...(await pageContext(db, blog, settings)), trying: true };
  const [newest] = page === 'post' ? await readerPosts(db, blog, { limit: 1 }) : [];
  const shown = newest
    ? await postPage(context, newest.slug, null)
    : await listPage(context, frontListing(blog), 1);
  return shown!.body;
}

/**
 * The front page, or a post at its address, as a reader with these rights has it; for a frame, so links lead
 * nowhere.
 */
export async function pageAsReader(
  db: Queryable,
  settings: Settings,
  blogId: number,
  rights: ReaderRights,
  postId: number | null,
): Promise<string> {
  const blog = (await readerBlog(db, settings, blogId, { rights }))!;
  const context = { ...(await pageContext(db, blog, settings)), trying: true };
  const [post] = postId === null ? [] : await readerPosts(db, blog, { limit: 1, ids: [postId] });
  if (postId !== null && !post) return (await missingPage(context, '')).body;
  return (await pageOf(context, post ? pathIn({ ...blog, prefix: '' }, post) : '/')).body;
}

const lookSheet = (blog: ReaderBlog): Page => ({
  status: 200,
  type: 'text/css; charset=utf-8',
  body: sheetOf(blog),
  tags: ['look'],
});

/** A few characters lead to a post permanently, whatever becomes of its address. */
async function shortAddress({ db, blog }: Context, code: string): Promise<Page | null> {
  const id = idOfShortCode(code);
  if (id === null) return null;
  const post = await readable(db, blog)
    .where('posts.id', id)
    .first<{ slug: string; runLocal: string } | undefined>('posts.slug', 'posts.run_local as runLocal');
  return post ? moved(pathIn(blog, post), [`post:${id}`, 'lists']) : null;
}

async function sitemap(context: Context): Promise<Page> {
  const { db, blog } = context;
  const rows = await readable(db, blog)
    .where('posts.in_search', true)
    .orderByRaw('posts.run_at desc nulls last, posts.id desc')
    .limit(49_000)
    .select<{ slug: string; runLocal: string; updated_at: string }[]>(
      'posts.slug',
      'posts.run_local as runLocal',
      'posts.updated_at',
    );
  const origin = new URL(blog.home).origin;
  const posts = rows.map((row) => ({ loc: `${origin}${pathIn(blog, row)}`, lastmod: row.updated_at }));
  return {
    status: 200,
    type: 'application/xml; charset=utf-8',
    body: eta.render('sitemap', { home: blog.home, posts: [...(await specialCovers(context)), ...posts] }),
    tags: ['lists', SPECIAL_TAG],
  };
}

const robots = (home: string, prefix: string): Page => ({
  status: 200,
  type: 'text/plain; charset=utf-8',
  body:
    `User-agent: *\nDisallow: /desk\nDisallow: /api\nDisallow: ${prefix}/search\n\n` +
    `Sitemap: ${home}/sitemap.xml\n`,
  tags: [],
});
