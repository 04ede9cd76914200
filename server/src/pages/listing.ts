import { MONTHS } from '@keyroster/core';
import { moved, type Page } from './cache.js';
import { framed, type Context } from './context.js';
import { asScript, schemaBlog } from './linked-data.js';
import { movedTo, type OldPageKind } from './old-pages.js';
import { readerPosts, renderPosts } from './readers.js';
import { staffNotes } from './staff.js';
import { spotlitPosts } from './spotlight.js';
import type { ReaderBlog } from './reader-blog.js';
import type { Listing } from './listed.js';
import { writerAt, writerListing } from './writers.js';

/** A list by its address, the address of a list that was merged into another, or nothing. */
export type ListingAnswer = { listing: Listing } | { moved: Page } | null;

export function frontListing(blog: ReaderBlog): Listing {
  return {
    base: '',
    heading: null,
    about: blog.tagline || `The posts of ${blog.title}, newest first`,
    filter: {},
    inSearch: true,
    linkedData: schemaBlog(blog),
  };
}

export async function categoryListing(context: Context, slug: string): Promise<ListingAnswer> {
  const { blog } = context;
  const category = blog.categories.find((c) => c.slug === slug);
  if (!category) return mergedPage(context, 'category', slug);
  return {
    listing: {
      base: `/category/${slug}`,
      heading: category.name,
      about: `Posts on ${category.name}: ${blog.title}`,
      filter: { categorySlug: slug },
      inSearch: blog.settings.categoriesInSearch,
      category: slug,
    },
  };
}

export async function tagListing(context: Context, slug: string): Promise<ListingAnswer> {
  const { db, blog } = context;
  const tag = await db('tags')
    .where({ blog_id: blog.id, slug })
    .first<{ id: number; name: string } | undefined>('id', 'name');
  if (!tag) return mergedPage(context, 'tag', slug);
  return {
    listing: {
      base: `/tag/${slug}`,
      heading: tag.name,
      about: `Posts on ${tag.name}: ${blog.title}`,
      filter: { tagId: tag.id },
      inSearch: blog.settings.tagsInSearch,
    },
  };
}

export async function writersListing(context: Context, slug: string): Promise<ListingAnswer> {
  const writer = await writerAt(context.db, context.blog.id, slug);
  return writer && { listing: await writerListing(context, writer) };
}

/** A month, or with `month` null a year. */
export function timeListing(blog: ReaderBlog, year: number, month: number | null): ListingAnswer {
  if (month !== null && (month < 1 || month > 12)) return null;
  const two = (n: number) => String(n).padStart(2, '0');
  const four = (n: number) => String(n).padStart(4, '0');
  const next = month === null || month === 12 ? { year: year + 1, month: 1 } : { year, month: month + 1 };
  const heading = month === null ? four(year) : `${MONTHS[month - 1]} ${four(year)}`;
  return {
    listing: {
      base: month === null ? `/${four(year)}` : `/${four(year)}/${two(month)}`,
      heading,
      about: `Posts of ${heading}: ${blog.title}`,
      filter: {
        from: `${four(year)}-${two(month ?? 1)}-01T00:00:00`,
        before: `${four(next.year)}-${two(next.month)}-01T00:00:00`,
      },
      inSearch: false,
    },
  };
}

/** The page of a category or tag that was merged into another leads there permanently. */
async function mergedPage({ db, blog }: Context, kind: OldPageKind, slug: string): Promise<ListingAnswer> {
  const to = await movedTo(db, blog.id, kind, slug);
  return to === null ? null : { moved: moved(`${blog.prefix}/${kind}/${to}`) };
}

/** Lists that are there before anything is in them; the name of any other may be known to nobody outside. */
const mayBeEmpty = ({ base, filter }: Listing): boolean => base === '' || filter.categorySlug !== undefined;

/** Is there such a list for readers? */
export const hasPage = async ({ db, blog }: Context, listing: Listing): Promise<boolean> =>
  mayBeEmpty(listing) || (await readerPosts(db, blog, { limit: 1, ...listing.filter })).length > 0;

/** One page of a list; nothing where it has none, unless it is the first of the blog or of a category. */
export async function listPage(context: Context, listing: Listing, number: number): Promise<Page | null> {
  const { db, blog } = context;
  const { base, heading, filter } = listing;
  const length = blog.settings.postsPerPage;
  const found = await readerPosts(db, blog, {
    limit: length + 1,
    offset: (number - 1) * length,
    ...filter,
  });
  if (found.length === 0 && !(number === 1 && mayBeEmpty(listing))) return null;
  // What is in the spotlight stands on top of the front page, once.
  const spotlit = base === '' && number === 1 ? await spotlitPosts(db, blog) : [];
  const held = new Set(spotlit.map((p) => p.id));
  const posts = await renderPosts(
    db,
    blog,
    [...spotlit, ...found.slice(0, length).filter((p) => !held.has(p.id))],
    'to the fold',
  );
  const page = (n: number) => `${blog.prefix}${n === 1 ? base || '/' : `${base}/page/${n}`}`;
  return framed(context, 'list', {
    posts,
    spotlit: held,
    staff: await staffNotes(
      context,
      posts.map((p) => p.id),
    ),
    category: listing.category,
    writer: listing.writer,
    number,
    heading,
    title: heading,
    canonical: `${blog.home}${number > 1 ? `${base}/page/${number}` : base || '/'}`,
    description: number > 1 ? `${listing.about}, page ${number}` : listing.about,
    newer: number > 1 ? page(number - 1) : null,
    older: found.length > length ? page(number + 1) : null,
    feeds: base === '' ? null : base,
    linkedData: listing.linkedData && number === 1 ? asScript(listing.linkedData) : null,
    // Pages after the first say nothing that the posts themselves do not.
    noindex: !listing.inSearch || number > 1,
  });
}
