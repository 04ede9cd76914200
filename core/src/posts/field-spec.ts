import type { PostAction } from '../stages/may.js';

/** Things of the blog that a field may name. */
export type ReferenceKind = 'person' | 'category' | 'tag' | 'format' | 'picture';

/**
 * Places that draw fields of text by themselves: a box in the details, a line under the title (at the desk, on the
 * readers' page, in files to read), a line on the planner's cards, a column of the archive, a line of the front matter
 * in files, from which it is read back.
 */
export type TextPlace = 'details' | 'under the title' | 'card' | 'archive' | 'files';

interface FieldOf {
  /** How people call it, in the middle of a sentence. */
  label: string;
  /** What a person must be allowed to set it by hand; null where only moves, texts and the bin change it. */
  set: PostAction | null;
  /** Follows from other fields, so that a difference does not tell of it and taking back does not ask for it. */
  derived?: true;
  /** Do checks look at it? */
  checks: boolean;
  /** May a batch change it? */
  batch: boolean;
  /**
   * Do readers see it, on its page or in a list? Of a published post they see a change with its next update; or at
   * once, where it says when and to whom the post is shown.
   */
  readers: boolean | 'at once';
  /** Does a copy take it along? */
  copied: boolean;
  /** Is it on cards and in lists? */
  card: boolean;
  /** Is it compared when other posts like this one are looked for? */
  compared?: true;
  /** Does it say whether and where readers find the post? */
  findable?: true;
}
interface TextField extends FieldOf {
  kind: 'text';
  max: number;
  /** Is never empty. */
  needed?: true;
  /** Stands on one line wherever it is shown. */
  oneLine?: true;
  /** Who draws it without knowing it; other places that show it have a place made for it. */
  shown?: readonly TextPlace[];
}
interface ReferenceField extends FieldOf {
  kind: 'reference' | 'references';
  to: ReferenceKind;
}
interface OtherField extends FieldOf {
  kind: 'flag' | 'choice' | 'number' | 'value';
}
export type FieldSpec = TextField | ReferenceField | OtherField;
