import type {
  CheckSettings,
  Instant,
  Role,
  StandingSlot,
  TokenScope,
  AddressPattern,
  CommentRules,
} from '@keyroster/core';
import type { Versioned } from '../versioned.js';

export interface PersonRef {
  id: number;
  name: string;
  initials: string;
}

export interface PersonView extends PersonRef {
  role: Role;
  /** Null for all but oneself where one does not manage people. */
  email: string | null;
  /** Category ids given to an editor. */
  categories: number[];
  active: boolean;
  /** Posts a week that fit, or null while nobody has said. */
  capacity: number | null;
  /** Of what this blog has of them: their account, role and page. */
  version: number;
}

export interface Me extends PersonRef {
  role: Role;
  email: string;
  categories: number[];
  /** Editors: may they schedule on this blog? */
  schedules?: boolean;
  /** Do notes that mention one come by mail, too? */
  mailMentions: boolean;
  /** A letter for what readers say under their posts. */
  mailComments: boolean;
}

export interface MeChanges {
  mailMentions?: boolean;
  mailComments?: boolean;
}

/** A new password of one's own; at an open screen, one must know the one before. */
export interface NewPassword {
  current: string;
  password: string;
}

/** A key that a person made for a writing tool, without its secret. */
export interface TokenView {
  id: number;
  name: string;
  person: PersonRef;
  mine: boolean;
  scopes: TokenScope[];
  madeAt: Instant;
  lastUsedAt: Instant | null;
}
export interface NewToken {
  name: string;
  scopes: TokenScope[];
}
/** The only time that the secret is told. */
export interface TokenMade extends TokenView {
  secret: string;
}
/** Keys, and where a tool asks. */
export interface TokenList {
  endpoint: string;
  tokens: TokenView[];
}

export interface CategoryView {
  id: number;
  name: string;
  slug: string;
  /** 1 to 10, one of the ten category hues. */
  hue: number;
  version: number;
}

export interface BlogView extends Versioned {
  id: number;
  title: string;
  tagline: string;
  zone: string;
  /** ISO weekday on which weeks begin. */
  firstWeekday: number;
  categories: CategoryView[];
  slots: SlotView[];
  /** What the blog decided about checks; the others use the default. */
  checks: CheckSettings;
  /** Days after which the bin empties itself; null: never. */
  binDays: number | null;
  /** Where readers find it, without a slash at the end. */
  home: string;
  addressPattern: AddressPattern;
  /** Whether readers can comment, where the post takes comments too. */
  commentRules: CommentRules;
}

/** A standing slot as it is kept. */
export type SlotView = StandingSlot & Versioned;

/** A blog of somebody's, and what they are on it. */
export interface BlogRef {
  id: number;
  title: string;
  home: string;
  role: Role;
}

/** Who is signed in and where. `blog` is null for visitors. */
export interface SessionView {
  me: Me | null;
  blog: BlogView | null;
  /** The blogs on which they do more than read, this one among them. */
  blogs: BlogRef[];
  /** Nobody has an account yet: the first one is the managing editor's. */
  needsSetup: boolean;
  demo: boolean;
  /** Can the newsroom send mail to its people? */
  mails: boolean;
}

export interface SignIn {
  email: string;
  password: string;
}

export interface SetUp {
  blogTitle: string;
  zone: string;
  name: string;
  email: string;
  password: string;
}

export interface NewPerson {
  name: string;
  email: string;
  password: string;
  role: Role;
  categories: number[];
}

export interface PersonChanges {
  name?: string;
  role?: Role;
  categories?: number[];
  active?: boolean;
  password?: string;
  capacity?: number | null;
  /** Categories that they write; none: any. */
  writes?: number[];
}

export interface DemoPerson {
  name: string;
  role: Role;
  email: string;
  password: string;
}
