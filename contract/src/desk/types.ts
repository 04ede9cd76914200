import type {
  BodyNode,
  ImportReport,
  CheckFacts,
  CheckSettings,
  CopiedPart,
  FileTexts,
  Focus,
  FormatField,
  Instant,
  Passage,
  Stage,
  TagLike,
} from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';
import type { Versioned } from '../versioned.js';

export interface NewBody {
  body: BodyNode;
}

export interface BodyStored {
  version: number;
  words: number;
  /** The first text of a commissioned post starts the draft. */
  stage: Stage;
}

export interface ImportedView {
  title: string | null;
  excerpt: string | null;
  /** Other texts of the front matter. */
  texts: FileTexts;
  body: BodyNode;
  report: ImportReport;
  /** One line for the person, made from the report. */
  sentence: string;
}

export interface NoteView {
  id: number;
  postId: number;
  parentId: number | null;
  by: PersonRef;
  text: string;
  passage: Passage | null;
  at: Instant;
  settledAt: Instant | null;
  settledBy: PersonRef | null;
  mentions: NoteMention[];
}

/** Somebody whom a note mentions. People who may not see the post are not notified. */
export interface NoteMention {
  person: PersonRef;
  sees: boolean;
}

export interface NewNote {
  text: string;
  passage?: Passage | null;
  parentId?: number | null;
}

export interface NoteChanges {
  settled: boolean;
}

/** What checks look at and only the server knows; the rest is in the post. */
export interface CheckContext extends Pick<CheckFacts, 'alike' | 'pages'> {
  settings: CheckSettings;
  /** Weight of the lead picture, or null without one. */
  leadBytes: number | null;
  /** The post it was copied from, as it stands now. */
  source: CopiedPart | null;
  /** Where this blog lives, so that links in full are known as its own. */
  home: string;
}

export interface TagView extends TagLike, Versioned {
  slug: string;
  posts: number;
}
export interface TagChanges {
  name?: string;
  /** Puts this tag’s posts under another one and removes it. */
  mergeInto?: number;
}

export interface FormatView {
  id: number;
  name: string;
  hint: string;
  fields: FormatField[];
  starter: BodyNode;
  /** The starter text as Markdown, for changing it. */
  starterText: string;
  retired: boolean;
  posts: number;
  version: number;
}
export interface NewFormat {
  name: string;
  hint: string;
  fields: FormatField[];
  starterText: string;
}
export type FormatChanges = Partial<NewFormat> & { retired?: boolean };

export interface TemplateView extends Versioned {
  id: number;
  name: string;
  body: BodyNode;
  text: string;
}
export interface NewTemplate {
  name: string;
  text?: string;
  /** Takes the text of a post. */
  postId?: number;
}
export type TemplateChanges = Pick<NewTemplate, 'text'> & { name?: string };

export interface TitleTrialView {
  id: number;
  title: string;
  by: PersonRef;
  at: Instant;
}
export interface NewTitleTrial {
  title: string;
}

/** Titles of the blog, newest first, for comparing a new one. */
export interface UsedTitles {
  /** Id, title, whether it is published, and how often it was read in its first days; null before these are over. */
  titles: [id: number, title: string, published: boolean, reads: number | null][];
}

export const OUT_KINDS = ['markdown', 'html', 'docx', 'text'] as const;
export type OutKind = (typeof OUT_KINDS)[number];
export interface OutQuery {
  as: OutKind;
  /** With what is suggested in it, where the format has room for that: HTML and Word. */
  suggestions?: boolean;
}

/** A picture of the library. */
export interface MediaView extends Versioned {
  id: number;
  src: string;
  type: string;
  width: number;
  height: number;
  /** Bytes. */
  size: number;
  name: string;
  alt: string;
  caption: string;
  credit: string;
  licence: string;
  source: string;
  tags: string[];
  focus: Focus;
  binned: boolean;
  addedAt: Instant;
  addedBy: PersonRef | null;
  /** Sizes for the page are made. */
  ready: boolean;
  uses: number;
}
export interface MediaUse {
  postId: number;
  title: string;
  stage: Stage;
  /** `readers` where only the version that they see has it still. */
  how: 'text' | 'lead' | 'share' | 'readers';
}
export interface MediaWhole extends MediaView {
  usedIn: MediaUse[];
}
export const MEDIA_USES = ['all', 'used', 'unused', 'binned'] as const;
export interface MediaQuery {
  words?: string;
  tag?: string;
  use?: (typeof MEDIA_USES)[number];
  /** Id of the last picture of the page before. */
  before?: number;
}
export interface MediaPage {
  pictures: MediaView[];
  next: number | null;
  tags: string[];
}
export interface MediaChanges {
  name?: string;
  alt?: string;
  caption?: string;
  credit?: string;
  licence?: string;
  source?: string;
  tags?: string[];
  focus?: Focus;
  binned?: boolean;
}
export interface LighterQuery {
  /** The most it may weigh, in bytes. */
  bytes: number;
}
export interface Crop {
  left: number;
  top: number;
  width: number;
  height: number;
}
export interface Replacement {
  with: number;
}
export interface Replaced {
  posts: number;
  /** Titles of posts that were left, because they are not the person’s to change. */
  left: string[];
  sentence: string;
}

/** A video or a captions file. */
export interface FileView {
  id: number;
  src: string;
  type: string;
  name: string;
  size: number;
}
