import { may } from '../stages/may.js';
import { missedByUpdate } from '../stages/stages.js';
import { refuse, type EditContext } from './context.js';
import { sameValue } from './difference.js';
import type { StepAnswer } from './step.js';
import { HELD_FIELDS } from './fields.js';
import { demandFactsOf } from './move.js';
import type { Post } from './values.js';

/** Is it out, or was it, so that it may come back as it was? */
const wasOut = (post: Post) => post.stage === 'published' || post.stage === 'withdrawn';
const isOut = (post: Post) => post.stage === 'published' && !post.binned;

/**
 * Which version readers see once a post was changed; null where they see it as it is. What is changed of a
 * published post is held until it is updated, unless it goes to readers at once; a withdrawn post comes back as it
 * was; one that is published again is published as it is.
 */
export function readersVersionOf(before: Post, after: Post, atOnce: boolean): number | null {
  if (!wasOut(after)) return null;
  if (before.readersVersion !== null || after.readersVersion !== null) return after.readersVersion;
  if (atOnce || !isOut(before) || !isOut(after)) return null;
  return HELD_FIELDS.some((f) => !sameValue(before[f], after[f])) ? before.version : null;
}

/** Publishes what was changed, with all that a release requires. */
export function updateStep(post: Post, context: EditContext): StepAnswer {
  const { actor } = context;
  if (post.stage !== 'published')
    return refuse('no-such-move', 'Only what is published is updated; this post is ' + post.stage + '.');
  if (actor === 'clock' || !may(actor, 'update', post))
    return refuse('not-yours', 'Publishing changes is its editor’s to do.');
  if (post.readersVersion === null) return refuse('invalid', 'Readers see it as it is already.');
  const missed = missedByUpdate(demandFactsOf(post, context));
  return missed ? refuse('demands', missed.sentence) : { ok: true, values: { readersVersion: null } };
}
