import {
  withHome,
  aboveFold,
  bodyHtml,
  fileIds,
  pictureIds,
  type Access,
  type BodyNode,
  type FormatField,
  type FormatValue,
  type FormatValues,
  type PictureSource,
} from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import { fileSources } from '../media/files.js';
import { mediaSrc, pictureSources } from '../media/sizes.js';

/** A published post as readers' pages need it. */
export interface ReaderPost {
  id: number;
  title: string;
  excerpt: string;
  slug: string;
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
  subtitle: string;
  searchTitle: string;
  searchDescription: string;
  sourceUrl: string;
  titleLinks: boolean;
  place: string;
  shareMedia: number | null;
  formatFields: FormatField[] | null;
  formatValues: FormatValues;
  tags: { name: string; slug: string }[];
  secondCategory: string | null;
  secondCategorySlug: string | null;
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
  const blog = await db('blogs')
    .orderBy('id')
    .first<Omit<ReaderBlog, 'categories'> | undefined>('id', 'title', 'tagline', 'zone');
  if (!blog) return null;
  return {
    ...blog,
    categories: await db('categories')
      .where({ blog_id: blog.id })
      .orderBy('id')
      .select('name', 'slug', 'hue'),
  };
}

const COLUMNS = [
  'posts.id',
  'posts.title',
  'posts.excerpt',
  'posts.slug',
  'posts.body',
  'posts.run_at as runAt',
  'posts.run_local as runLocal',
  'posts.updated_at as updatedAt',
  'by.name as byline',
  'c.name as category',
  'c.slug as categorySlug',
  'c.hue',
  'posts.lead_media_id as leadMedia',
  'posts.lead_alt as leadAlt',
  'posts.words',
  'posts.subtitle',
  'posts.search_title as searchTitle',
  'posts.search_description as searchDescription',
  'posts.source_url as sourceUrl',
  'posts.title_links as titleLinks',
  'posts.place',
  'posts.share_media_id as shareMedia',
  'f.fields as formatFields',
  'posts.format_values as formatValues',
  'c2.name as secondCategory',
  'c2.slug as secondCategorySlug',
];

/**
 * Posts as readers see them, those that may be read: by everyone, the one predicate that pages, feeds and sitemap share; or by signed-in
 * staff.
 */
export function readable(db: Reader, blogId: number, audience: Access = 'everyone') {
  return db('readers_posts as posts')
    .where({ 'posts.blog_id': blogId, 'posts.stage': 'published' } as Record<string, unknown>)
    .whereIn('posts.access', audience === 'staff' ? ['everyone', 'staff'] : ['everyone']);
}

export async function readerPosts(
  db: Reader,
  blogId: number,
  options: {
    limit: number;
    offset?: number;
    categorySlug?: string;
    tagId?: number;
    slug?: string;
    spotlit?: boolean;
    audience?: Access;
  },
): Promise<ReaderPost[]> {
  const rows = readable(db, blogId, options.audience)
    .join('people as by', 'by.id', 'posts.byline_id')
    .leftJoin('categories as c', 'c.id', 'posts.category_id')
    .leftJoin('categories as c2', 'c2.id', 'posts.second_category_id')
    .leftJoin('formats as f', 'f.id', 'posts.format_id')
    // As the index has it; else all posts are read for the newest ten.
    .orderByRaw('posts.run_at desc nulls last, posts.id desc')
    .limit(options.limit)
    .offset(options.offset ?? 0)
    .select(
      ...COLUMNS,
      db.raw(
        `
          array(
            select
              p.name
            from
              people p
            where
              p.id = any (posts.coauthor_ids)
            order by
              p.name
          ) as coauthors
        `,
      ),
      db.raw(
        `
          coalesce(
            (
              select
                json_agg(
                  json_build_object('name', t.name, 'slug', t.slug)
                  order by
                    t.name
                )
              from
                tags t
              where
                t.id = any (posts.tag_ids)
            ),
            '[]'
          ) as tags
        `,
      ),
    );
  if (options.categorySlug)
    void rows.where((w) =>
      w.where('c.slug', options.categorySlug!).orWhere('c2.slug', options.categorySlug!),
    );
  // Few posts wait for an update; of all others the table of tags knows which they are.
  if (options.tagId !== undefined)
    void rows.where((w) =>
      w
        .where((q) =>
          q
            .whereNull('posts.readers_version')
            .whereIn('posts.id', db('post_tags').where({ tag_id: options.tagId! }).select('post_id')),
        )
        .orWhere((q) =>
          q.whereNotNull('posts.readers_version').whereRaw('? = any (posts.tag_ids)', [options.tagId!]),
        ),
    );
  // By the indexes of both, since an address that readers see may be on either.
  if (options.slug)
    void rows
      .where('posts.slug', options.slug)
      .whereRaw(
        'posts.id in (select id from posts where blog_id = ? and slug = ? union all ' +
          'select post_id from readers_versions where blog_id = ? and slug = ?)',
        [blogId, options.slug, blogId, options.slug],
      );
  if (options.spotlit)
    void rows.whereRaw(
      `
        (
          now() at time zone(
            select
              zone
            from
              blogs
            where
              id = posts.blog_id
          )
        )::date between posts.spotlight_from and posts.spotlight_until
      `,
    );
  return rows as unknown as Promise<ReaderPost[]>;
}

export interface RenderedPost extends Omit<ReaderPost, 'body'> {
  html: string;
  folded: boolean;
  lead: PictureSource | null;
  /** A picture cut for cards that share the post. */
  shareSrc: string | null;
  /** Filled fields of its format, by name. */
  facts: { label: string; kind: FormatField['kind']; value: FormatValue }[];
}

/** Where a sign-up for the letter is sent. */
const SIGN_UP = '/letter';

function factsOf(fields: readonly FormatField[] | null, values: FormatValues): RenderedPost['facts'] {
  return (fields ?? []).flatMap(({ key, label, kind }) => {
    const value = values[key];
    return value === undefined || value === '' || (Array.isArray(value) && value.length === 0)
      ? []
      : [{ label, kind, value }];
  });
}

/** Posts with their HTML: whole, or to the fold line. */
export async function renderPosts(
  db: Reader,
  posts: readonly ReaderPost[],
  part: 'whole' | 'to the fold',
  base = '',
): Promise<RenderedPost[]> {
  const sources = await pictureSources(
    db,
    posts.flatMap((p) => [...pictureIds(p.body), ...(p.leadMedia ? [p.leadMedia] : [])]),
    base,
  );
  const files = await fileSources(
    db,
    posts.flatMap((p) => fileIds(p.body)),
    base,
  );
  return posts.map(({ body, ...post }) => {
    const cut = part === 'whole' ? { body, folded: false } : aboveFold(body);
    return {
      ...post,
      html: bodyHtml(base === '' ? cut.body : withHome(cut.body, base, post.slug), sources, {
        headingIds: part === 'whole',
        files,
        signUpAction: part === 'whole' ? `${SIGN_UP}?post=${post.id}` : undefined,
      }),
      folded: cut.folded,
      lead: (post.leadMedia && sources(post.leadMedia)) || null,
      shareSrc:
        (post.shareMedia ?? post.leadMedia)
          ? `${mediaSrc((post.shareMedia ?? post.leadMedia)!)}/landscape.jpg`
          : null,
      facts: factsOf(post.formatFields, post.formatValues),
    };
  });
}
