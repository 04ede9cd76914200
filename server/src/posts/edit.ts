import { applyEdits, formatEdit, type PostEdit, type Refusal } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { editContextFor, looksAtText, type EditOptions, type Work } from './context.js';
import { inTurns } from '../work/turns.js';
import { lockPosts, loadPosts, postOf, type WholePostRow } from './store.js';
import { writePosts } from './write.js';

/** What an edit did: the version that stands, and a sentence. */
export interface Done {
  id: number;
  version: number;
  sentence: string;
  stage: WholePostRow['stage'];
}

export const refused = ({ code, sentence, field }: Refusal): ProblemError =>
  new ProblemError(code, sentence, field ? { fields: [{ field, sentence }] } : {});

/** Of several edits, one that is refused: which in the order given, and why. */
export interface RefusedAt {
  at: number;
  refusal: Refusal;
}

/** Edits posts whose rows are held, all of them or none; of refused ones it tells all. */
export async function tryWork(
  trx: Trx,
  blogId: number,
  actor: CurrentPerson | 'clock',
  work: readonly Work[],
  options: EditOptions = {},
): Promise<{ refused: RefusedAt[]; done: Done[] }> {
  const context = await editContextFor(trx, blogId, actor, work, options);
  const outcomes = await inTurns(work, ({ post, edits }) => applyEdits(post, edits, context));
  const refused = outcomes.flatMap((o, at): RefusedAt[] => (o.ok ? [] : [{ at, refusal: o }]));
  if (refused.length > 0) return { refused, done: [] };
  const writes = outcomes.filter((o) => o.ok).map((edited, i) => ({ before: work[i]!.post, edited }));
  const versions = await writePosts(trx, blogId, writes, actor === 'clock' ? null : actor.id);
  const done = writes.map(({ edited }, i) => ({
    id: edited.post.id,
    version: versions[i]!,
    sentence: formatEdit(edited, context),
    stage: edited.post.stage,
  }));
  return { refused, done };
}

/**
 * Edits posts whose rows are held, all of them or none. Throws the first refusal as a problem; `titled` names the post
 * in it.
 */
async function editWork(
  trx: Trx,
  blogId: number,
  actor: CurrentPerson | 'clock',
  work: readonly Work[],
  { titled = false, ...options }: EditOptions & { titled?: boolean } = {},
): Promise<Done[]> {
  const { refused: all, done } = await tryWork(trx, blogId, actor, work, options);
  const [first] = all;
  if (!first) return done;
  const { at, refusal } = first;
  const { title } = work[at]!.post;
  throw refused(titled ? { ...refusal, sentence: `“${title}”: ${refusal.sentence}` } : refusal);
}

/** Edits one post whose row is held. */
export async function editPost(
  trx: Trx,
  row: WholePostRow & { binned?: boolean },
  actor: CurrentPerson | 'clock',
  ...edits: PostEdit[]
): Promise<Done> {
  const [done] = await editWork(trx, row.blog_id, actor, [{ post: postOf(row), edits }]);
  return done!;
}

/** Edits many posts, in the bin or not, all of them or none; those that are gone are left out. */
export async function editPosts(
  trx: Trx,
  blogId: number,
  actor: CurrentPerson | 'clock',
  ids: readonly number[],
  editsFor: (post: Work['post']) => readonly PostEdit[],
  options: EditOptions = {},
): Promise<Done[]> {
  await lockPosts(trx, ids);
  const light = await loadPosts(trx, blogId, ids, options);
  let work = light.map((post) => ({ post, edits: editsFor(post) }));
  if (!options.text && work.some((w) => looksAtText(w.edits))) {
    const whole = await loadPosts(trx, blogId, ids, { text: true });
    work = whole.map((post) => ({ post, edits: editsFor(post) }));
  }
  return editWork(trx, blogId, actor, work, { ...options, titled: work.length > 1 });
}
