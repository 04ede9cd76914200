import type {
  Around,
  CheckSettings,
  Delay,
  Held,
  Instant,
  Look,
  MenuEntry,
  Mount,
  Panel,
  Role,
  SiteSettings,
} from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';
import type { Versioned } from '../versioned.js';

export interface BlogChanges {
  title?: string;
  tagline?: string;
  /** Coming run times keep their wall times. */
  zone?: string;
  firstWeekday?: number;
  checks?: CheckSettings;
  binDays?: number | null;
  /** Another zone is taken although readers lose parts of serials that they have. */
  accepting?: boolean;
}

export interface NewCategory {
  name: string;
  hue: number;
}

export interface CategoryChanges {
  name?: string;
  hue?: number;
  /**
   * Another category: everything of this one goes there, and this one is gone. The answer is the other one.
   */
  mergeInto?: number;
}

/** A blog of the newsroom, as a managing editor of one of its blogs sees it. */
export interface NewsroomBlog extends Versioned {
  id: number;
  title: string;
  home: string;
  host: string | null;
  path: string;
  posts: number;
  people: number;
  /** What the person who asks is on it; null: nothing. */
  role: Role | null;
}
export interface NewBlog {
  title: string;
  tagline: string;
  zone: string;
  /** A host of its own, or null: at the newsroom's address. */
  host: string | null;
  /** A path from a slash on; may be empty with a host of its own. */
  path: string;
}
export interface BlogPlace {
  host: string | null;
  path: string;
}

/** What the editor decided about the readers' pages. */
export interface SiteView extends Versioned {
  /** The blog's. */
  id: number;
  /** Where readers find the blog. */
  home: string;
  settings: SiteSettings;
  menu: MenuEntry[];
  /** Nobody made a menu yet: these are the categories. */
  menuIsUsual: boolean;
  panels: Panel[];
  look: Look;
  /** The site that the blog is shown in, as its theme file says. */
  around: Around | null;
  /** Looks that readers saw, the newest first. */
  looks: LookView[];
  /** What is wrong with what was decided, a sentence each. */
  warnings: string[];
  /** Published posts that everybody may read: what a look changes. */
  posts: number;
  /** Posts that are held on top today or later, in their order; and what is to be said of overlaps. */
  held: Held[];
  overlaps: string[];
  /** Whose turn it is in the next weeks, where posts take turns. */
  turns: { start: string; postId: number; title: string; shown: boolean }[];
  /** Titles of posts that menu, start page and turns name. */
  titles: { id: number; title: string; shown: boolean }[];
}
export interface LookView {
  id: number;
  look: Look;
  by: PersonRef | null;
  at: Instant;
}

export interface SiteChanges extends Partial<SiteSettings> {
  /** Null: the categories. */
  menu?: MenuEntry[] | null;
  panels?: Panel[];
}
export interface AroundChosen {
  /** A theme file; null: as it is. */
  theme: string | null;
  /** Where within that site the blog is; null: it stands in no other site. */
  mount: Mount | null;
}
export interface LookChosen {
  look: Look;
}
export interface LookTried {
  page: 'front' | 'post';
  look: Look;
}

/** What may change in a newsroom, as its live stream tells it. */
export const LIVE_KINDS = [
  'post',
  'note',
  'blog',
  'people',
  'release',
  'media',
  'batch',
  'outlet',
  'text',
  'comment',
  'letter',
  'special',
] as const;

/** One event of the live stream: what changed, never the content. */
export interface LiveEvent {
  id: number;
  kind: (typeof LIVE_KINDS)[number];
  postId: number | null;
  version: number | null;
  personId: number | null;
}

/** What becomes of a post among readers, beside its own page. */
export interface OnBlog {
  /** The serial that it is a part of. */
  serial: { id: number; title: string; number: number; parts: number; delay: Delay } | null;
  /** Pages that it links to and that take mentions, with what came of telling them. */
  mentioned: { target: string; status: string; at: Instant }[];
}
