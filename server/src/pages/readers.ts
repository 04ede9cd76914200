import {
  withHome,
  aboveFold,
  bodyHtml,
  contentsHtml,
  fileIds,
  HELD_FIELDS,
  pictureIds,
  POST_FIELDS,
  postPath,
  shortCode,
  textFieldsIn,
  type BodyNode,
  type FormatField,
  type FormatValue,
  type FormatValues,
  type HeldField,
  type PictureSource,
  type PostValues,
  type TextFieldName,
} from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { fileSources } from '../media/files.js';
import { mediaSrc, pictureSources } from '../media/sizes.js';
import { textColumn, textsOf } from '../posts/columns.js';
import { readable, type Reading } from '../access/readable.js';
import { pathIn, type ReaderBlog } from './reader-blog.js';

/** Fields of text that readers see. */
type ReaderText = Extract<HeldField, TextFieldName>;
const READER_TEXTS = HELD_FIELDS.filter((f): f is ReaderText => POST_FIELDS[f].kind === 'text');
export const readerTexts = (row: object) => textsOf(row, READER_TEXTS);

/** A published post as readers' pages need it. */
export interface ReaderPost extends Pick<PostValues, ReaderText> {
  id: number;
  slug: string;
  body: BodyNode;
  runAt: string;
  runLocal: string;
  updatedAt: string;
  /** Its byline, then its co-authors; each with the address of their own page. */
  writers: { name: string; slug: string | null }[];
  category: string | null;
  categorySlug: string | null;
  hue: number | null;
  leadMedia: number | null;
  leadAlt: string;
  words: number;
  sourceUrl: string;
  titleLinks: boolean;
  shareMedia: number | null;
  formatFields: FormatField[] | null;
  formatValues: FormatValues;
  tags: { name: string; slug: string }[];
  secondCategory: string | null;
  secondCategorySlug: string | null;
  inSearch: boolean;
  /** The version with which it was compared with other posts; null: never. */
  relatedVersion: number | null;
}

const COLUMNS = [
  ...READER_TEXTS.map((f) => `posts.${textColumn(f)} as ${f}`),
  'posts.id',
  'posts.slug',
  'posts.body',
  'posts.run_at as runAt',
  'posts.run_local as runLocal',
  'posts.updated_at as updatedAt',
  'c.name as category',
  'c.slug as categorySlug',
  'c.hue',
  'posts.lead_media_id as leadMedia',
  'posts.lead_alt as leadAlt',
  'posts.words',
  'posts.source_url as sourceUrl',
  'posts.title_links as titleLinks',
  'posts.share_media_id as shareMedia',
  'f.fields as formatFields',
  'posts.format_values as formatValues',
  'c2.name as secondCategory',
  'c2.slug as secondCategorySlug',
  'posts.in_search as inSearch',
  'posts.related_version as relatedVersion',
];

export async function readerPosts(
  db: Queryable,
  blog: Reading,
  options: {
    limit: number;
    offset?: number;
    categorySlug?: string;
    tagId?: number;
    slug?: string;
    writerId?: number;
    /** Wall times of the blog: from the first on, before the second. */
    from?: string;
    before?: string;
    ids?: readonly number[];
  },
): Promise<ReaderPost[]> {
  const rows = readable(db, blog)
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
          (
            select
              json_agg(
                json_build_object('name', p.name, 'slug', m.slug)
                order by
                  p.id <> posts.byline_id,
                  p.name
              )
            from
              people p
              left join memberships m on m.person_id = p.id
              and m.blog_id = posts.blog_id
            where
              p.id = posts.byline_id
              or p.id = any (posts.coauthor_ids)
          ) as writers
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
  if (options.writerId !== undefined)
    void rows.where((w) =>
      w
        .where('posts.byline_id', options.writerId!)
        .orWhere((q) =>
          q
            .whereNull('posts.readers_version')
            .whereIn(
              'posts.id',
              db('post_coauthors').where({ person_id: options.writerId! }).select('post_id'),
            ),
        )
        .orWhere((q) =>
          q
            .whereNotNull('posts.readers_version')
            .whereRaw('? = any (posts.coauthor_ids)', [options.writerId!]),
        ),
    );
  if (options.from !== undefined && options.before !== undefined)
    void rows
      .where('posts.run_local', '>=', options.from)
      .where('posts.run_local', '<', options.before)
      // By the index of instants, which lie within a day of the wall times of any zone.
      .whereRaw(`posts.run_at between ?::timestamp - interval '1 day' and ?::timestamp + interval '1 day'`, [
        options.from,
        options.before,
      ]);
  if (options.ids) void rows.whereIn('posts.id', options.ids);
  // By the indexes of both, since an address that readers see may be on either.
  if (options.slug)
    void rows
      .where('posts.slug', options.slug)
      .whereRaw(
        'posts.id in (select id from posts where blog_id = ? and slug = ? union all ' +
          'select post_id from readers_versions where blog_id = ? and slug = ?)',
        [blog.id, options.slug, blog.id, options.slug],
      );
  return rows as unknown as Promise<ReaderPost[]>;
}

export interface RenderedPost extends Omit<ReaderPost, 'body'> {
  /** Where it stands, and a shorter way there. */
  path: string;
  shortPath: string;
  html: string;
  /** A table of contents, where the text is long enough for one. */
  contents: string;
  folded: boolean;
  lead: PictureSource | null;
  /** A picture cut for cards that share the post. */
  shareSrc: string | null;
  /** What it shows; empty where nothing is said of it. */
  shareAlt: string;
  /** The lines under its title. */
  underTitle: string[];
  /** Filled fields of its format, by name. */
  facts: { label: string; kind: FormatField['kind']; value: FormatValue }[];
}

function factsOf(fields: readonly FormatField[] | null, values: FormatValues): RenderedPost['facts'] {
  return (fields ?? []).flatMap(({ key, label, kind }) => {
    const value = values[key];
    return value === undefined || value === '' || (Array.isArray(value) && value.length === 0)
      ? []
      : [{ label, kind, value }];
  });
}

/**
 * Posts with their HTML: whole, or to the fold line. With `whole addresses` for readers elsewhere, as in feeds.
 */
export async function renderPosts(
  db: Queryable,
  blog: ReaderBlog,
  posts: readonly ReaderPost[],
  part: 'whole' | 'to the fold' | 'whole, for elsewhere',
): Promise<RenderedPost[]> {
  const elsewhere = part === 'whole, for elsewhere';
  const whole = part !== 'to the fold';
  const origin = elsewhere ? blog.home.slice(0, -blog.prefix.length || undefined) : '';
  const base = `${origin}${blog.root}`;
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
    const cut = whole ? { body, folded: false } : aboveFold(body);
    const path = pathIn(blog, post);
    const shown = elsewhere
      ? withHome(cut.body, blog.home, `${blog.home}${postPath(blog.settings.addressPattern, post)}`)
      : blog.prefix === ''
        ? cut.body
        : withHome(cut.body, blog.prefix, '');
    return {
      ...post,
      path,
      shortPath: `${blog.prefix}/s/${shortCode(post.id)}`,
      html: bodyHtml(shown, sources, {
        headingIds: part === 'whole',
        files,
        signUpAction:
          part === 'whole' && blog.settings.letter ? `${blog.prefix}/letter?post=${post.id}` : undefined,
      }),
      contents: part === 'whole' ? contentsHtml(body) : '',
      folded: cut.folded,
      lead: (post.leadMedia && sources(post.leadMedia)) || null,
      shareSrc:
        (post.shareMedia ?? post.leadMedia)
          ? `${mediaSrc((post.shareMedia ?? post.leadMedia)!)}/landscape.jpg`
          : null,
      shareAlt: post.shareMedia === null ? post.leadAlt : '',
      underTitle: textFieldsIn('under the title').flatMap((f) => post[f] || []),
      facts: factsOf(post.formatFields, post.formatValues),
    };
  });
}
