import type { PostAction } from '../stages/may.js';
import type { PostField } from './values.js';

/** Things of the blog that a field may name. */
export type ReferenceKind = 'person' | 'category' | 'tag' | 'format' | 'picture';

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
  /** Do readers see it, on its page or in a list? */
  readers: boolean;
  /** Does a copy take it along? */
  copied: boolean;
  /** Is it on cards and in lists? */
  card: boolean;
}
interface TextField extends FieldOf {
  kind: 'text';
  max: number;
  /** Is never empty. */
  needed?: true;
}
interface ReferenceField extends FieldOf {
  kind: 'reference' | 'references';
  to: ReferenceKind;
}
interface OtherField extends FieldOf {
  kind: 'flag' | 'choice' | 'number' | 'value';
}
export type FieldSpec = TextField | ReferenceField | OtherField;

/**
 * The one list of a post's fields. Columns, versions, permissions, schemas, checks, batches, cards, copies and
 * the names in messages are derived from it or typed by it; a field that is left out anywhere does not compile.
 */
export const POST_FIELDS = {
  title: {
    label: 'title',
    kind: 'text',
    max: 300,
    needed: true,
    set: 'write',
    checks: true,
    batch: true,
    readers: true,
    copied: false,
    card: true,
  },
  thought: {
    label: 'thought',
    kind: 'text',
    max: 4000,
    set: 'write',
    checks: false,
    batch: false,
    readers: false,
    copied: false,
    card: true,
  },
  excerpt: {
    label: 'excerpt',
    kind: 'text',
    max: 1000,
    set: 'write',
    checks: true,
    batch: true,
    readers: true,
    copied: true,
    card: true,
  },
  subtitle: {
    label: 'subtitle',
    kind: 'text',
    max: 300,
    set: 'write',
    checks: true,
    batch: false,
    readers: true,
    copied: true,
    card: false,
  },
  slug: {
    label: 'web address',
    kind: 'value',
    set: 'details',
    checks: true,
    batch: true,
    readers: true,
    copied: false,
    card: true,
  },
  body: {
    label: 'text',
    kind: 'value',
    set: null,
    checks: true,
    batch: true,
    readers: true,
    copied: true,
    card: false,
  },
  words: {
    label: 'words',
    kind: 'number',
    set: null,
    derived: true,
    checks: true,
    batch: false,
    readers: true,
    copied: true,
    card: true,
  },
  categoryId: {
    label: 'category',
    kind: 'reference',
    to: 'category',
    set: 'details',
    checks: true,
    batch: true,
    readers: true,
    copied: true,
    card: true,
  },
  secondCategoryId: {
    label: 'second category',
    kind: 'reference',
    to: 'category',
    set: 'details',
    checks: false,
    batch: true,
    readers: true,
    copied: true,
    card: false,
  },
  tagIds: {
    label: 'tags',
    kind: 'references',
    to: 'tag',
    set: 'write',
    checks: true,
    batch: true,
    readers: true,
    copied: true,
    card: false,
  },
  bylineId: {
    label: 'byline',
    kind: 'reference',
    to: 'person',
    set: 'details',
    checks: false,
    batch: true,
    readers: true,
    copied: false,
    card: true,
  },
  coauthorIds: {
    label: 'co-authors',
    kind: 'references',
    to: 'person',
    set: 'details',
    checks: false,
    batch: false,
    readers: true,
    copied: false,
    card: false,
  },
  editorId: {
    label: 'editor',
    kind: 'reference',
    to: 'person',
    set: 'details',
    checks: false,
    batch: false,
    readers: false,
    copied: false,
    card: false,
  },
  proofreaderId: {
    label: 'proofreader',
    kind: 'reference',
    to: 'person',
    set: 'details',
    checks: false,
    batch: false,
    readers: false,
    copied: false,
    card: false,
  },
  access: {
    label: 'access',
    kind: 'choice',
    set: 'details',
    checks: false,
    batch: true,
    readers: true,
    copied: false,
    card: false,
  },
  leadPicture: {
    label: 'lead picture',
    kind: 'value',
    set: 'write',
    checks: true,
    batch: true,
    readers: true,
    copied: true,
    card: false,
  },
  sharePicture: {
    label: 'picture for sharing',
    kind: 'reference',
    to: 'picture',
    set: 'write',
    checks: true,
    batch: false,
    readers: true,
    copied: true,
    card: false,
  },
  formatId: {
    label: 'format',
    kind: 'reference',
    to: 'format',
    set: 'write',
    checks: true,
    batch: false,
    readers: true,
    copied: true,
    card: false,
  },
  formatValues: {
    label: 'format’s fields',
    kind: 'value',
    set: 'write',
    checks: true,
    batch: true,
    readers: true,
    copied: true,
    card: false,
  },
  searchTitle: {
    label: 'search title',
    kind: 'text',
    max: 120,
    set: 'write',
    checks: true,
    batch: false,
    readers: true,
    copied: true,
    card: false,
  },
  searchDescription: {
    label: 'search description',
    kind: 'text',
    max: 400,
    set: 'write',
    checks: true,
    batch: false,
    readers: true,
    copied: true,
    card: false,
  },
  sourceUrl: {
    label: 'source address',
    kind: 'value',
    set: 'write',
    checks: false,
    batch: false,
    readers: true,
    copied: false,
    card: false,
  },
  titleLinks: {
    label: 'title’s link',
    kind: 'flag',
    set: 'write',
    checks: false,
    batch: false,
    readers: true,
    copied: false,
    card: false,
  },
  place: {
    label: 'place',
    kind: 'text',
    max: 200,
    set: 'write',
    checks: false,
    batch: false,
    readers: true,
    copied: true,
    card: false,
  },
  comments: {
    label: 'comments',
    kind: 'flag',
    set: 'details',
    checks: false,
    batch: true,
    readers: true,
    copied: true,
    card: false,
  },
  commentCall: {
    label: 'invitation to comment',
    kind: 'text',
    max: 300,
    set: 'details',
    checks: false,
    batch: false,
    readers: true,
    copied: true,
    card: false,
  },
  campaign: {
    label: 'campaign',
    kind: 'text',
    max: 120,
    set: 'details',
    checks: false,
    batch: true,
    readers: false,
    copied: false,
    card: false,
  },
  spotlight: {
    label: 'spotlight',
    kind: 'value',
    set: 'details',
    checks: false,
    batch: true,
    readers: true,
    copied: false,
    card: false,
  },
  brief: {
    label: 'brief',
    kind: 'value',
    set: 'details',
    checks: true,
    batch: false,
    readers: false,
    copied: false,
    card: true,
  },
  dateConstraint: {
    label: 'wanted dates',
    kind: 'value',
    set: 'details',
    checks: false,
    batch: false,
    readers: false,
    copied: false,
    card: true,
  },
  rating: {
    label: 'rating',
    kind: 'number',
    set: 'details',
    checks: false,
    batch: false,
    readers: false,
    copied: false,
    card: true,
  },
  run: {
    label: 'run time',
    kind: 'value',
    set: 'plan',
    checks: false,
    batch: true,
    readers: true,
    copied: false,
    card: true,
  },
  stage: {
    label: 'stage',
    kind: 'choice',
    set: null,
    checks: false,
    batch: true,
    readers: true,
    copied: false,
    card: true,
  },
  stageSince: {
    label: 'time of its stage',
    kind: 'value',
    set: null,
    derived: true,
    checks: false,
    batch: false,
    readers: false,
    copied: false,
    card: false,
  },
  scheduledAt: {
    label: 'time of scheduling',
    kind: 'value',
    set: null,
    derived: true,
    checks: false,
    batch: false,
    readers: false,
    copied: false,
    card: false,
  },
  releasedAt: {
    label: 'time of release',
    kind: 'value',
    set: null,
    derived: true,
    checks: false,
    batch: false,
    readers: true,
    copied: false,
    card: true,
  },
  binned: {
    label: 'bin',
    kind: 'flag',
    set: null,
    checks: false,
    batch: true,
    readers: true,
    copied: false,
    card: false,
  },
} as const satisfies Record<PostField, FieldSpec>;

export const POST_FIELD_NAMES = Object.keys(POST_FIELDS) as PostField[];

type Registry = typeof POST_FIELDS;
type Where<P> = { [F in PostField]: Registry[F] extends P ? F : never }[PostField];
/** Fields that a person sets by hand. */
export type SettableField = Where<{ set: PostAction }>;
/** Fields that a batch may change, and that its items tell of. */
export type BatchField = Where<{ batch: true }>;
export type CopiedField = Where<{ copied: true }>;
export type TextFieldName = Where<{ kind: 'text' }>;
export type CardField = Where<{ card: true }>;

const where = <F extends PostField>(holds: (spec: FieldSpec) => boolean) =>
  POST_FIELD_NAMES.filter((name): name is F => holds(POST_FIELDS[name]));
export const SETTABLE_FIELDS = where<SettableField>((spec) => spec.set !== null);
export const BATCH_FIELDS = where<BatchField>((spec) => spec.batch);
export const COPIED_FIELDS = where<CopiedField>((spec) => spec.copied);

/** The most characters a text field holds. */
export const maxOf = (field: TextFieldName): number => POST_FIELDS[field].max;

/** Fields in words, as people call them: `title, excerpt and category`. */
export function fieldLabels(fields: readonly string[]): string[] {
  return fields
    .filter((f): f is PostField => f in POST_FIELDS && !('derived' in POST_FIELDS[f as PostField]))
    .map((f) => POST_FIELDS[f].label);
}
