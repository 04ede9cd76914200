import { createHash } from 'node:crypto';
import {
  USUAL_SITE,
  aroundCss,
  linkOf,
  lookCss,
  lookOf,
  postPath,
  usualMenu,
  type AddressPattern,
  type Around,
  type Look,
  type MenuBlog,
  type MenuEntry,
  type MenuLink,
  type Panel,
  type ReaderRights,
  type SiteSettings,
} from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import type { Settings } from '../settings.js';
import { readable, type Reading } from '../access/readable.js';
import { homeOf, rootOf, type Place } from './places.js';

/** A blog as its pages need it. */
export interface ReaderBlog {
  id: number;
  title: string;
  tagline: string;
  zone: string;
  categories: { id: number; name: string; slug: string; hue: number }[];
  /** Its address, without a slash at the end. */
  home: string;
  /** What stands before every path of its own pages; before pictures and assets. */
  prefix: string;
  root: string;
  settings: SiteSettings;
  look: Look;
  /** The path of its style sheet, other for another look. */
  lookHref: string;
  menu: MenuLink[];
  panels: Panel[];
  /** The site that it is shown in as a part of it. */
  around: Around | null;
  /** Who reads; null: who brings nothing. */
  rights: ReaderRights | null;
}

interface BlogRow extends Place {
  title: string;
  tagline: string;
  zone: string;
  site: Partial<SiteSettings>;
  menu: MenuEntry[] | null;
  panels: Panel[];
  look: unknown;
  around: Around | null;
}

export const siteSettings = (kept: Partial<SiteSettings>): SiteSettings => ({ ...USUAL_SITE, ...kept });

/** Where a post stands on its blog, as a path that a link in a page can have. */
export const pathIn = (
  blog: Pick<ReaderBlog, 'prefix' | 'settings'>,
  post: { slug: string; runLocal: string },
): string => `${blog.prefix}${postPath(blog.settings.addressPattern, post)}`;

/**
 * The blog that readers see, as `trying` would have it look; `mounted` within the site around it. Null before the
 * newsroom is set up.
 */
export async function readerBlog(
  db: Queryable,
  { publicUrl }: Pick<Settings, 'publicUrl'>,
  id?: number,
  {
    trying,
    mounted = false,
    rights = null,
  }: { trying?: Look; mounted?: boolean; rights?: ReaderRights | null } = {},
): Promise<ReaderBlog | null> {
  const row = await db('blogs')
    .modify((q) => {
      if (id !== undefined) void q.where({ id });
    })
    .orderBy('id')
    .first<BlogRow | undefined>(
      'id',
      'host',
      'path',
      'title',
      'tagline',
      'zone',
      'site',
      'menu',
      'panels',
      'look',
      'around',
    );
  if (!row) return null;
  const root = rootOf(publicUrl);
  const settings = siteSettings(row.site);
  const home = homeOf(row, publicUrl);
  const categories = await db('categories')
    .where({ blog_id: row.id })
    .orderBy('id')
    .select<ReaderBlog['categories']>('id', 'name', 'slug', 'hue');
  const menu = row.menu ?? usualMenu(categories);
  const named = await menuPosts(
    db,
    { id: row.id, rights },
    [...menu, ...startEntries(settings)],
    settings.addressPattern,
  );
  const about: MenuBlog = {
    home,
    categories,
    posts: named,
    hasStart: settings.start.posts.some((p) => named.has(p)),
  };
  const look = trying ?? lookOf(row.look);
  const around = mounted ? row.around : null;
  const mark = createHash('sha256').update(sheetOf({ look, around })).digest('base64url').slice(0, 10);
  const place = around?.mount ?? row;
  const prefix = place.host === null ? `${root}${place.path}` : place.path;
  return {
    id: row.id,
    title: row.title,
    tagline: row.tagline,
    zone: row.zone,
    categories,
    home,
    rights,
    prefix,
    root: place.host === null ? root : place.path,
    around,
    settings,
    look,
    lookHref: `${prefix}/look.css?${mark}`,
    menu: menu.flatMap((entry) => linkOf(entry, about) ?? []),
    panels: row.panels.filter((p) => p.shown && (p.kind !== 'letter' || settings.letter)),
  };
}

/** The style sheet of a blog: its look, in the colours of the site around it where there is one. */
export const sheetOf = ({ look, around }: Pick<ReaderBlog, 'look' | 'around'>): string =>
  around ? aroundCss(look, around) : lookCss(look);

const startEntries = ({ start }: SiteSettings): MenuEntry[] =>
  start.posts.map((id) => ({ kind: 'post', id, label: '' }));

/** Posts that entries name and that the reader may read. */
export async function menuPosts(
  db: Queryable,
  blog: Reading,
  menu: readonly MenuEntry[],
  pattern: AddressPattern,
): Promise<Map<number, { title: string; path: string }>> {
  const ids = menu.flatMap((e) => (e.kind === 'post' ? [e.id] : []));
  if (ids.length === 0) return new Map();
  const rows = await readable(db, blog)
    .whereIn('posts.id', ids)
    .select<{ id: number; title: string; slug: string; runLocal: string }[]>(
      'posts.id',
      'posts.title',
      'posts.slug',
      'posts.run_local as runLocal',
    );
  return new Map(rows.map((r) => [r.id, { title: r.title, path: postPath(pattern, r) }]));
}
