import type { FormatValue } from '../formats/formats.js';
import { BATCH_FIELDS, POST_FIELDS, type BatchField, type TextFieldName } from '../posts/fields.js';
import type { Access, Spotlight } from '../posts/values.js';
import type { Stage } from '../stages/stages.js';
import type { WallTime } from '../time/zone.js';
import type { Replacing } from './replace.js';

/** Where words are replaced: in every field of text that a batch may change, in the text, in the web address. */
export type ReplacePlace = Extract<BatchField, TextFieldName> | 'text' | 'slug';
const isText = (field: BatchField): field is Extract<BatchField, TextFieldName> =>
  POST_FIELDS[field].kind === 'text';
export const REPLACE_PLACES: readonly ReplacePlace[] = [...BATCH_FIELDS.filter(isText), 'text', 'slug'];
/** What a place is called: `title`, `web address`. */
export const placeLabel = (place: ReplacePlace): string =>
  POST_FIELDS[place === 'text' ? 'body' : place].label;

/** Where a plan puts a post: its run time, who writes it, and by when. */
export interface PlanPlace {
  postId: number;
  local: WallTime;
  writerId: number;
  /** Null where the copy date stays as it is. */
  copyDate: string | null;
}

/** One change of a batch. */
export type BatchChange =
  | { kind: 'byline'; to: number | null }
  | { kind: 'category'; to: number }
  | { kind: 'second category'; to: number | null }
  | { kind: 'tags'; gain: readonly number[]; lose: readonly number[] }
  /** Where one of these is, it becomes the other. */
  | { kind: 'categories merge'; from: readonly number[]; into: number }
  | { kind: 'tags merge'; from: readonly number[]; into: number }
  /** Become exactly these. */
  | { kind: 'tags become'; to: readonly number[] }
  | { kind: 'access'; to: Access }
  | { kind: 'comments'; to: boolean }
  | { kind: 'spotlight'; to: Spotlight | null }
  | { kind: 'campaign'; to: string }
  | { kind: 'format field'; formatId: number; key: string; to: FormatValue | null }
  | ({ kind: 'replace'; places: readonly ReplacePlace[] } & Replacing)
  /** Lead pictures are drawn again with at most so many bytes. */
  | { kind: 'lighten'; max: number }
  | { kind: 'shift'; days: number; minutes: number }
  | { kind: 'spread'; from: string }
  | { kind: 'stage'; to: Stage; note?: string }
  /** Each takes the place that a plan gives it; pitches are commissioned. Made by the planner alone. */
  | { kind: 'plan'; places: readonly PlanPlace[] }
  /** Whatever one person has in hand of a post becomes another's. */
  | { kind: 'reassign'; from: number; to: number }
  | { kind: 'bin' };
export type BatchChangeKind = BatchChange['kind'];
export type ChangeOf<K extends BatchChangeKind> = Extract<BatchChange, { kind: K }>;
