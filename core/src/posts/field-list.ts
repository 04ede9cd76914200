import { BELONGING_FIELDS } from './field-list/belonging.js';
import { PAGE_FIELDS } from './field-list/page.js';
import { TEXT_FIELDS } from './field-list/text.js';
import { TIME_FIELDS } from './field-list/time.js';
import type { FieldSpec } from './field-spec.js';
import type { PostField } from './values.js';

/**
 * The one list of a post's fields. Columns, versions, permissions, schemas, checks, batches, cards, copies and
 * the names in messages are derived from it or typed by it; a field that is left out anywhere does not compile.
 */
export const POST_FIELDS = {
  ...TEXT_FIELDS,
  ...BELONGING_FIELDS,
  ...PAGE_FIELDS,
  ...TIME_FIELDS,
} as const satisfies Record<PostField, FieldSpec>;
