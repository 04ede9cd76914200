import type { BodyNode } from '../body/schema.js';
import type { FormatValues } from '../formats/formats.js';
import type { DateConstraint } from '../planning/date-constraint.js';
import type { Stage } from '../stages/stages.js';
import type { Instant, WallTime } from '../time/zone.js';

/** Days on which a post is held at the top of the front page; the last one included. */
export interface Spotlight {
  from: string;
  until: string;
}

/** When a post runs: wall time, the zone it is told in, and the instant the two mean. */
export interface RunTime {
  local: WallTime;
  zone: string;
  at: Instant;
}

/** With `maxBytes`, a picture that is still to be drawn again within so many bytes. */
export interface LeadPicture {
  media: number;
  alt: string;
  maxBytes?: number;
}

export interface Brief {
  angle: string;
  /** Wanted length in words, or null when it is open. */
  length: number | null;
  /** `YYYY-MM-DD` */
  copyDate: string | null;
}

/** Who may read a post that is out; see access.ts. */
export const ACCESS = ['everyone', 'members', 'password', 'staff'] as const;
export type Access = (typeof ACCESS)[number];

/**
 * The values of a post's fields. What each field means, who may change it and where it counts stands in
 * `POST_FIELDS`; the two cannot part.
 */
export interface PostValues {
  title: string;
  /** The line of thought that came with the pitch. */
  thought: string;
  excerpt: string;
  subtitle: string;
  slug: string | null;
  /** Without anything that is only suggested. */
  body: BodyNode;
  /** The text with what is suggested in it; null when nothing is. */
  suggested: BodyNode | null;
  /** Counted from the body by the caller. */
  words: number;
  categoryId: number | null;
  secondCategoryId: number | null;
  /** In ascending order, each once. */
  tagIds: readonly number[];
  bylineId: number | null;
  /** In ascending order, each once. */
  coauthorIds: readonly number[];
  editorId: number | null;
  proofreaderId: number | null;
  /** The proofreader writes, where others of theirs only suggest. */
  proofreaderWrites: boolean;
  access: Access;
  /** What readers of a post with a password are asked for; known to the desk, empty where there is none. */
  readingPassword: string;
  leadPicture: LeadPicture | null;
  /** Another picture than the lead for cards that share the post. */
  sharePicture: number | null;
  formatId: number | null;
  formatValues: FormatValues;
  /** Search engines may list it. */
  inSearch: boolean;
  /** All subscribers get it in a letter when it is released. */
  mailAtRelease: boolean;
  searchTitle: string;
  searchDescription: string;
  /** Where the matter comes from; with `titleLinks` the title leads there. */
  sourceUrl: string;
  titleLinks: boolean;
  place: string;
  comments: boolean;
  commentCall: string;
  campaign: string;
  spotlight: Spotlight | null;
  brief: Brief;
  dateConstraint: DateConstraint;
  /** 1 to 5, or null while nobody has rated it. */
  rating: number | null;
  run: RunTime | null;
  stage: Stage;
  stageSince: Instant;
  scheduledAt: Instant | null;
  releasedAt: Instant | null;
  /** Of a post that is out and was changed since: the version that readers see until it is updated. */
  readersVersion: number | null;
  binned: boolean;
}
export type PostField = keyof PostValues;

/** A post as an edit sees it. The texts are there only where an edit looks at them. */
export interface Post extends Omit<PostValues, 'body' | 'suggested'> {
  id: number;
  version: number;
  createdById: number | null;
  body?: BodyNode;
  suggested?: BodyNode | null;
}

/** The text as the desk has it: with what is suggested. */
export const deskText = ({ body, suggested }: Pick<Post, 'body' | 'suggested'>): BodyNode | undefined =>
  suggested ?? body;
