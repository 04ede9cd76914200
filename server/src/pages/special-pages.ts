import type { SpecialDraft } from '@keyroster/contract';
import { SHAPES, SPECIALS_PATH, lookCss, postPath, shortCode, type PictureSource } from '@keyroster/core';
import { mediaSrc, pictureSources } from '../media/sizes.js';
import { mapAddresses } from './addresses.js';
import { moved, type Page } from './cache.js';
import { framed, type Context } from './context.js';
import { originOf } from './linked-data.js';
import type { ReaderBlog } from './reader-blog.js';
import { readerPosts, renderPosts, type ReaderPost, type RenderedPost } from './readers.js';
import { shareImageOf, type ShareImage } from './share-card.js';
import { partsOf, specialHome, specialRows } from './special-store.js';
import { HTML, eta, helpers } from './templates.js';

/** Whatever changes of a special is in pages with this tag. */
export const SPECIAL_TAG = 'special';

/** A special ready to have its pages made. */
export interface OpenSpecial {
  special: SpecialDraft;
  home: string;
  /** What readers get, in order; null where something was withdrawn. */
  parts: (ReaderPost | null)[];
  /** Slugs of what was withdrawn. */
  withdrawn: ReadonlySet<string>;
  /** The blog as a special shows it: in the special's look, for readers without any rights. */
  blog: ReaderBlog;
}

export async function openSpecial(
  { db, blog: own, settings }: Pick<Context, 'db' | 'blog' | 'settings'>,
  special: SpecialDraft,
): Promise<OpenSpecial> {
  const blog = {
    ...own,
    // What it links to of the blog is elsewhere.
    ...{ prefix: own.home, look: special.look, around: null, rights: null },
    root: special.host === null ? own.root : '',
    // A form would need the blog around it.
    settings: { ...own.settings, letter: false },
  };
  const parts = await partsOf(db, blog.id, special.postIds);
  const ids = parts.filter((p) => p.state === 'readable').map((p) => p.id);
  const posts = ids.length === 0 ? [] : await readerPosts(db, blog, { limit: ids.length, ids });
  const byId = new Map(posts.map((p) => [p.id, p]));
  return {
    special,
    home: specialHome(special, blog.home, settings.publicUrl),
    parts: parts.flatMap((p) => (p.state === 'withdrawn' ? [null] : (byId.get(p.id) ?? []))),
    withdrawn: new Set(parts.flatMap((p) => (p.state === 'withdrawn' && p.slug ? [p.slug] : []))),
    blog,
  };
}

const readableParts = ({ parts }: OpenSpecial): ReaderPost[] => parts.filter((p) => p !== null);

/** Addresses of a special's posts on the blog, by which its texts may link to them, and their slugs in the special. */
function ownAddresses(open: OpenSpecial): Map<string, string> {
  const { settings } = open.blog;
  return new Map(
    readableParts(open).flatMap((post) => [
      [postPath(settings.addressPattern, post), post.slug],
      [`/${post.slug}`, post.slug],
      [`/s/${shortCode(post.id)}`, post.slug],
    ]),
  );
}

/** Links to posts of the special stay within it; those to anything else of the blog lead there. */
function withOwnLinks(open: OpenSpecial, html: string): string {
  const { home } = open.blog;
  const own = ownAddresses(open);
  return mapAddresses(html, 'part', (address) => {
    if (!address.startsWith(`${home}/`)) return address;
    const [, path = '', hash = ''] = /^([^#]*)(#.*)?$/.exec(address.slice(home.length))!;
    const slug = own.get(path);
    return slug === undefined ? address : `${slug}${hash}`;
  });
}

function page(
  { settings, trying }: Pick<Context, 'settings' | 'trying'>,
  open: OpenSpecial,
  template: string,
  { tags, status = 200, ...more }: { tags: readonly string[]; status?: number; [more: string]: unknown },
): Page {
  const html = eta.render(template, {
    ...helpers,
    ...{ settings, trying: trying ?? false, special: open.special, home: open.home, blog: open.blog },
    title: null,
    noindex: false,
    // The way up to the cover's folder.
    up: '',
    ...more,
  });
  return { status, type: HTML, body: html, tags: [...tags, 'lists', SPECIAL_TAG] };
}

/** What is shown where the special itself is shared. */
const coverImage = ({ blog, trying }: Context, { coverId, coverAlt }: SpecialDraft): ShareImage | null =>
  trying || coverId === null
    ? null
    : { url: `${originOf(blog.home)}${blog.root}${mediaSrc(coverId)}/landscape.jpg`, alt: coverAlt };

export async function coverPage(context: Context, open: OpenSpecial): Promise<Page> {
  const { special, blog } = open;
  const rendered = await renderPosts(context.db, blog, readableParts(open), 'to the fold');
  const byId = new Map(rendered.map((p) => [p.id, p]));
  const cover: PictureSource | null =
    special.coverId === null
      ? null
      : ((await pictureSources(context.db, [special.coverId], blog.root))(special.coverId) ?? null);
  return page(context, open, 'special-cover', {
    cover,
    description: special.intro.split('\n')[0] || undefined,
    canonical: context.trying ? undefined : open.home,
    url: context.trying ? undefined : open.home,
    share: { ...SHAPES.landscape, image: coverImage(context, special) },
    entries: open.parts.map((p) => (p === null ? null : byId.get(p.id)!)),
    paragraphs: special.intro.split(/\n\s*\n/).filter((p) => p.trim() !== ''),
    tags: [],
  });
}

/** A post of a special. What was withdrawn is said to be gone; where there is nothing, that is said. */
export async function partPage(context: Context, open: OpenSpecial, slug: string): Promise<Page> {
  const posts = readableParts(open);
  const at = posts.findIndex((p) => p.slug === slug);
  if (at < 0) return nothingPage(context, open, slug);
  const [post] = (await renderPosts(context.db, open.blog, [posts[at]!], 'whole')) as [RenderedPost];
  return page(context, open, 'special-post', {
    post: { ...post, html: withOwnLinks(open, post.html) },
    title: post.title,
    description: post.searchDescription || post.excerpt || undefined,
    // Its own place is on the blog.
    canonical: context.trying ? undefined : post.path,
    url: context.trying ? undefined : post.path,
    share: { ...SHAPES.landscape, image: context.trying ? null : shareImageOf(context.blog, post) },
    noindex: !post.inSearch,
    earlier: posts[at - 1] ?? null,
    later: posts[at + 1] ?? null,
    tags: [`post:${post.id}`],
  });
}

function nothingPage(context: Context, open: OpenSpecial, path: string): Page {
  const withdrawn = open.withdrawn.has(path);
  return page(context, open, 'special-nothing', {
    title: withdrawn ? 'Withdrawn' : 'Not here',
    sentence: withdrawn ? 'The post that stood here was withdrawn.' : 'There is nothing at this address.',
    status: withdrawn ? 410 : 404,
    noindex: true,
    up: '../'.repeat(path.split('/').length - 1),
    tags: [],
  });
}

export const specialSheet = ({ special }: Pick<OpenSpecial, 'special'>): Page => ({
  status: 200,
  type: 'text/css; charset=utf-8',
  body: lookCss(special.look),
  tags: [SPECIAL_TAG],
});

const PATH = new RegExp(`^${SPECIALS_PATH}/([a-z0-9-]{1,80})(/?)(.*)$`);

/** A page of a published special by its path on the blog; null where it is none. `own`: asked at a host of its own. */
export async function specialAt(context: Context, path: string, own: boolean): Promise<Page | null> {
  const found = PATH.exec(path);
  if (!found) return path === SPECIALS_PATH ? specialsPage(context) : null;
  const [, slug = '', slash, rest = ''] = found;
  const part = rest.replace(/\/+$/, '');
  const [special] = await specialRows(context.db, context.blog.id, { slug });
  if (!special || special.publishedAt === null) return null;
  const at = specialHome(special, context.blog.home, context.settings.publicUrl);
  const elsewhere = special.host !== null && !own;
  if (elsewhere || !slash || part !== rest) {
    const there = elsewhere ? at : own ? '/' : `${context.blog.prefix}${SPECIALS_PATH}/${slug}/`;
    return moved(`${there}${part}`, ['lists', SPECIAL_TAG]);
  }
  const open = await openSpecial(context, special);
  if (part === '') return coverPage(context, open);
  return part === 'look.css' ? specialSheet(open) : partPage(context, open, part);
}

/** Published specials of a blog; null when it has none, so that another page can have the address. */
async function specialsPage(context: Context): Promise<Page | null> {
  const { db, blog, settings } = context;
  const rows = (await specialRows(db, blog.id)).filter((s) => s.publishedAt !== null);
  if (rows.length === 0) return null;
  return framed(context, 'specials', {
    title: 'Specials',
    canonical: `${blog.home}${SPECIALS_PATH}`,
    specials: rows.map((s) => ({ ...s, home: specialHome(s, blog.home, settings.publicUrl) })),
    tags: ['lists', SPECIAL_TAG],
  });
}

/** Covers of published specials, for the sitemap: those that stand under the blog's own address. */
export async function specialCovers({
  db,
  blog,
  settings,
}: Context): Promise<{ loc: string; lastmod: string }[]> {
  const rows = await specialRows(db, blog.id);
  return rows.flatMap((s) =>
    s.publishedAt === null || s.host !== null
      ? []
      : [{ loc: specialHome(s, blog.home, settings.publicUrl), lastmod: s.publishedAt }],
  );
}
