import type { CommentHold } from '../comments/comments.js';
import type { Rotation } from './spotlight.js';

/** How a post's address on the blog is built from its slug. An address of the other build redirects permanently. */
export const ADDRESS_PATTERNS = ['slug', 'year and month'] as const;
export type AddressPattern = (typeof ADDRESS_PATTERNS)[number];

/** What the editor decides about the readers' pages, beside look, menu and panels. */
export interface SiteSettings {
  postsPerPage: number;
  addressPattern: AddressPattern;
  /** Can readers sign up for the letter? */
  letter: boolean;
  /** Are opened letters counted, and clicks in them? */
  letterOpens: boolean;
  letterClicks: boolean;
  /** Can readers comment, where the post takes comments too? */
  comments: boolean;
  /** Whose comments wait until somebody has read them. */
  commentsHold: CommentHold;
  /** They close so many days after a post went out; null: never. */
  commentsCloseDays: number | null;
  /** Can readers sign up as members? Who is one signs in either way. */
  members: boolean;
  /** Are the listing pages of categories shown to search engines? And those of tags? */
  categoriesInSearch: boolean;
  tagsInSearch: boolean;
  /** May editors schedule, or the managing editor alone? */
  editorsSchedule: boolean;
  /** Posts that are wanted in a week; null: as many as there are standing slots. */
  wantedPerWeek: number | null;
  /** What the page for newcomers says, and the posts on it. Without posts there is no such page. */
  start: { intro: string; posts: readonly number[] };
  /** Posts held on top, in their order. */
  spotlightOrder: readonly number[];
  /** Posts that take turns on top, a week each. */
  rotation: Rotation | null;
}

export const POSTS_PER_PAGE = { min: 1, max: 50 } as const;
export const MAX_START_POSTS = 12;

/** Common practice, no published source: listing pages are kept out of search engines, posts never. */
export const USUAL_SITE: SiteSettings = {
  postsPerPage: 10,
  addressPattern: 'slug',
  letter: true,
  letterOpens: false,
  letterClicks: false,
  comments: false,
  commentsHold: 'newcomers',
  commentsCloseDays: null,
  members: false,
  categoriesInSearch: false,
  tagsInSearch: false,
  editorsSchedule: true,
  wantedPerWeek: null,
  start: { intro: '', posts: [] },
  spotlightOrder: [],
  rotation: null,
};

/** Where a post stands on its blog, from a slash on. */
export function postPath(
  pattern: AddressPattern,
  { slug, runLocal }: { slug: string; runLocal: string },
): string {
  return pattern === 'slug' ? `/${slug}` : `/${runLocal.slice(0, 4)}/${runLocal.slice(5, 7)}/${slug}`;
}
