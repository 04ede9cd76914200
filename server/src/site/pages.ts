import { fileURLToPath } from 'node:url';
import { Eta } from 'eta';
import { readingMinutes, sayDate } from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import type { WholePostRow } from '../posts/store.js';
import type { Settings } from '../settings.js';
import type { Page } from './cache.js';
import { atomFeed, jsonFeed, rssFeed } from './feeds.js';
import { PAGE_LENGTH, readable, readerBlog, readerPosts, renderPosts, type ReaderBlog, type ReaderPost } from './readers.js';

const eta = new Eta({ views: fileURLToPath(new URL('../../templates', import.meta.url)), cache: true, autoEscape: true });

const HTML = 'text/html; charset=utf-8';
const helpers = { sayDate: (local: string) => `${sayDate(local)} ${local.slice(0, 4)}`, readingMinutes };

type Route = (found: RegExpExecArray, context: { db: Reader; blog: ReaderBlog; settings: Settings }) => Promise<Page | null>;

/** Addresses of the readers' side, tried in order. A post's address comes last, since it may be any word. */
const ROUTES: [RegExp, Route][] = [
  [/^\/(?:page\/([1-9]\d{0,5}))?$/, (found, context) => listPage(context, Number(found[1] ?? 1))],
  [/^\/category\/([a-z0-9-]{1,80})(?:\/page\/([1-9]\d{0,5}))?$/, (found, context) => listPage(context, Number(found[2] ?? 1), found[1])],
  [/^\/feed\.atom$/, async (_, { db, blog, settings }) => ({ status: 200, type: 'application/atom+xml; charset=utf-8', body: await atomFeed(db, blog, settings.publicUrl), tags: ['lists'] })],
  [/^\/feed\.rss$/, async (_, { db, blog, settings }) => ({ status: 200, type: 'application/rss+xml; charset=utf-8', body: await rssFeed(db, blog, settings.publicUrl), tags: ['lists'] })],
  [/^\/feed\.json$/, async (_, { db, blog, settings }) => ({ status: 200, type: 'application/feed+json; charset=utf-8', body: await jsonFeed(db, blog, settings.publicUrl), tags: ['lists'] })],
  [/^\/sitemap\.xml$/, async (_, { db, blog, settings }) => ({ status: 200, type: 'application/xml; charset=utf-8', body: await sitemap(db, blog, settings.publicUrl), tags: ['lists'] })],
  [/^\/robots\.txt$/, (_, { settings }) => Promise.resolve({ status: 200, type: 'text/plain; charset=utf-8', body: `User-agent: *\nDisallow: /desk\nDisallow: /api\n\nSitemap: ${settings.publicUrl}/sitemap.xml\n`, tags: [] })],
  [/^\/([a-z0-9]+(?:-[a-z0-9]+)*)$/, (found, context) => postPage(context, found[1]!)],
];

/** The page at a path, or a 404 page; null when no blog is set up yet. */
export async function pageAt(db: Reader, settings: Settings, path: string): Promise<Page | null> {
  const blog = await readerBlog(db);
  if (!blog) return null;
  for (const [pattern, route] of ROUTES) {
    const found = pattern.exec(path);
    const page = found && (await route(found, { db, blog, settings }));
    if (page) return page;
  }
  return { status: 404, type: HTML, body: eta.render('missing', { ...helpers, blog, settings, title: 'Not here' }), tags: [] };
}

async function listPage({ db, blog, settings }: { db: Reader; blog: ReaderBlog; settings: Settings }, number: number, categorySlug?: string): Promise<Page | null> {
  const category = categorySlug ? blog.categories.find((c) => c.slug === categorySlug) : undefined;
  if (categorySlug && !category) return null;
  const found = await readerPosts(db, blog.id, { limit: PAGE_LENGTH + 1, offset: (number - 1) * PAGE_LENGTH, categorySlug });
  if (number > 1 && found.length === 0) return null;
  const posts = await renderPosts(db, found.slice(0, PAGE_LENGTH), 'to the fold');
  const base = category ? `/category/${category.slug}` : '';
  const body = eta.render('list', {
    ...helpers, blog, settings, posts, category, number, title: category?.name ?? null,
    newer: number > 1 ? (number === 2 ? base || '/' : `${base}/page/${number - 1}`) : null, older: found.length > PAGE_LENGTH ? `${base}/page/${number + 1}` : null,
    // Listing pages of categories are kept out of search engines, posts never.
    noindex: category !== undefined || number > 1,
  });
  return { status: 200, type: HTML, body, tags: ['lists'] };
}

async function postPage({ db, blog, settings }: { db: Reader; blog: ReaderBlog; settings: Settings }, address: string): Promise<Page | null> {
  const [post] = await readerPosts(db, blog.id, { limit: 1, address });
  if (!post) return null;
  const neighbour = (comparison: '<' | '>', order: 'asc' | 'desc') => readable(db, blog.id).whereRaw(`(posts.run_at, posts.id) ${comparison} (?::timestamptz, ?)`, [post.runAt, post.id])
    .orderBy('posts.run_at', order).orderBy('posts.id', order).first<{ title: string; address: string } | undefined>('posts.title', 'posts.address');
  const [rendered] = await renderPosts(db, [post], 'whole');
  const body = eta.render('post', { ...helpers, blog, settings, post: rendered, title: post.title, newer: await neighbour('>', 'asc'), older: await neighbour('<', 'desc'), preview: false, noindex: false });
  return { status: 200, type: HTML, body, tags: [`post:${post.id}`, 'lists'] };
}

/** A post as it will look to readers, whatever its stage. */
export async function previewPage(db: Reader, settings: Settings, row: WholePostRow): Promise<string> {
  const blog = (await readerBlog(db))!;
  const names = await db('people').whereIn('id', row.coauthor_ids).orderBy('name').pluck<string[]>('name');
  const category = row.category_id === null ? undefined : await db('categories').where({ id: row.category_id }).first<{ name: string; slug: string; hue: number }>('name', 'slug', 'hue');
  const now = new Date().toISOString();
  const post: ReaderPost = {
    id: row.id, title: row.title, excerpt: row.excerpt, address: row.address ?? '', body: row.body, runAt: row.run_at ?? now, runLocal: row.run_local ?? now.slice(0, 19), updatedAt: row.updated_at,
    byline: row.byline_name ?? 'nobody yet', coauthors: names, category: category?.name ?? null, categorySlug: category?.slug ?? null, hue: category?.hue ?? null,
    leadMedia: row.lead_media_id, leadAlt: row.lead_alt, words: row.words,
  };
  const [rendered] = await renderPosts(db, [post], 'whole');
  return eta.render('post', { ...helpers, blog, settings, post: rendered, title: post.title, newer: null, older: null, preview: true, noindex: true });
}

async function sitemap(db: Reader, blog: ReaderBlog, base: string): Promise<string> {
  const posts = await readable(db, blog.id).orderBy('posts.run_at', 'desc').limit(49_000).select<{ address: string; updated_at: string }[]>('posts.address', 'posts.updated_at');
  return eta.render('sitemap', { base, posts });
}
