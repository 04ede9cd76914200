import { bodyWords, fileIds, pictureIds } from '../body/text.js';
import { isLater } from '../time/zone.js';
import type { BodyNode } from '../body/schema.js';
import { may } from '../stages/may.js';
import { asItWas, hasSuggestions } from '../suggestions/settle.js';
import { isDesk, type Stage } from '../stages/stages.js';
import { refuse, type EditContext, type Refusal } from './context.js';
import { changedFields, sameValue } from './difference.js';
import { effectsOf, type Effect, type StageStep } from './effects.js';
import { moveTo } from './move.js';
import { revert, type Reverting } from './revert.js';
import { setValues, type SetValues } from './set-values.js';
import { brokenRule } from './stage-rules.js';
import type { StepAnswer } from './step.js';
import { readersVersionOf, updateStep } from './update.js';
import { deskText, type Post, type PostField, type PostValues, type RunTime } from './values.js';

/** Everything that can be done to a post, as a value. */
export type PostEdit =
  /** Fields get these values. A scheduled post whose run time is set to null goes back to cleared. */
  | { kind: 'set'; values: SetValues }
  /** It moves to a stage; with a run time where the stage takes one. */
  | { kind: 'move'; to: Stage; run?: RunTime; note?: string }
  /**
   * Its text becomes this: a body that `checkBody` has passed, with its words counted. It may hold suggestions. With
   * `shared`, it is what the shared document holds, where each word was let in under the rights of its writer.
   */
  | { kind: 'text'; body: BodyNode; words: number; shared?: true }
  /** What was changed in a published post is put before its readers. */
  | { kind: 'update' }
  | { kind: 'bin' }
  /** Out of the bin, as a draft without a run time. */
  | { kind: 'restore' }
  /** Fields go back to what they were before an earlier edit. */
  | ({ kind: 'revert' } & Reverting);

export interface Edited {
  ok: true;
  /** The post as it is then. Its version is counted up by the store. */
  post: Post;
  /** In the order of the registry; empty when everything is so already. */
  changed: PostField[];
  steps: StageStep[];
  effects: Effect[];
}
export type EditAnswer = Edited | Refusal;

/**
 * Applies edits to a post, one after the other, each to what the one before left; all of them, or a refusal with
 * a sentence. The one place that knows what an edit does: pure, and the same for a person at the desk, a batch,
 * its undoing, the clock and an import. What a post may never lose is asked of what stands at the end.
 */
export function applyEdits(post: Post, edits: readonly PostEdit[], context: EditContext): EditAnswer {
  const made = makeEdits(post, edits, context);
  if (!made.ok) return made;
  const edited = finish(post, made.post, made.steps, context);
  if (!edited.ok || !edits.some((e) => e.kind === 'text' && e.shared)) return edited;
  return { ...edited, effects: edited.effects.filter((e) => e.kind !== 'text replaced') };
}

/** The post that edits make of another, before the rules that hold for every edit are asked. */
export function makeEdits(
  post: Post,
  edits: readonly PostEdit[],
  context: EditContext,
): { ok: true; post: Post; steps: StageStep[] } | Refusal {
  let now = post;
  const steps: StageStep[] = [];
  for (const edit of edits) {
    const answer = stepOf(now, edit, context);
    if (!answer.ok) return answer;
    now = { ...now, ...answer.values };
    if (answer.steps) steps.push(...answer.steps);
  }
  return { ok: true, post: now, steps };
}

/** What edits changed, with the effects; or the rule that they break. */
export function finish(
  before: Post,
  made: Post,
  steps: StageStep[],
  { atOnce = false }: Pick<EditContext, 'atOnce'>,
): EditAnswer {
  const post = { ...made, readersVersion: readersVersionOf(before, made, atOnce) };
  const changed = changedFields(before, post);
  const broken = changed.length === 0 ? null : brokenRule(before, post);
  if (broken !== null) return refuse('demands', broken);
  return { ok: true, post, changed, steps, effects: effectsOf(before, post, changed, steps, atOnce) };
}

export function applyEdit(post: Post, edit: PostEdit, context: EditContext): EditAnswer {
  return applyEdits(post, [edit], context);
}

function stepOf(post: Post, edit: PostEdit, context: EditContext): StepAnswer {
  if (post.binned && !context.inBin && edit.kind !== 'restore' && edit.kind !== 'revert')
    return refuse('invalid', 'It lies in the bin.');
  switch (edit.kind) {
    case 'set':
      return setStep(post, edit.values, context);
    case 'move':
      return moveTo(post, edit, context);
    case 'text':
      return textStep(post, edit, context);
    case 'update':
      return updateStep(post, context);
    case 'bin':
      return deskOnly(post, context) ?? { ok: true, values: { binned: true } };
    case 'restore':
      return restoreStep(post, context);
    case 'revert':
      return deskOnly(post, context) ?? revert(post, edit, context);
  }
}

export function deskOnly(post: Post, { actor }: EditContext): Refusal | null {
  return actor !== 'clock' && isDesk(actor, post)
    ? null
    : refuse('not-yours', 'It is in no category that you edit.');
}

function setStep(post: Post, values: SetValues, context: EditContext): StepAnswer {
  if (values.run !== null || post.stage !== 'scheduled') return setValues(post, values, context);
  const { run: _, ...others } = values;
  const set = setValues(post, others, context);
  if (!set.ok) return set;
  const moved = moveTo({ ...post, ...set.values }, { to: 'cleared' }, context);
  return moved.ok ? { ...moved, values: { ...set.values, ...moved.values, run: null } } : moved;
}

/** A text apart from what is suggested in it, whose words count once they are accepted. */
function textValues(body: BodyNode, words: number): Pick<PostValues, 'body' | 'suggested' | 'words'> {
  if (!hasSuggestions(body)) return { body, suggested: null, words };
  const was = asItWas(body);
  return { body: was, suggested: body, words: bodyWords(was) };
}

/** The first words that a writer puts into a commissioned post start the draft. */
function textStep(
  post: Post,
  { body, words, shared }: Extract<PostEdit, { kind: 'text' }>,
  context: EditContext,
): StepAnswer {
  const { actor } = context;
  if (!shared && (actor === 'clock' || !may(actor, 'write', post)))
    return refuse(
      'not-yours',
      post.stage === 'in review'
        ? 'This post is in review. Its text is the editor’s until changes are asked for.'
        : 'Changing the text of this post is not yours to do.',
    );
  if (pictureIds(body).some((id) => !context.has('picture', id)))
    return refuse('bad-text', 'The text holds a picture that is not in this blog’s library.');
  if (fileIds(body).some((id) => !context.hasFile(id)))
    return refuse('bad-text', 'The text holds a video or captions that are not in this blog’s library.');
  if (post.body && sameValue(body, deskText(post))) return { ok: true, values: {} };
  const values = textValues(body, words);
  if (post.stage !== 'commissioned' || actor === 'clock' || post.bylineId !== actor.id || values.words === 0)
    return { ok: true, values };
  const moved = moveTo({ ...post, ...values }, { to: 'drafting' }, context);
  return moved.ok ? { ...moved, values: { ...values, ...moved.values } } : { ok: true, values };
}

function restoreStep(post: Post, context: EditContext): StepAnswer {
  if (!post.binned) return refuse('invalid', 'It does not lie in the bin.');
  const refusal = deskOnly(post, context);
  if (refusal) return refusal;
  const step: StageStep = { from: post.stage, to: 'drafting', note: '', log: 'Out of the bin.' };
  // A run time that is still to come stays as the date it is planned for; one that is over is none.
  const run = post.run !== null && isLater(post.run.at, context.now) ? post.run : null;
  return {
    ok: true,
    values: { binned: false, stage: 'drafting', stageSince: context.now, run, scheduledAt: null },
    steps: post.stage === 'drafting' ? [] : [step],
  };
}
