import type { BodyNode, CheckCounts, DateWish, FormatValues, Instant, Spotlight, Stage, TagLike, WallTime } from '@keyroster/core';
import type { PersonRef } from './accounts.js';

export const ACCESS = ['everyone', 'staff'] as const;
export type Access = (typeof ACCESS)[number];

/** A post as lists and cards show it. */
export interface PostCard {
  id: number;
  version: number;
  stage: Stage;
  title: string;
  /** The line of thought that came with the pitch. */
  thought: string;
  excerpt: string;
  address: string | null;
  categoryId: number | null;
  byline: PersonRef | null;
  runLocal: WallTime | null;
  runZone: string | null;
  runAt: Instant | null;
  /** `YYYY-MM-DD` */
  copyDate: string | null;
  words: number;
  /** When a dated idea may run. */
  wish: DateWish;
  /** 1 to 5, or null while nobody has rated it. */
  rating: number | null;
  late: boolean;
  openNotes: number;
  /** What the checks found when the post was last measured. */
  checks: CheckCounts;
  createdAt: Instant;
  updatedAt: Instant;
  releasedAt: Instant | null;
}

export interface Brief {
  angle: string;
  /** Wanted length in words, or null when it is open. */
  length: number | null;
  copyDate: string | null;
}

export interface LeadPicture {
  media: number;
  alt: string;
}

/** What the person who asks may do with the post. */
export interface PostRights {
  write: boolean;
  details: boolean;
  plan: boolean;
  note: boolean;
}

/** A whole post. */
export interface PostView extends PostCard {
  body: BodyNode;
  /** The web address the post gets when it is cleared without one; null once it has one. */
  proposedAddress: string | null;
  secondCategoryId: number | null;
  coauthors: PersonRef[];
  editor: PersonRef | null;
  proofreader: PersonRef | null;
  access: Access;
  brief: Brief;
  leadPicture: LeadPicture | null;
  subtitle: string;
  tags: TagLike[];
  formatId: number | null;
  formatValues: FormatValues;
  /** Another picture than the lead for cards that share the post. */
  sharePicture: number | null;
  searchTitle: string;
  searchDescription: string;
  /** Where the matter comes from; with `titleLinks` the title leads there. */
  sourceUrl: string;
  titleLinks: boolean;
  place: string;
  comments: boolean;
  commentCall: string;
  campaign: string;
  /** Days on which it is held at the top of the front page. */
  spotlight: Spotlight | null;
  copiedFrom: { id: number; title: string } | null;
  stageSince: Instant;
  rights: PostRights;
  moves: { to: Stage; label: string }[];
}

export interface NewPost {
  title: string;
  thought?: string;
  categoryId?: number | null;
  bylineId?: number | null;
  wish?: DateWish;
  /** Puts it on a date at once, commissioned; as in PostChanges. */
  runAt?: string;
}

/** Fields of a post that may be changed; all optional, only what is given changes. */
export interface PostChanges {
  title?: string;
  thought?: string;
  excerpt?: string;
  leadPicture?: LeadPicture | null;
  address?: string | null;
  categoryId?: number | null;
  secondCategoryId?: number | null;
  bylineId?: number | null;
  coauthorIds?: number[];
  editorId?: number | null;
  proofreaderId?: number | null;
  access?: Access;
  subtitle?: string;
  /** Names; those that are new are made. */
  tags?: string[];
  formatId?: number | null;
  formatValues?: FormatValues;
  sharePicture?: number | null;
  searchTitle?: string;
  searchDescription?: string;
  sourceUrl?: string;
  titleLinks?: boolean;
  place?: string;
  comments?: boolean;
  commentCall?: string;
  campaign?: string;
  spotlight?: Spotlight | null;
  brief?: Brief;
  wish?: DateWish;
  rating?: number | null;
  /** Wall time of the blog's zone (`2026-11-27T12:00`), with an offset where it happens twice; null takes it away. */
  runAt?: string | null;
}

/** A copy may begin with a title of its own. */
export interface NewCopy {
  title?: string;
}

export interface NewMove {
  to: Stage;
  /** As in PostChanges. */
  runAt?: string;
  note?: string;
}

/** What a move did. */
export interface MoveDone {
  post: PostView;
  /** `Goes out Friday 27 November at 12:00.` */
  sentence: string;
}

export const POST_SORTS = ['-run', 'run', '-updated', 'title', '-created'] as const;
export type PostSort = (typeof POST_SORTS)[number];

export interface PostQuery {
  stage?: Stage[];
  category?: number;
  byline?: number;
  words?: string;
  sort?: PostSort;
  cursor?: string;
  limit?: number;
}

export interface PostPage {
  posts: PostCard[];
  next: string | null;
}

export interface ReleaseLogEntry {
  id: number;
  postId: number;
  title: string;
  address: string | null;
  /** The run time that was set. */
  plannedLocal: WallTime;
  plannedAt: Instant;
  releasedAt: Instant;
  /** Milliseconds from when it was due to when it was out. */
  lateness: number;
  late: boolean;
  /** The run time lay in the past when it was set. */
  backdated: boolean;
  /** What the checks said when it went out; null for releases of before there were checks. */
  checks: CheckCounts | null;
}
