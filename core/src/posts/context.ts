import type { FormatField } from '../formats/formats.js';
import type { Actor } from '../people/people.js';
import type { Instant } from '../time/zone.js';
import type { ReferenceKind } from './fields.js';
import type { Post, PostField } from './values.js';

/** Who stands at an address, now or formerly. */
export interface SlugOwner {
  id: number;
  title: string;
  /** The post once stood there; readers are still led to it. */
  formerly: boolean;
}

/** What an edit needs to know of the blog beside the post. */
export interface EditContext {
  actor: Actor | 'clock';
  now: Instant;
  /** The blog's zone. */
  zone: string;
  /** Is there such a thing on this blog? Asked of everything that an edit newly names. */
  has(kind: ReferenceKind, id: number): boolean;
  /** Is there such a video or file of captions in the blog's library? */
  hasFile(id: number): boolean;
  format(id: number): { fields: readonly FormatField[]; retired: boolean } | undefined;
  categoryName(id: number): string | undefined;
  ownerOf(slug: string): SlugOwner | undefined;
  /** What the checks that block find in a post, a sentence each. Asked only when a move demands it. */
  blocking(post: Post): readonly string[];
  /** Did somebody of the desk, who does not write it, open a post since it was handed in? */
  opened(post: Post): boolean;
  /**
   * What a run time in the past does to a scheduled post: it is published at once, as people who look at one post are
   * told; or it is refused, since nobody looks at each of many.
   */
  pastRun: 'goes out' | 'refused';
  /** What is changed of a published post is shown to its readers at once, and not with its next update. */
  atOnce?: boolean;
  /** What lies in the bin may be changed too, as when the blog's tags are merged. */
  inBin?: boolean;
}

export type RefusalCode =
  'invalid' | 'not-yours' | 'no-such-move' | 'demands' | 'taken' | 'bad-time' | 'bad-text';

export interface Refusal {
  ok: false;
  code: RefusalCode;
  /** For people. */
  sentence: string;
  /** The field at fault; of a format's field with its key, `formatValues.tools`. */
  field?: PostField | `formatValues.${string}`;
}

export const refuse = (code: RefusalCode, sentence: string, field?: Refusal['field']): Refusal => ({
  ok: false,
  code,
  sentence,
  ...(field ? { field } : {}),
});
