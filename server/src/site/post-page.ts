import { isLater, type Access, type FormatField } from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import type { WholePostRow } from '../posts/store.js';
import type { Settings } from '../settings.js';
import type { Page } from './cache.js';
import {
  readable,
  readerBlog,
  readerPosts,
  renderPosts,
  type ReaderBlog,
  type ReaderPost,
  type RenderedPost,
} from './readers.js';
import { HTML, eta, helpers } from './templates.js';

export async function postPage(
  { db, blog, settings }: { db: Reader; blog: ReaderBlog; settings: Settings },
  slug: string,
  audience: Access = 'everyone',
): Promise<Page | null> {
  const [post] = await readerPosts(db, blog.id, { limit: 1, slug, audience });
  if (!post) return movedPage(db, blog, slug);
  const neighbour = (comparison: '<' | '>', order: 'asc' | 'desc') =>
    readable(db, blog.id)
      .whereRaw(`(posts.run_at, posts.id) ${comparison} (?::timestamptz, ?)`, [post.runAt, post.id])
      .orderByRaw(
        order === 'asc'
          ? 'posts.run_at asc nulls first, posts.id asc'
          : 'posts.run_at desc nulls last, posts.id desc',
      )
      .first<{ title: string; slug: string } | undefined>('posts.title', 'posts.slug');
  const [rendered] = await renderPosts(db, [post], 'whole');
  const modified = isLater(post.updatedAt, post.runAt) ? post.updatedAt : post.runAt;
  const body = eta.render('post', {
    ...helpers,
    blog,
    settings,
    post: rendered,
    modified,
    linkedData: linkedData(blog, rendered!, settings.publicUrl, modified),
    title: post.searchTitle || post.title,
    newer: await neighbour('>', 'asc'),
    older: await neighbour('<', 'desc'),
    preview: false,
    noindex: audience !== 'everyone',
  });
  return { status: 200, type: HTML, body, tags: [`post:${post.id}`, 'lists'] };
}

/**
 * A post as search engines read it: a BlogPosting of schema.org in JSON-LD. Written so that nothing in it can
 * end the element it stands in (HTML, section 4.12.1.3).
 */
function linkedData(blog: ReaderBlog, post: RenderedPost, base: string, modified: string): string {
  const url = `${base}/${post.slug}`;
  return JSON.stringify({
    '@context': 'https://schema.org',
    '@type': 'BlogPosting',
    '@id': url,
    url,
    mainEntityOfPage: url,
    headline: post.title,
    ...(post.excerpt ? { description: post.excerpt } : {}),
    ...(post.shareSrc ? { image: `${base}${post.shareSrc}` } : {}),
    datePublished: post.runAt,
    dateModified: modified,
    wordCount: post.words,
    inLanguage: 'en',
    author: [post.byline, ...post.coauthors].map((name) => ({ '@type': 'Person', name })),
    ...(post.category ? { articleSection: post.category } : {}),
    ...(post.tags.length > 0 ? { keywords: post.tags.map((t) => t.name) } : {}),
    isPartOf: { '@type': 'Blog', name: blog.title, url: `${base}/` },
    publisher: { '@type': 'Organization', name: blog.title, url: `${base}/` },
  }).replaceAll('<', '\\u003c');
}

/** An address that a post once had leads to where it is now, for good. */
async function movedPage(db: Reader, blog: ReaderBlog, slug: string): Promise<Page | null> {
  const post = await readable(db, blog.id)
    .join('old_slugs as o', 'o.post_id', 'posts.id')
    .where({ 'o.blog_id': blog.id, 'o.slug': slug })
    .first<{ id: number; slug: string } | undefined>('posts.id', 'posts.slug');
  return post
    ? {
        status: 301,
        type: HTML,
        body: `<p>This post is at <a href="/${post.slug}">/${post.slug}</a> now.</p>`,
        tags: [`post:${post.id}`, 'lists'],
        location: `/${post.slug}`,
      }
    : null;
}

/** A post as it will look to readers, whatever its stage. */
export async function previewPage(db: Reader, settings: Settings, row: WholePostRow): Promise<string> {
  const blog = (await readerBlog(db))!;
  const names = await db('people').whereIn('id', row.coauthor_ids).orderBy('name').pluck<string[]>('name');
  const category =
    row.category_id === null
      ? undefined
      : await db('categories')
          .where({ id: row.category_id })
          .first<{ name: string; slug: string; hue: number }>('name', 'slug', 'hue');
  const second =
    row.second_category_id === null
      ? undefined
      : await db('categories')
          .where({ id: row.second_category_id })
          .first<{ name: string; slug: string }>('name', 'slug');
  const format =
    row.format_id === null
      ? undefined
      : await db('formats').where({ id: row.format_id }).first<{ fields: FormatField[] }>('fields');
  const now = new Date().toISOString();
  const post: ReaderPost = {
    id: row.id,
    title: row.title,
    excerpt: row.excerpt,
    slug: row.slug ?? '',
    body: row.body,
    runAt: row.run_at ?? now,
    runLocal: row.run_local ?? now.slice(0, 19),
    updatedAt: row.updated_at,
    byline: row.byline_name ?? 'nobody yet',
    coauthors: names,
    category: category?.name ?? null,
    categorySlug: category?.slug ?? null,
    hue: category?.hue ?? null,
    leadMedia: row.lead_media_id,
    leadAlt: row.lead_alt,
    words: row.words,
    subtitle: row.subtitle,
    searchTitle: row.search_title,
    searchDescription: row.search_description,
    sourceUrl: row.source_url,
    titleLinks: row.title_links,
    place: row.place,
    shareMedia: row.share_media_id,
    formatValues: row.format_values,
    formatFields: format?.fields ?? null,
    secondCategory: second?.name ?? null,
    secondCategorySlug: second?.slug ?? null,
    tags: await db('tags')
      .whereIn('id', row.tag_ids)
      .orderBy('name')
      .select<{ name: string; slug: string }[]>('name', 'slug'),
  };
  const [rendered] = await renderPosts(db, [post], 'whole');
  return eta.render('post', {
    ...helpers,
    blog,
    settings,
    post: rendered,
    title: post.title,
    newer: null,
    older: null,
    preview: true,
    noindex: true,
  });
}
