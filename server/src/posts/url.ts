import { USUAL_SITE, postPath, type SiteSettings } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';

/** What of a blog says where its posts stand. */
export interface PostPlaces {
  home: string;
  site: Partial<SiteSettings>;
}

export const placesOf = async (db: Queryable, blogId: number): Promise<PostPlaces> =>
  (await db('blogs').where({ id: blogId }).first<PostPlaces>('home', 'site'))!;

/** The whole address of a post; of one without a run time as it is without. */
export const urlOfPost = (
  { home, site }: PostPlaces,
  { slug, runLocal }: { slug: string; runLocal: string | null },
): string =>
  runLocal === null
    ? `${home}/${slug}`
    : `${home}${postPath(site.addressPattern ?? USUAL_SITE.addressPattern, { slug, runLocal })}`;
