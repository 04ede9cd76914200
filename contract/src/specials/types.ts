import type { Instant, Look, PartState, Stage } from '@keyroster/core';

export interface SpecialLine {
  id: number;
  title: string;
  /** Its whole address. */
  home: string;
  /** Null: readers do not see it. */
  publishedAt: Instant | null;
  posts: number;
  /** Of these, what readers get. */
  readable: number;
  /** Withdrawn since they were chosen. */
  withdrawn: number;
}

export interface SpecialPartView {
  id: number;
  title: string;
  stage: Stage;
  state: PartState;
}

export interface SpecialView {
  id: number;
  version: number;
  title: string;
  intro: string;
  slug: string;
  /** A host of its own; null: it stands under the blog's address. */
  host: string | null;
  home: string;
  look: Look;
  coverId: number | null;
  coverAlt: string;
  parts: SpecialPartView[];
  publishedAt: Instant | null;
  /** What is to be known of it, a sentence each. */
  notes: string[];
}

export interface NewSpecial {
  title: string;
}

/** What a special is made of. */
export interface SpecialDraft {
  title: string;
  intro: string;
  slug: string;
  host: string | null;
  look: Look;
  coverId: number | null;
  coverAlt: string;
  postIds: readonly number[];
}
export interface SpecialTried extends SpecialDraft {
  /** The post whose page is shown; null: the cover. */
  page: number | null;
}
export interface SpecialPublished {
  published: boolean;
}
