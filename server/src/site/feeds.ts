import { Feed } from 'feed';
import { isLater } from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import { readerPosts, renderPosts, type ReaderBlog } from './readers.js';

const FEED_LENGTH = 20;

/** The library writes these into Atom as they are: titles and summaries, declared as HTML, and attributes. */
export const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

async function makeFeed(
  db: Reader,
  blog: ReaderBlog,
  base: string,
  as: 'atom' | 'rss' | 'json',
): Promise<Feed> {
  const posts = await renderPosts(db, await readerPosts(db, blog.id, { limit: FEED_LENGTH }), 'whole', base);
  const inAtom = (text: string) => (as === 'atom' ? escaped(text) : text);
  const host = new URL(base).hostname;
  const feed = new Feed({
    id: `${base}/`,
    link: `${base}/`,
    title: blog.title,
    description: blog.tagline || blog.title,
    language: 'en',
    copyright: '',
    updated: new Date(
      posts.reduce((last, p) => (isLater(p.updatedAt, last) ? p.updatedAt : last), '1970-01-01T00:00:00Z'),
    ),
    feedLinks: { atom: `${base}/feed.atom`, rss: `${base}/feed.rss`, json: `${base}/feed.json` },
    generator: 'Key Roster',
  });
  for (const post of posts) {
    feed.addItem({
      // A tag URI (RFC 4151) stays the same when the post's address changes.
      id: `tag:${host},2026:post-${post.id}`,
      guid: `tag:${host},2026:post-${post.id}`,
      link: `${base}/${post.slug}`,
      title: inAtom(post.title),
      description: inAtom(post.excerpt || post.title),
      content: post.html,
      date: new Date(isLater(post.updatedAt, post.runAt) ? post.updatedAt : post.runAt),
      published: new Date(post.runAt),
      author: as === 'rss' ? [] : [post.byline, ...post.coauthors].map((name) => ({ name })),
      // In RSS, `author` must be an e-mail address: names go into Dublin Core's creator.
      ...(as === 'rss'
        ? {
            extensions: [post.byline, ...post.coauthors].map((name) => ({
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

/** RFC 4287. */
export async function atomFeed(db: Reader, blog: ReaderBlog, base: string): Promise<string> {
  return (await makeFeed(db, blog, base, 'atom')).atom1();
}
/** RSS 2.0. */
export async function rssFeed(db: Reader, blog: ReaderBlog, base: string): Promise<string> {
  return (await makeFeed(db, blog, base, 'rss')).rss2();
}
/**
 * JSON Feed 1.1; the library writes version 1, whose only differences are the version, `authors` and
 * `language`.
 */
export async function jsonFeed(db: Reader, blog: ReaderBlog, base: string): Promise<string> {
  const feed = await makeFeed(db, blog, base, 'json');
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
