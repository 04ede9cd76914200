import type { PostChanges, PostView } from '@keyroster/contract';
import type { PostField } from '@keyroster/core';
import type { LocalDraft } from './draft-keeper';

/** What is typed around a text and may not have arrived yet. */
export type Typed = Pick<LocalDraft, 'title' | 'excerpt'>;
export type TypedField = keyof Typed;
const TYPED = ['title', 'excerpt'] as const satisfies readonly TypedField[];

/** The parts of a post that `like` has, as `from` has them. */
export const sameParts = (like: Typed, from: Typed): Typed =>
  Object.fromEntries(
    TYPED.filter((field) => like[field] !== undefined).map((field) => [field, from[field]]),
  ) as Typed;

/** Does a post hold all that was typed? */
export const stands = (typed: Typed, post: PostView): boolean =>
  TYPED.every((field) => typed[field] === undefined || typed[field] === post[field]);

/** Changes that go by another name than the field they set. */
const SETS = { tags: 'tagIds', runAt: 'run' } as const satisfies Record<
  Exclude<keyof PostChanges, PostField>,
  PostField
>;

/** Do these changes meet what was changed? */
export const touches = (changes: PostChanges, changed: readonly string[]): boolean =>
  Object.keys(changes).some((name) =>
    changed.includes(name in SETS ? SETS[name as keyof typeof SETS] : name),
  );
