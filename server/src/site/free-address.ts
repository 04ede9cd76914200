import { RESERVED_SLUGS } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import type { Settings } from '../settings.js';
import { POST_ADDRESS } from '../pages/missing.js';
import { pageAt } from '../pages/pages.js';
import { loadPlaces, type Place } from '../pages/places.js';
import { specialAtHost } from '../pages/special-store.js';

/** An address that a blog, or the site around one, is to have. */
interface Wanted {
  host: string | null;
  path: string;
  /** Whose it will be; null for a blog that begins. */
  blogId: number | null;
  /** The place that it gives up for this one. */
  leaves: (place: Place) => boolean;
}

/** The blog's title, for whom it is not a secret: addresses of blogs are everybody's. */
const titleOf = async (db: Queryable, blogId: number): Promise<string> =>
  (await db('blogs').where({ id: blogId }).first<{ title: string }>('title')).title;

/** The post that has an address of a blog now, or had it before, whatever its stage. */
async function postAt(db: Queryable, blogId: number, path: string): Promise<{ title: string } | undefined> {
  const slug = POST_ADDRESS.exec(path)?.[1];
  if (slug === undefined) return undefined;
  return db('all_posts as p')
    .where('p.blog_id', blogId)
    .where((at) =>
      at
        .where('p.slug', slug)
        .orWhereIn('p.id', db('old_slugs').where({ blog_id: blogId, slug }).select('post_id')),
    )
    .first<{ title: string } | undefined>('p.title');
}

/**
 * What keeps an address from being given to a blog, as a sentence; null where it is free. Everything that any blog
 * answers at is taken: its place, its pages and lists, its posts whatever their stage, and addresses that lead on.
 * Titles of posts are told to people of their blog alone.
 */
export async function addressTaken(
  db: Queryable,
  person: Pick<CurrentPerson, 'blogId'>,
  settings: Settings,
  { host, path, blogId, leaves }: Wanted,
): Promise<string | null> {
  if (host !== null && host === new URL(settings.publicUrl).host)
    return 'That is the newsroom’s own address: leave the host empty and choose a path.';
  const first = path.split('/')[1] ?? '';
  if (RESERVED_SLUGS.has(first)) return `${path} leads elsewhere in the newsroom.`;
  if (host !== null && (await specialAtHost(db, host))) return 'A special has that address.';
  const places = (await loadPlaces(db)).filter((p) => p.host === host && !leaves(p));
  const same = places.find((p) => p.path === path);
  if (same) return `“${await titleOf(db, same.id)}” has that address.`;
  const [around] = places
    .filter((p) => path.startsWith(`${p.path}/`))
    .sort((a, b) => b.path.length - a.path.length);
  if (around) {
    const inner = path.slice(around.path.length);
    const post = await postAt(db, around.id, inner);
    if (post)
      return around.id === person.blogId
        ? `${path} is the address of the post “${post.title}”.`
        : `${path} is the address of a post of “${await titleOf(db, around.id)}”.`;
    const page = await pageAt(db, settings, inner, { blogId: around.id, mounted: around.mounted ?? false });
    if (page && page.status !== 404) return `“${await titleOf(db, around.id)}” has a page at ${path}.`;
  }
  // Places that lie below would hide posts of the blog that comes above them.
  for (const below of places.filter((p) => blogId !== null && p.path.startsWith(`${path}/`))) {
    const post = await postAt(db, blogId!, below.path.slice(path.length));
    if (post)
      return `The post “${post.title}” would be hidden by “${await titleOf(db, below.id)}” at ${below.path}.`;
  }
  return null;
}
