import { Feed } from 'feed';
import { isLater } from '@keyroster/core';
import type { Page } from './cache.js';
import type { Context } from './context.js';
import { originOf } from './linked-data.js';
import type { Listing } from './listed.js';
import { hasPage } from './listing.js';
import { readerPosts, renderPosts } from './readers.js';

const FEED_LENGTH = 20;

/** The library writes these into Atom as they are: titles and summaries, declared as HTML, and attributes. */
export const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

/** What a feed is of. */
interface FeedOf extends Pick<Listing, 'base' | 'heading'> {
  /** What is asked at its address, with the question mark. */
  query?: string;
  filter: Listing['filter'] & { ids?: readonly number[] };
}

async function makeFeed(
  { db, blog }: Context,
  { base, query = '', heading, filter }: FeedOf,
  as: FeedKind,
): Promise<Feed> {
  const found = await readerPosts(db, blog, { limit: FEED_LENGTH, ...filter });
  const posts = await renderPosts(db, blog, found, 'whole, for elsewhere');
  const inAtom = (text: string) => (as === 'atom' ? escaped(text) : text);
  const host = new URL(blog.home).hostname;
  const page = `${blog.home}${base || '/'}${query}`;
  const title = heading === null ? blog.title : `${heading} · ${blog.title}`;
  const self = (kind: FeedKind) => `${blog.home}${base}/feed.${kind}${query}`;
  const feed = new Feed({
    id: page,
    link: page,
    title,
    description: heading === null ? blog.tagline || blog.title : title,
    language: 'en',
    copyright: '',
    updated: new Date(
      posts.reduce((last, p) => (isLater(p.updatedAt, last) ? p.updatedAt : last), '1970-01-01T00:00:00Z'),
    ),
    feedLinks: { atom: self('atom'), rss: self('rss'), json: self('json') },
    generator: 'Key Roster',
  });
  for (const post of posts) {
    feed.addItem({
      // A tag URI (RFC 4151) stays the same when the post's address changes.
      id: `tag:${host},2026:post-${post.id}`,
      guid: `tag:${host},2026:post-${post.id}`,
      link: `${originOf(blog.home)}${post.path}`,
      title: inAtom(post.title),
      description: inAtom(post.excerpt || post.title),
      content: post.html,
      date: new Date(isLater(post.updatedAt, post.runAt) ? post.updatedAt : post.runAt),
      published: new Date(post.runAt),
      author: as === 'rss' ? [] : post.writers.map(({ name }) => ({ name })),
      // In RSS, `author` must be an e-mail address: names go into Dublin Core's creator.
      ...(as === 'rss'
        ? {
            extensions: post.writers.map(({ name }) => ({
              name: 'dc:creator',
              objects: { _text: name },
            })),
          }
        : {}),
      category: [post.category, post.secondCategory, ...post.tags.map((t) => t.name)]
        .filter((name) => name !== null)
        .map((name) => ({ name: inAtom(name), term: inAtom(name) })),
    });
  }
  return feed;
}

const TYPES = {
  atom: 'application/atom+xml; charset=utf-8',
  rss: 'application/rss+xml; charset=utf-8',
  json: 'application/feed+json; charset=utf-8',
} as const;
export type FeedKind = keyof typeof TYPES;

/** The newest posts of a list, whole: as Atom (RFC 4287), RSS 2.0 or JSON Feed 1.1. */
export async function feedPage(context: Context, listing: Listing, kind: FeedKind): Promise<Page | null> {
  return (await hasPage(context, listing)) ? feedOf(context, listing, kind) : null;
}

/** A feed, though it may have nothing in it yet. */
export async function feedOf(context: Context, listing: FeedOf, kind: FeedKind): Promise<Page> {
  const feed = await makeFeed(context, listing, kind);
  const body = kind === 'atom' ? feed.atom1() : kind === 'rss' ? feed.rss2() : jsonFeed(feed);
  return { status: 200, type: TYPES[kind], body, tags: ['lists'] };
}

/** The library writes version 1, whose only differences are the version, `authors` and `language`. */
function jsonFeed(feed: Feed): string {
  const value = JSON.parse(feed.json1()) as { version: string; items: Record<string, unknown>[] } & Record<
    string,
    unknown
  >;
  value.version = 'https://jsonfeed.org/version/1.1';
  value['language'] = 'en';
  value.items.forEach((item, i) => {
    delete item['author'];
    item['authors'] = (feed.items[i]!.author ?? []).map(({ name }) => ({ name }));
  });
  return JSON.stringify(value);
}
