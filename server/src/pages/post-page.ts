import { SHAPES, isLater, postPath, type FormatField, type SiteSettings } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { planRelating } from '../jobs/queue.js';
import type { WholePostRow } from '../posts/store.js';
import { moved, type Page } from './cache.js';
import { framed, type Context } from './context.js';
import { asScript, originOf, schemaPost } from './linked-data.js';
import { commentsBelow, type CommentsBelow } from './comments.js';
import { gatePage } from './gate-page.js';
import { pathIn, siteSettings } from './reader-blog.js';
import { staffNotes, type StaffNote } from './staff.js';
import { shareImageOf } from './share-card.js';
import { serialPlace, type SerialPlace } from './serial-place.js';
import { readable } from '../access/readable.js';
import { readerPosts, readerTexts, renderPosts, type ReaderPost, type RenderedPost } from './readers.js';
import { relatedTitles, type TitleLink } from './titles.js';

/** Related posts under a post. */
const RELATED = 4;

/**
 * The post that has a slug, at its address; an address of the blog's other build, or of before, leads to it for
 * good. Without `path`, whatever the address.
 */
export async function postPage(context: Context, slug: string, path: string | null): Promise<Page | null> {
  const { db, blog } = context;
  const [post] = await readerPosts(db, blog, { limit: 1, slug });
  if (!post) return (await movedPage(context, slug)) ?? gatePage(context, slug, path);
  const own = pathIn(blog, post);
  if (path !== null && own !== `${blog.prefix}${path}`) return moved(own, [`post:${post.id}`, 'lists']);
  const neighbour = async (comparison: '<' | '>', order: 'asc' | 'desc'): Promise<TitleLink | null> => {
    const row = await readable(db, blog)
      .whereRaw(`(posts.run_at, posts.id) ${comparison} (?::timestamptz, ?)`, [post.runAt, post.id])
      .orderByRaw(
        order === 'asc'
          ? 'posts.run_at asc nulls first, posts.id asc'
          : 'posts.run_at desc nulls last, posts.id desc',
      )
      .first<{ title: string; slug: string; runLocal: string } | undefined>(
        'posts.title',
        'posts.slug',
        'posts.run_local as runLocal',
      );
    return row ? { label: row.title, href: pathIn(blog, row), note: '' } : null;
  };
  // Of a large archive a post is compared with the others once somebody reads it.
  if (post.relatedVersion === null) await planRelating(db, [post.id]);
  const [rendered] = await renderPosts(db, blog, [post], 'whole');
  return framePost(context, rendered!, {
    newer: await neighbour('>', 'asc'),
    older: await neighbour('<', 'desc'),
    related: await relatedTitles(db, blog, post.id, RELATED),
    serial: await serialPlace(db, blog, post.id),
    staff: await staffNotes(context, [post.id]),
    below: context.trying ? null : await commentsBelow(db, blog, post.id),
    // Search engines are shown what everybody may read.
    noindex: blog.rights !== null || !post.inSearch,
  });
}

interface Around {
  newer: TitleLink | null;
  older: TitleLink | null;
  related: TitleLink[];
  serial: SerialPlace | null;
  staff: Map<number, StaffNote> | null;
  /** What readers say of it; null where nothing of that shows. */
  below: CommentsBelow | null;
  noindex: boolean;
}

function framePost(context: Context, post: RenderedPost, around: Around, preview = false): Page {
  const { blog } = context;
  const modified = isLater(post.updatedAt, post.runAt) ? post.updatedAt : post.runAt;
  const url = `${originOf(blog.home)}${post.path}`;
  const image = preview ? null : shareImageOf(blog, post);
  return framed(context, 'post', {
    ...around,
    post,
    modified,
    shortUrl: `${originOf(blog.home)}${post.shortPath}`,
    url,
    share: {
      title: post.title,
      description: post.excerpt,
      ...SHAPES.landscape,
      image,
      published: post.runAt,
      modified,
    },
    linkedData: preview
      ? null
      : asScript(schemaPost(blog, post, { url, modified, image: image?.url ?? null })),
    title: post.searchTitle || post.title,
    description: post.searchDescription || post.excerpt || undefined,
    canonical: preview ? undefined : url,
    preview,
    tags: [`post:${post.id}`, 'lists'],
  });
}

/** An address that a post once had leads permanently to where it is now; on another blog of the newsroom, too. */
async function movedPage({ db, blog }: Context, slug: string): Promise<Page | null> {
  const post = await readable(db, blog)
    .join('old_slugs as o', 'o.post_id', 'posts.id')
    .where({ 'o.blog_id': blog.id, 'o.slug': slug })
    .first<{ id: number; slug: string; runLocal: string } | undefined>(
      'posts.id',
      'posts.slug',
      'posts.run_local as runLocal',
    );
  return post ? moved(pathIn(blog, post), [`post:${post.id}`, 'lists']) : movedAwayPage(db, blog.id, slug);
}

async function movedAwayPage(db: Queryable, blogId: number, slug: string): Promise<Page | null> {
  const there = await db('moved_away as m')
    .join('posts as p', 'p.id', 'm.post_id')
    .join('blogs as b', 'b.id', 'p.blog_id')
    .where({ 'm.blog_id': blogId, 'm.slug': slug })
    .first<{ id: number; blog: number; home: string; site: Partial<SiteSettings> } | undefined>(
      'p.id',
      'b.id as blog',
      'b.home',
      'b.site',
    );
  const post =
    there &&
    (await readable(db, { id: there.blog })
      .where({ 'posts.id': there.id })
      .first<{ slug: string; runLocal: string } | undefined>('posts.slug', 'posts.run_local as runLocal'));
  return post ? moved(there.home + postPath(siteSettings(there.site).addressPattern, post)) : null;
}

/** A post as it will look to readers, whatever its stage. */
export async function previewPage(context: Context, row: WholePostRow): Promise<string> {
  const { db, blog } = context;
  const writers = await db('people as p')
    .leftJoin('memberships as m', (on) =>
      on.on('m.person_id', 'p.id').andOnVal('m.blog_id', '=', row.blog_id),
    )
    .whereIn('p.id', [...row.coauthor_ids, ...(row.byline_id === null ? [] : [row.byline_id])])
    .orderByRaw('p.id <> ?, p.name', [row.byline_id ?? 0])
    .select<ReaderPost['writers']>('p.name', 'm.slug');
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
    ...readerTexts(row),
    id: row.id,
    slug: row.slug ?? '',
    body: row.body,
    runAt: row.run_at ?? now,
    runLocal: row.run_local ?? now.slice(0, 19),
    updatedAt: row.updated_at,
    writers: row.byline_id === null ? [{ name: 'nobody yet', slug: null }, ...writers] : writers,
    category: category?.name ?? null,
    categorySlug: category?.slug ?? null,
    hue: category?.hue ?? null,
    leadMedia: row.lead_media_id,
    leadAlt: row.lead_alt,
    words: row.words,
    sourceUrl: row.source_url,
    titleLinks: row.title_links,
    shareMedia: row.share_media_id,
    inSearch: row.in_search,
    relatedVersion: null,
    formatValues: row.format_values,
    formatFields: format?.fields ?? null,
    secondCategory: second?.name ?? null,
    secondCategorySlug: second?.slug ?? null,
    tags: await db('tags')
      .whereIn('id', row.tag_ids)
      .orderBy('name')
      .select<{ name: string; slug: string }[]>('name', 'slug'),
  };
  const [rendered] = await renderPosts(db, blog, [post], 'whole');
  const around = {
    newer: null,
    older: null,
    related: [],
    serial: null,
    staff: null,
    below: null,
    noindex: true,
  };
  return framePost(context, rendered!, around, true).body;
}
