import type { SlugOwner } from '../posts/context.js';
import { differenceOf, type Difference } from '../posts/difference.js';
import {
  applyEdits,
  deskOnly,
  finish,
  makeEdits,
  type Edited,
  type EditAnswer,
  type PostEdit,
} from '../posts/edit.js';
import type { StageStep } from '../posts/effects.js';
import { BATCH_FIELDS, type BatchField } from '../posts/fields.js';
import type { Post } from '../posts/values.js';
import type { BatchChange } from './changes.js';
import { editsOf, type BatchContext } from './edits-of.js';
import { finderOf, type Finder } from './replace.js';

/** What a batch did to one post, kept with it. */
export type BatchItem = Difference<BatchField>;

export type Outcome =
  | { state: 'changes'; edited: Edited; item: BatchItem }
  | { state: 'same' }
  | { state: 'refused'; sentence: string };

export type Predict = (post: Post) => Outcome;

/**
 * Makes the function that says what changes do to a post: the post as it would be with the difference and the
 * effects, that it is so already, or a sentence why not. The changes are made one after the other, each on what
 * the one before left; when one is refused the post is left as it is. Posts are predicted in turn: an address
 * that one takes is taken for those after it. A pattern that cannot be read gives its sentence at once.
 */
export function predictorFor(
  changes: readonly BatchChange[],
  context: BatchContext,
): { ok: true; predict: Predict } | { ok: false; sentence: string } {
  const finders = new Map<BatchChange, Finder>();
  for (const change of changes) {
    if (change.kind !== 'replace') continue;
    const answer = finderOf(change);
    if (!answer.ok) return answer;
    finders.set(change, answer.find);
  }
  return {
    ok: true,
    predict: inTurn(context, (post, scene) => {
      let now = post;
      const steps: StageStep[] = [];
      for (const change of changes) {
        const answer = editsOf(change, now, scene, finders.get(change));
        if (!answer.ok) return answer;
        const made = makeEdits(now, answer.edits, scene);
        if (!made.ok) return made;
        now = made.post;
        steps.push(...made.steps);
      }
      return finish(post, now, steps, scene);
    }),
  };
}

/** Makes the function that says what taking items back does to the posts as they stand by now. */
export function backward(context: BatchContext): (post: Post, edit: PostEdit) => Outcome {
  let edit: PostEdit | null = null;
  const predict = inTurn(context, (post, scene) => applyEdits(post, [edit!], scene));
  return (post, back) => {
    edit = back;
    return predict(post);
  };
}

/** Posts one after the other, those of the desk only, with addresses that earlier ones took. */
function inTurn(context: BatchContext, apply: (post: Post, context: BatchContext) => EditAnswer): Predict {
  const claimed = new Map<string, SlugOwner>();
  const scene: BatchContext = {
    ...context,
    ownerOf: (slug) => claimed.get(slug) ?? context.ownerOf(slug),
  };
  return (post) => {
    const foreign = deskOnly(post, scene);
    if (foreign) return { state: 'refused', sentence: foreign.sentence };
    const answer = apply(post, scene);
    if (!answer.ok) return { state: 'refused', sentence: answer.sentence };
    const fields = BATCH_FIELDS.filter((f) => answer.changed.includes(f));
    if (fields.length === 0) return { state: 'same' };
    const { id, title, slug } = answer.post;
    if (slug !== null && slug !== post.slug) claimed.set(slug, { id, title, formerly: false });
    return {
      state: 'changes',
      edited: answer,
      item: differenceOf(post, answer.post, fields) as BatchItem,
    };
  };
}
