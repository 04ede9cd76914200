import { mayRevertMove, maySchedule, type Stage } from '../stages/stages.js';
import { isLater } from '../time/zone.js';
import { refuse, type EditContext } from './context.js';
import { idSet, sameValue, type Difference } from './difference.js';
import type { StepAnswer } from './step.js';
import type { BatchField } from './fields.js';
import { moveTo } from './move.js';
import { setValues, type SetValues } from './set-values.js';
import type { StageStep } from './effects.js';
import type { Post, PostValues } from './values.js';

export interface Reverting {
  /** What an earlier edit did. */
  item: Difference<BatchField>;
  /** Also what was changed since. */
  force: boolean;
  /** Of the text that is put back, when there is one. */
  words?: number;
}

/** The difference that leads back. */
export function inverse<F extends BatchField>({ before, after }: Difference<F>): Difference<F> {
  return { before: after, after: before };
}

/**
 * The values that taking an edit back gives a post as it stands by now, and the fields that somebody changed
 * since. A field that still has the edit's value returns to what it was; one that was changed since is kept and
 * named, or returns all the same with `force`. Tags that others gave or took since stay either way: only the
 * edit's own come and go.
 */
export function valuesBack(
  post: Post,
  { item, force }: Reverting,
): { values: Partial<Pick<PostValues, BatchField>>; since: BatchField[] } {
  const values: Record<string, unknown> = {};
  const since: BatchField[] = [];
  for (const field of Object.keys(item.after) as BatchField[]) {
    const [was, became, is] = [item.before[field], item.after[field], post[field]];
    if (field === 'tagIds') {
      const [before, after, now] = [was, became, is].map((ids) => (ids ?? []) as readonly number[]);
      const gained = after!.filter((t) => !before!.includes(t));
      const lost = before!.filter((t) => !after!.includes(t));
      const tags = idSet([...now!.filter((t) => !gained.includes(t)), ...lost]);
      if (!sameValue(tags, now)) values['tagIds'] = tags;
      continue;
    }
    const untouched = sameValue(is, became);
    if (!untouched && sameValue(is, was)) continue;
    if (!untouched) since.push(field);
    if (untouched || force) values[field] = was ?? null;
  }
  return { values, since };
}

/**
 * Takes an edit back. The stage first, since what else may be set depends on it; then every field by the rules
 * that hold for setting it, so that nothing comes back that is not on the blog any more.
 */
export function revert(post: Post, reverting: Reverting, context: EditContext): StepAnswer {
  const { values } = valuesBack(post, reverting);
  if (post.binned && values.binned !== false) return refuse('invalid', 'It lies in the bin.');
  if (values.body !== undefined && values.suggested === undefined && post.suggested)
    return refuse('demands', 'Somebody suggested changes of its text since. Accept or refuse them first.');
  const steps: StageStep[] = [];
  let next: Post = post;
  if (values.stage !== undefined) {
    const { actor } = context;
    if (values.stage === 'scheduled' && actor !== 'clock' && !maySchedule(actor))
      return refuse('not-yours', 'Scheduling this post again is not yours to do.', 'stage');
    const made = { from: reverting.item.before.stage, to: reverting.item.after.stage };
    // A post that went on since returns only by a move that the table has, with all that it demands.
    const moved: StepAnswer = mayRevertMove(post, made)
      ? { ok: true, values: stageValues(post, values.stage, context), steps: [undone(post, values.stage)] }
      : moveTo(post, { to: values.stage, note: 'Undone.' }, context);
    if (!moved.ok) return moved;
    next = { ...next, ...moved.values };
    steps.push(...(moved.steps ?? []));
  }
  if (values.binned !== undefined) next = { ...next, binned: values.binned };
  if (values.body !== undefined) next = { ...next, body: values.body, words: reverting.words ?? post.words };
  if (values.suggested !== undefined) next = { ...next, suggested: values.suggested };
  const { stage: _stage, binned: _binned, body: _body, suggested: _suggested, ...fields } = values;
  const set = setValues(next, fields as SetValues, context);
  if (!set.ok) return set;
  next = { ...next, ...set.values };
  // A pitch has no date, even if somebody gave it one since.
  if (next.stage === 'pitch') next = { ...next, run: null };
  if (next.run === null) next = { ...next, scheduledAt: null };
  if (next.stage === 'scheduled' && next.run && !next.binned && !isLater(next.run.at, context.now))
    return refuse('bad-time', 'It would be scheduled for a time that has passed, and go out at once.', 'run');
  return { ok: true, values: next, steps };
}

const undone = (post: Post, to: Stage): StageStep => ({ from: post.stage, to, note: '', log: 'Undone.' });

const stageValues = (post: Post, stage: Stage, { now }: EditContext): Partial<Post> => ({
  stage,
  stageSince: now,
  scheduledAt: stage === 'scheduled' ? now : post.scheduledAt,
});
