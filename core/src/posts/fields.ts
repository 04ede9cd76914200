import type { PostAction } from '../stages/may.js';
import { POST_FIELDS } from './field-list.js';
import type { FieldSpec, TextPlace } from './field-spec.js';
import type { PostField, PostValues } from './values.js';

export { POST_FIELDS } from './field-list.js';
export type { FieldSpec, ReferenceKind, TextPlace } from './field-spec.js';

export const POST_FIELD_NAMES = Object.keys(POST_FIELDS) as PostField[];

type Registry = typeof POST_FIELDS;
type Where<P> = { [F in PostField]: Registry[F] extends P ? F : never }[PostField];
/** Fields that a person sets by hand. */
export type SettableField = Where<{ set: PostAction }>;
/** Fields that a batch may change, and that its items tell of. */
export type BatchField = Where<{ batch: true }>;
export type HeldField = Where<{ readers: true }>;
export type CopiedField = Where<{ copied: true }>;
export type TextFieldName = Where<{ kind: 'text' }>;
export type CardField = Where<{ card: true }>;
/** Fields that checks read. */
export type CheckedField = Where<{ checks: true }>;
export type CheckedValues = Pick<PostValues, CheckedField>;
/** Fields of text that a place draws by itself. */
export type TextFieldIn<P extends TextPlace> = {
  [F in TextFieldName]: Registry[F] extends { shown: readonly (infer S)[] }
    ? P extends S
      ? F
      : never
    : never;
}[TextFieldName];

const where = <F extends PostField>(holds: (spec: FieldSpec) => boolean) =>
  POST_FIELD_NAMES.filter((name): name is F => holds(POST_FIELDS[name]));
export const SETTABLE_FIELDS = where<SettableField>((spec) => spec.set !== null);
export const BATCH_FIELDS = where<BatchField>((spec) => spec.batch);
/** Fields whose changes readers of a published post see with its next update. */
export const HELD_FIELDS = where<HeldField>((spec) => spec.readers === true);
export const CHECKED_FIELDS = where<CheckedField>((spec) => spec.checks);
export const TEXT_FIELD_NAMES = where<TextFieldName>((spec) => spec.kind === 'text');
export const CARD_FIELDS = where<CardField>((spec) => spec.card);
/** What makes a post like others. */
export const COMPARED_FIELDS = where<Where<{ compared: true }>>((spec) => spec.compared === true);
/** What says whether and where readers find a post. */
export const FINDABLE_FIELDS = where<Where<{ findable: true }>>((spec) => spec.findable === true);
export const COPIED_FIELDS = where<CopiedField>((spec) => spec.copied);

export const textFieldsIn = <P extends TextPlace>(place: P): TextFieldIn<P>[] =>
  where<TextFieldIn<P>>((spec) => spec.kind === 'text' && spec.shown?.includes(place) === true);

export const isOneLine = (field: PostField): boolean => 'oneLine' in POST_FIELDS[field];

/** The name of a field at the head of a box or a column: `Search title`. */
export function fieldHeading(field: PostField): string {
  const { label } = POST_FIELDS[field];
  return label[0]!.toUpperCase() + label.slice(1);
}

/** The key of a field in files: `search-title`. */
export const fileKey = (field: PostField): string => field.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

/** Texts that stand in the front matter of files, by their fields. */
export type FileTexts = Partial<Record<TextFieldIn<'files'>, string>>;

/** The values of some fields. */
export const pickFields = <F extends PostField>(
  values: Pick<PostValues, F>,
  fields: readonly F[],
): Pick<PostValues, F> => Object.fromEntries(fields.map((f) => [f, values[f]])) as Pick<PostValues, F>;

/** The most characters a text field holds. */
export const maxOf = (field: TextFieldName): number => POST_FIELDS[field].max;

/** Fields in words, as people call them: `title, excerpt and category`. */
export function fieldLabels(fields: readonly string[]): string[] {
  return fields
    .filter((f): f is PostField => f in POST_FIELDS && !('derived' in POST_FIELDS[f as PostField]))
    .map((f) => POST_FIELDS[f].label);
}
