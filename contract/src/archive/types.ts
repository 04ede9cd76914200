import {
  textFieldsIn,
  type Access,
  type BatchChange,
  type CheckCounts,
  type FilterNames,
  type Instant,
  type PostValues,
  type Spotlight,
  type Stage,
  type TextFieldIn,
  type WallTime,
  type DifferenceInWords,
} from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';

/** What the table can be sorted by beside fields of text; a minus before it turns the order round. */
export const ARCHIVE_OWN_SORTS = [
  'title',
  'byline',
  'category',
  'tags',
  'run',
  'stage',
  'words',
  'changed',
  'made',
  'slug',
  'access',
  'comments',
  'format',
  'checks',
] as const;
/** Fields of text that are columns of the table. */
export type ArchiveText = TextFieldIn<'archive'>;
export const ARCHIVE_TEXTS = textFieldsIn('archive');
export type ArchiveSort = (typeof ARCHIVE_OWN_SORTS)[number] | ArchiveText;
export const ARCHIVE_SORTS: readonly ArchiveSort[] = [...ARCHIVE_OWN_SORTS, ...ARCHIVE_TEXTS];
export type ArchiveOrder = ArchiveSort | `-${ArchiveSort}`;

/** `line` is a filter line, as core reads it. */
export interface ArchiveQuery {
  line?: string;
  sort?: ArchiveOrder;
  limit?: number;
}

/** A post as a row of the table. */
export interface ArchiveRow extends Pick<PostValues, ArchiveText> {
  id: number;
  version: number;
  stage: Stage;
  title: string;
  excerpt: string;
  slug: string | null;
  categoryId: number | null;
  secondCategoryId: number | null;
  byline: PersonRef | null;
  tags: string[];
  formatId: number | null;
  runLocal: WallTime | null;
  words: number;
  access: Access;
  comments: boolean;
  spotlight: Spotlight | null;
  checks: CheckCounts;
  createdAt: Instant;
  updatedAt: Instant;
  binnedAt: Instant | null;
}

export interface ArchiveRows {
  rows: ArchiveRow[];
}

/** How many posts match, and how many of them stand where. `bin` counts the whole bin. */
export interface ArchiveCounts {
  total: number;
  stages: Partial<Record<Stage, number>>;
  bin: number;
}

/** Ids of all that match, in the order of the table. */
export interface ArchiveIds {
  ids: number[];
}

export interface PickQuery {
  ids: number[];
  /** With words, the places they were found at come along. */
  words?: string;
}

/** A stretch of text around what was found; the words found are marked by their place, in UTF-16 units. */
export interface FoundPlace {
  postId: number;
  text: string;
  marks: [number, number][];
}

export interface PickedRows extends ArchiveRows {
  places: FoundPlace[];
}

/** Names that filter tokens complete to, and names of the numbers in batches. */
export interface ArchiveNames {
  filter: FilterNames;
  people: PersonRef[];
  tags: { id: number; name: string }[];
}

export interface KeptFilter {
  id: number;
  name: string;
  line: string;
  sort: string;
  shared: boolean;
  by: PersonRef;
}
export type NewKeptFilter = Omit<KeptFilter, 'id' | 'by'>;

/** Looking through many texts takes a job; applying does, too: it waits. */
export const BATCH_STATES = ['looking', 'previewed', 'waiting', 'applied', 'failed'] as const;
export type BatchState = (typeof BATCH_STATES)[number];
export const ITEM_STATES = ['changes', 'same', 'refused', 'left'] as const;
export type ItemState = (typeof ITEM_STATES)[number];

/** What to change, and in which posts: those of the list, or all that match the line but those left out. */
export interface NewBatch {
  changes: BatchChange[];
  ids?: number[];
  line?: string;
  except?: number[];
  /** Readers of published posts see it at once, which is so when nothing is said; else once each is updated. */
  atOnce?: boolean;
}

export interface BatchView {
  id: number;
  state: BatchState;
  sentence: string;
  by: PersonRef;
  changes: BatchChange[];
  reverts: number | null;
  /** Readers of published posts see it at once, and not once each is updated. */
  atOnce: boolean;
  /** The batch that took this one back, when one did. */
  takenBackBy: number | null;
  counts: Record<ItemState, number>;
  /** Chores that go to somebody else with it. */
  chores: number;
  /** Posts looked through so far of the `chosen`, or written so far while it is being applied. */
  done: number;
  /** Posts to be looked through; 0 once they are. */
  chosen: number;
  error: string;
  madeAt: Instant;
  appliedAt: Instant | null;
}

/** A previewed batch, with who has posts of it open. */
export interface BatchPreview extends BatchView {
  open: { name: string; posts: number }[];
  /** Posts that it schedules and that mail themselves when they are released, and to how many. */
  letters: { letters: number; subscribers: number };
}

export interface BatchItemView {
  postId: number;
  title: string;
  state: ItemState;
  /** Why it is refused, or what was changed since. */
  sentence: string;
  differences: DifferenceInWords[];
}
export interface BatchItemsQuery {
  state?: ItemState;
  /** How many to leave out at the start. */
  from?: number;
  limit?: number;
}

export interface ItemChanges {
  leave?: number[];
  include?: number[];
}

/** `force`: also what others changed since. */
export interface RevertAsked {
  force?: boolean;
}

export interface BinAsked {
  ids: number[];
}
export interface BinDone {
  posts: number;
  sentence: string;
}
