import { POST_FIELDS, POST_FIELD_NAMES } from './fields.js';
import type { Post, PostField, PostValues } from './values.js';

/** Values of fields before and after a change; the same fields stand in both. */
export interface Difference<F extends PostField = PostField> {
  before: Partial<Pick<PostValues, F>>;
  after: Partial<Pick<PostValues, F>>;
}

/** Are two values of a field the same, whatever order the keys of an object come in? */
export function sameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null)
    return (a ?? null) === (b ?? null);
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const keys = new Set([...Object.keys(x), ...Object.keys(y)]);
  for (const key of keys) if (!sameValue(x[key], y[key])) return false;
  return true;
}

/** The fields in which two states of a post differ, in the order of the registry. */
export function changedFields(before: Post, after: Post): PostField[] {
  const changed: PostField[] = [];
  for (const name of POST_FIELD_NAMES)
    if (before[name] !== after[name] && !sameValue(before[name], after[name])) changed.push(name);
  return changed;
}

export const isDerived = (field: PostField): boolean => 'derived' in POST_FIELDS[field];

/** The difference that these fields make between two states of a post. */
export function differenceOf(before: Post, after: Post, fields: readonly PostField[]): Difference {
  const pick = (post: Post) => Object.fromEntries(fields.map((name) => [name, post[name]]));
  return { before: pick(before), after: pick(after) };
}

/** Ids in ascending order, each once. */
export const idSet = (ids: readonly number[]): number[] => [...new Set(ids)].sort((a, b) => a - b);
