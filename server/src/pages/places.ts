import { SPECIALS_PATH, type Mount } from '@keyroster/core';
import type { Db, Queryable } from '../db/connect.js';
import { Rereader } from '../db/rereader.js';
import { log } from '../log.js';

/** Where a blog of the newsroom stands. */
export interface Place {
  id: number;
  /** Null: at the newsroom's own address. */
  host: string | null;
  /** From a slash on; empty at the top. */
  path: string;
  /** It is within a site around it there. */
  mounted?: boolean;
  /** The path of a special of the blog, which belongs to it alone. */
  special?: string;
}

/** The path under which all of it stands on somebody else's site; empty at the top. */
export const rootOf = (publicUrl: string): string => new URL(publicUrl).pathname.replace(/\/+$/, '');

/** A blog's address, without a slash at the end. */
export function homeOf({ host, path }: Pick<Place, 'host' | 'path'>, publicUrl: string): string {
  return host === null ? `${publicUrl}${path}` : `${new URL(publicUrl).protocol}//${host}${path}`;
}

/** The path that a blog's cookies count for: pictures stand beside its pages, at the top of where it lives. */
export const cookiePath = ({ host, path }: Pick<Place, 'host' | 'path'>, publicUrl: string): string =>
  (host === null ? rootOf(publicUrl) : path) || '/';

/**
 * The blog that an address belongs to, and the path within it. A host that no blog has is the newsroom's own,
 * whatever it says: nothing is made from the host that a request names.
 */
export function placeAt(
  places: readonly Place[],
  host: string | undefined,
  path: string,
): { place: Place; path: string } | null {
  const named = places.filter((p) => p.host !== null && p.host === host?.toLowerCase());
  const among = named.length > 0 ? named : places.filter((p) => p.host === null);
  const [place] = among
    .filter((p) => p.path === '' || path === p.path || path.startsWith(`${p.path}/`))
    .sort((a, b) => b.path.length - a.path.length);
  return place ? { place, path: (place.special ?? '') + (path.slice(place.path.length) || '/') } : null;
}

const ownPlaces = (db: Queryable): Promise<(Place & { mount: Mount | null })[]> =>
  db('blogs')
    .orderBy('id')
    .select<(Place & { mount: Mount | null })[]>('id', 'host', 'path', db.raw(`around -> 'mount' as mount`));

/** Specials that stand at a host of their own. */
async function specialPlaces(db: Queryable): Promise<Place[]> {
  const rows = await db('specials')
    .whereNotNull('host')
    .whereNotNull('published_at')
    .select<{ id: number; host: string; slug: string }[]>('blog_id as id', 'host', 'slug');
  return rows.map(({ id, host, slug }) => ({ id, host, path: '', special: `${SPECIALS_PATH}/${slug}` }));
}

/** Where blogs are found: each at its own place, and within the site around it, where there is one; and specials. */
export async function loadPlaces(db: Queryable): Promise<Place[]> {
  const blogs = (await ownPlaces(db)).flatMap(({ mount, ...own }): Place[] => {
    if (!mount) return [own];
    return mount.host === own.host && mount.path === own.path
      ? [{ ...own, mounted: true }]
      : [own, { id: own.id, ...mount, mounted: true }];
  });
  return [...blogs, ...(await specialPlaces(db))];
}

/**
 * The path that a request is for, where the newsroom stands under a path of another site: what a page there says of
 * pictures and assets begins with that path, too.
 */
export function withoutRoot(
  places: readonly Place[],
  root: string,
  host: string | undefined,
  url: string,
): string {
  const inner = root !== '' && url.startsWith(`${root}/`) ? url.slice(root.length) : url;
  const at = placeAt(places, host, inner);
  return at && at.place.host !== null && /^\/(?:assets|media|files)\//.test(at.path) ? at.path : inner;
}

/**
 * Keeps with each blog where it lives, so that links to itself in full are known as its own wherever a post
 * is checked.
 */
export async function storeHomes(db: Queryable, publicUrl: string): Promise<void> {
  for (const place of await ownPlaces(db))
    await db('blogs')
      .where({ id: place.id })
      .update({ home: homeOf(place, publicUrl) });
}

/** Where the blogs stand, at hand in this process. */
export class Places {
  private known: readonly Place[] = [];
  private readonly reading = new Rereader(() =>
    loadPlaces(this.db)
      .then((places) => void (this.known = places))
      .catch((error: unknown) => log.warn({ err: error }, 'places')),
  );

  constructor(private readonly db: Db) {}

  at(host: string | undefined, path: string): { place: Place; path: string } | null {
    return placeAt(this.known, host, path);
  }

  /** No blog is set up yet. */
  get none(): boolean {
    return this.known.length === 0;
  }

  /** The address of a request as the rest of the newsroom knows it. */
  inner(root: string, host: string | undefined, url: string): string {
    return withoutRoot(this.known, root, host, url);
  }

  /** The same, reading first while nothing is known: the newsroom was set up just now, perhaps elsewhere. */
  async find(host: string | undefined, path: string): Promise<{ place: Place; path: string } | null> {
    if (this.known.length === 0) await this.refresh();
    return this.at(host, path);
  }

  refresh(): Promise<void> {
    return this.reading.again();
  }
}
