import { aboveFold, bodyHtml, pictureIds, type BodyNode } from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import { pictureSources } from '../media/routes.js';

/** A published post as readers' pages need it. */
export interface ReaderPost {
  id: number;
  title: string;
  excerpt: string;
  address: string;
  body: BodyNode;
  runAt: string;
  runLocal: string;
  updatedAt: string;
  byline: string;
  coauthors: string[];
  category: string | null;
  categorySlug: string | null;
  hue: number | null;
  leadMedia: number | null;
  leadAlt: string;
  words: number;
}

export interface ReaderBlog {
  id: number;
  title: string;
  tagline: string;
  zone: string;
  categories: { name: string; slug: string; hue: number }[];
}

export const PAGE_LENGTH = 10;

/** The blog that readers see at this address; one for now. Null before the newsroom is set up. */
export async function readerBlog(db: Reader): Promise<ReaderBlog | null> {
  const blog = await db('blogs').orderBy('id').first<Omit<ReaderBlog, 'categories'> | undefined>('id', 'title', 'tagline', 'zone');
  if (!blog) return null;
  return { ...blog, categories: await db('categories').where({ blog_id: blog.id }).orderBy('id').select('name', 'slug', 'hue') };
}

const COLUMNS = [
  'posts.id', 'posts.title', 'posts.excerpt', 'posts.address', 'posts.body', 'posts.run_at as runAt', 'posts.run_local as runLocal', 'posts.updated_at as updatedAt',
  'by.name as byline', 'c.name as category', 'c.slug as categorySlug', 'c.hue', 'posts.lead_media_id as leadMedia', 'posts.lead_alt as leadAlt', 'posts.words',
];

/** Posts that everyone may read; the one predicate that pages, feeds and sitemap share. */
export function readable(db: Reader, blogId: number) {
  return db('posts').where({ 'posts.blog_id': blogId, 'posts.stage': 'published', 'posts.access': 'everyone' } as Record<string, unknown>);
}

export async function readerPosts(db: Reader, blogId: number, options: { limit: number; offset?: number; categorySlug?: string; address?: string }): Promise<ReaderPost[]> {
  const rows = readable(db, blogId).join('people as by', 'by.id', 'posts.byline_id').leftJoin('categories as c', 'c.id', 'posts.category_id')
    .orderBy('posts.run_at', 'desc').orderBy('posts.id', 'desc').limit(options.limit).offset(options.offset ?? 0)
    .select(...COLUMNS, db.raw('array(select p.name from post_coauthors a join people p on p.id = a.person_id where a.post_id = posts.id order by p.name) as coauthors'));
  if (options.categorySlug) void rows.where('c.slug', options.categorySlug);
  if (options.address) void rows.where('posts.address', options.address);
  return rows as unknown as Promise<ReaderPost[]>;
}

export interface RenderedPost extends Omit<ReaderPost, 'body'> {
  html: string;
  folded: boolean;
  lead: { src: string; width: number; height: number } | null;
}

/** Posts with their HTML: whole, or to the fold line. */
export async function renderPosts(db: Reader, posts: readonly ReaderPost[], part: 'whole' | 'to the fold', base = ''): Promise<RenderedPost[]> {
  const sources = await pictureSources(db, posts.flatMap((p) => [...pictureIds(p.body), ...(p.leadMedia ? [p.leadMedia] : [])]), base);
  return posts.map(({ body, ...post }) => {
    const cut = part === 'whole' ? { body, folded: false } : aboveFold(body);
    return { ...post, html: bodyHtml(cut.body, sources, { headingIds: part === 'whole' }), folded: cut.folded, lead: (post.leadMedia && sources(post.leadMedia)) || null };
  });
}
