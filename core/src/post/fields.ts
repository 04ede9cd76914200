import type { PostAction } from '../stages/may.js';
import { POST_FIELDS } from './field-list.js';
import type { FieldSpec } from './field-spec.js';
import type { PostField } from './values.js';

export { POST_FIELDS } from './field-list.js';
export type { FieldSpec, ReferenceKind } from './field-spec.js';

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

const where = <F extends PostField>(holds: (spec: FieldSpec) => boolean) =>
  POST_FIELD_NAMES.filter((name): name is F => holds(POST_FIELDS[name]));
export const SETTABLE_FIELDS = where<SettableField>((spec) => spec.set !== null);
export const BATCH_FIELDS = where<BatchField>((spec) => spec.batch);
/** Fields whose changes readers of a published post see with its next update. */
export const HELD_FIELDS = where<HeldField>((spec) => spec.readers === true);
export const COPIED_FIELDS = where<CopiedField>((spec) => spec.copied);

/** The most characters a text field holds. */
export const maxOf = (field: TextFieldName): number => POST_FIELDS[field].max;

/** Fields in words, as people call them: `title, excerpt and category`. */
export function fieldLabels(fields: readonly string[]): string[] {
  return fields
    .filter((f): f is PostField => f in POST_FIELDS && !('derived' in POST_FIELDS[f as PostField]))
    .map((f) => POST_FIELDS[f].label);
}
