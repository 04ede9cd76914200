import type { Reader } from '../db/connect.js';
import type { Settings } from '../settings.js';
import type { Page } from './cache.js';
import { movedTo, type OldPageKind } from './merging.js';
import { PAGE_LENGTH, readerPosts, renderPosts, type ReaderBlog } from './readers.js';
import { HTML, eta, helpers } from './templates.js';

const MAX_SPOTLIT = 3;

interface Context {
  db: Reader;
  blog: ReaderBlog;
  settings: Settings;
}

export async function listPage(
  context: Context,
  number: number,
  categorySlug?: string,
): Promise<Page | null> {
  const category = categorySlug ? context.blog.categories.find((c) => c.slug === categorySlug) : undefined;
  if (categorySlug && !category) return mergedPage(context, 'category', categorySlug);
  return listing(
    context,
    number,
    category
      ? { category, base: `/category/${category.slug}`, heading: category.name, filter: { categorySlug } }
      : { base: '', heading: null, filter: {} },
  );
}

export async function tagPage(context: Context, number: number, slug: string): Promise<Page | null> {
  const tag = await context
    .db('tags')
    .where({ blog_id: context.blog.id, slug })
    .first<{ id: number; name: string } | undefined>('id', 'name');
  return tag
    ? listing(context, number, { base: `/tag/${slug}`, heading: tag.name, filter: { tagId: tag.id } })
    : mergedPage(context, 'tag', slug);
}

/** The page of a category or tag that was merged into another leads there, for good. */
async function mergedPage({ db, blog }: Context, kind: OldPageKind, slug: string): Promise<Page | null> {
  const to = await movedTo(db, blog.id, kind, slug);
  return to === null
    ? null
    : {
        status: 301,
        type: HTML,
        body: `<p>This page is at <a href="/${kind}/${to}">/${kind}/${to}</a> now.</p>`,
        tags: ['lists'],
        location: `/${kind}/${to}`,
      };
}

interface Listing {
  base: string;
  heading: string | null;
  category?: ReaderBlog['categories'][number];
  filter: { categorySlug?: string; tagId?: number };
}

const describe = (blog: ReaderBlog, heading: string | null, number: number): string =>
  [
    heading === null
      ? blog.tagline || `The posts of ${blog.title}, newest first`
      : `Posts on ${heading}: ${blog.title}`,
    ...(number > 1 ? [`page ${number}`] : []),
  ].join(', ');

async function listing(
  { db, blog, settings }: Context,
  number: number,
  { base, heading, category, filter }: Listing,
): Promise<Page | null> {
  const found = await readerPosts(db, blog.id, {
    limit: PAGE_LENGTH + 1,
    offset: (number - 1) * PAGE_LENGTH,
    ...filter,
  });
  if (found.length === 0 && (number > 1 || filter.tagId)) return null;
  // What is in the spotlight stands on top of the front page, once.
  const spotlit =
    heading === null && number === 1
      ? await readerPosts(db, blog.id, { limit: MAX_SPOTLIT, spotlit: true })
      : [];
  const held = new Set(spotlit.map((p) => p.id));
  const posts = await renderPosts(
    db,
    [...spotlit, ...found.slice(0, PAGE_LENGTH).filter((p) => !held.has(p.id))],
    'to the fold',
  );
  const body = eta.render('list', {
    ...helpers,
    blog,
    settings,
    posts,
    spotlit: held,
    category,
    number,
    heading,
    title: heading,
    canonical: `${settings.publicUrl}${number > 1 ? `${base}/page/${number}` : base || '/'}`,
    description: describe(blog, heading, number),
    newer: number > 1 ? (number === 2 ? base || '/' : `${base}/page/${number - 1}`) : null,
    older: found.length > PAGE_LENGTH ? `${base}/page/${number + 1}` : null,
    // Listing pages of categories and tags are kept out of search engines, posts never.
    noindex: heading !== null || number > 1,
  });
  return { status: 200, type: HTML, body, tags: ['lists'] };
}
