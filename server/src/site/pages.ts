import { fileURLToPath } from 'node:url';
import { Eta } from 'eta';
import { pictureHtml, readingMinutes, sayDate, type FormatField } from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import type { WholePostRow } from '../posts/store.js';
import type { Settings } from '../settings.js';
import type { Page } from './cache.js';
import { atomFeed, jsonFeed, rssFeed } from './feeds.js';
import { movedTo, type OldPageKind } from './merging.js';
import { PAGE_LENGTH, readable, readerBlog, readerPosts, renderPosts, type ReaderBlog, type ReaderPost } from './readers.js';

const eta = new Eta({ views: fileURLToPath(new URL('../../templates', import.meta.url)), cache: true, autoEscape: true });

const HTML = 'text/html; charset=utf-8';
const helpers = { pictureHtml, sayDate: (local: string) => `${sayDate(local)} ${local.slice(0, 4)}`, readingMinutes };

type Route = (found: RegExpExecArray, context: { db: Reader; blog: ReaderBlog; settings: Settings }) => Promise<Page | null>;

/** Addresses of the readers' side, tried in order. A post's address comes last, since it may be any word. */
const ROUTES: [RegExp, Route][] = [
  [/^\/(?:page\/([1-9]\d{0,5}))?$/, (found, context) => listPage(context, Number(found[1] ?? 1))],
  [/^\/category\/([a-z0-9-]{1,80})(?:\/page\/([1-9]\d{0,5}))?$/, (found, context) => listPage(context, Number(found[2] ?? 1), found[1])],
  [/^\/tag\/([a-z0-9-]{1,80})(?:\/page\/([1-9]\d{0,5}))?$/, (found, context) => tagPage(context, Number(found[2] ?? 1), found[1]!)],
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

const MOST_SPOTLIT = 3;

interface Context { db: Reader; blog: ReaderBlog; settings: Settings }

async function listPage(context: Context, number: number, categorySlug?: string): Promise<Page | null> {
  const category = categorySlug ? context.blog.categories.find((c) => c.slug === categorySlug) : undefined;
  if (categorySlug && !category) return mergedPage(context, 'category', categorySlug);
  return listing(context, number, category ? { category, base: `/category/${category.slug}`, heading: category.name, filter: { categorySlug } } : { base: '', heading: null, filter: {} });
}

async function tagPage(context: Context, number: number, slug: string): Promise<Page | null> {
  const tag = await context.db('tags').where({ blog_id: context.blog.id, slug }).first<{ name: string } | undefined>('name');
  return tag ? listing(context, number, { base: `/tag/${slug}`, heading: tag.name, filter: { tagSlug: slug } }) : mergedPage(context, 'tag', slug);
}

/** The page of a category or tag that was merged into another leads there, for good. */
async function mergedPage({ db, blog }: Context, kind: OldPageKind, slug: string): Promise<Page | null> {
  const to = await movedTo(db, blog.id, kind, slug);
  return to === null ? null : { status: 301, type: HTML, body: `<p>This page is at <a href="/${kind}/${to}">/${kind}/${to}</a> now.</p>`, tags: ['lists'], location: `/${kind}/${to}` };
}

interface Listing { base: string; heading: string | null; category?: ReaderBlog['categories'][number]; filter: { categorySlug?: string; tagSlug?: string } }

async function listing({ db, blog, settings }: Context, number: number, { base, heading, category, filter }: Listing): Promise<Page | null> {
  const found = await readerPosts(db, blog.id, { limit: PAGE_LENGTH + 1, offset: (number - 1) * PAGE_LENGTH, ...filter });
  if (found.length === 0 && (number > 1 || filter.tagSlug)) return null;
  // What is in the spotlight stands on top of the front page, once.
  const spotlit = heading === null && number === 1 ? await readerPosts(db, blog.id, { limit: MOST_SPOTLIT, spotlit: true }) : [];
  const held = new Set(spotlit.map((p) => p.id));
  const posts = await renderPosts(db, [...spotlit, ...found.slice(0, PAGE_LENGTH).filter((p) => !held.has(p.id))], 'to the fold');
  const body = eta.render('list', {
    ...helpers, blog, settings, posts, spotlit: held, category, number, heading, title: heading,
    newer: number > 1 ? (number === 2 ? base || '/' : `${base}/page/${number - 1}`) : null, older: found.length > PAGE_LENGTH ? `${base}/page/${number + 1}` : null,
    // Listing pages of categories and tags are kept out of search engines, posts never.
    noindex: heading !== null || number > 1,
  });
  return { status: 200, type: HTML, body, tags: ['lists'] };
}

async function postPage({ db, blog, settings }: { db: Reader; blog: ReaderBlog; settings: Settings }, address: string): Promise<Page | null> {
  const [post] = await readerPosts(db, blog.id, { limit: 1, address });
  if (!post) return movedPage(db, blog, address);
  const neighbour = (comparison: '<' | '>', order: 'asc' | 'desc') => readable(db, blog.id).whereRaw(`(posts.run_at, posts.id) ${comparison} (?::timestamptz, ?)`, [post.runAt, post.id])
    .orderBy('posts.run_at', order).orderBy('posts.id', order).first<{ title: string; address: string } | undefined>('posts.title', 'posts.address');
  const [rendered] = await renderPosts(db, [post], 'whole');
  const body = eta.render('post', { ...helpers, blog, settings, post: rendered, title: post.searchTitle || post.title, newer: await neighbour('>', 'asc'), older: await neighbour('<', 'desc'), preview: false, noindex: false });
  return { status: 200, type: HTML, body, tags: [`post:${post.id}`, 'lists'] };
}

/** An address that a post once had leads to where it is now, for good. */
async function movedPage(db: Reader, blog: ReaderBlog, address: string): Promise<Page | null> {
  const post = await readable(db, blog.id).join('old_addresses as o', 'o.post_id', 'posts.id').where({ 'o.blog_id': blog.id, 'o.address': address }).first<{ id: number; address: string } | undefined>('posts.id', 'posts.address');
  return post ? { status: 301, type: HTML, body: `<p>This post is at <a href="/${post.address}">/${post.address}</a> now.</p>`, tags: [`post:${post.id}`, 'lists'], location: `/${post.address}` } : null;
}

/** A post as it will look to readers, whatever its stage. */
export async function previewPage(db: Reader, settings: Settings, row: WholePostRow): Promise<string> {
  const blog = (await readerBlog(db))!;
  const names = await db('people').whereIn('id', row.coauthor_ids).orderBy('name').pluck<string[]>('name');
  const category = row.category_id === null ? undefined : await db('categories').where({ id: row.category_id }).first<{ name: string; slug: string; hue: number }>('name', 'slug', 'hue');
  const second = row.second_category_id === null ? undefined : await db('categories').where({ id: row.second_category_id }).first<{ name: string; slug: string }>('name', 'slug');
  const format = row.format_id === null ? undefined : await db('formats').where({ id: row.format_id }).first<{ fields: FormatField[] }>('fields');
  const now = new Date().toISOString();
  const post: ReaderPost = {
    id: row.id, title: row.title, excerpt: row.excerpt, address: row.address ?? '', body: row.body, runAt: row.run_at ?? now, runLocal: row.run_local ?? now.slice(0, 19), updatedAt: row.updated_at,
    byline: row.byline_name ?? 'nobody yet', coauthors: names, category: category?.name ?? null, categorySlug: category?.slug ?? null, hue: category?.hue ?? null,
    leadMedia: row.lead_media_id, leadAlt: row.lead_alt, words: row.words, subtitle: row.subtitle, searchTitle: row.search_title, searchDescription: row.search_description, sourceUrl: row.source_url, titleLinks: row.title_links,
    place: row.place, shareMedia: row.share_media_id, formatValues: row.format_values, formatFields: format?.fields ?? null, secondCategory: second?.name ?? null, secondCategorySlug: second?.slug ?? null,
    tags: await db('tags').whereIn('id', row.tag_ids).orderBy('name').select<{ name: string; slug: string }[]>('name', 'slug'),
  };
  const [rendered] = await renderPosts(db, [post], 'whole');
  return eta.render('post', { ...helpers, blog, settings, post: rendered, title: post.title, newer: null, older: null, preview: true, noindex: true });
}

/** What a reader is told after signing up for the letter. */
export async function letterPage(db: Reader, settings: Settings, heading: string, sentence: string): Promise<string> {
  return eta.render('letter', { ...helpers, blog: (await readerBlog(db)) ?? { title: '', tagline: '', categories: [] }, settings, title: heading, heading, sentence, noindex: true });
}

async function sitemap(db: Reader, blog: ReaderBlog, base: string): Promise<string> {
  const posts = await readable(db, blog.id).orderBy('posts.run_at', 'desc').limit(49_000).select<{ address: string; updated_at: string }[]>('posts.address', 'posts.updated_at');
  return eta.render('sitemap', { base, posts });
}
