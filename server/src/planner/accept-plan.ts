import {
  explain,
  formatCount,
  NO_WISHES,
  problemFor,
  type PlanTask,
  type Placing,
  type Problem,
} from '@keyroster/core';
import type { AcceptPlan, PlanAccepted, PlanMisfit } from '@keyroster/contract';
import { changeAtOnce } from '../archive/at-once.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { planFacts } from './plan-facts.js';

/**
 * Puts posts where a plan has them, as one batch that can be undone. The plan is looked at again as the
 * calendar stands now: what no longer fits is told, and nothing is changed until it is left out on purpose.
 */
export async function acceptPlan(
  trx: Trx,
  person: CurrentPerson,
  { task, places, leaveMisfits }: AcceptPlan,
): Promise<PlanAccepted> {
  // One at a time, and in order of id, so that two who accept at once cannot take the same slot.
  await trx('blogs').where({ id: person.blogId }).forNoKeyUpdate().first('id');
  await trx('posts')
    .where({ blog_id: person.blogId })
    .whereIn(
      'id',
      places.map((p) => p.postId),
    )
    .orderBy('id')
    .forUpdate()
    .select('id');
  const problem = problemFor(await planFacts(trx, person, task), task, NO_WISHES);
  const asked = places.map(({ postId, slot, writerId }) => ({ pitchId: postId, slot, writerId }));
  const misfits = await misfitsOf(trx, person, problem, asked);
  const fits = places.filter((p) => !misfits.some((m) => m.postId === p.postId));
  if ((misfits.length > 0 && !leaveMisfits) || fits.length === 0)
    return { sentence: sayMisfits(misfits.length, places.length), batchId: null, misfits };
  const slots = new Map(problem.slots.map((s) => [`${s.slotId}|${s.movedFrom ?? s.date}`, s]));
  const deadlines = new Map(
    explain({ ...problem, wishes: { ...NO_WISHES, pinned: asked } }, asked).placings.map((p) => [
      p.pitchId,
      p,
    ]),
  );
  const sentence = saidOf(task, fits.length);
  const batch = await changeAtOnce(
    trx,
    person,
    [
      {
        kind: 'plan',
        places: fits.map(({ postId, slot, writerId }) => {
          const { date, time } = slots.get(slot)!;
          return { postId, local: `${date}T${time}:00`, writerId, copyDate: deadlines.get(postId)!.copy };
        }),
      },
    ],
    fits.map((p) => p.postId),
    sentence,
  );
  return { sentence, batchId: batch.id, misfits };
}

const saidOf = (task: PlanTask, count: number): string =>
  task.kind === 'without'
    ? `${formatCount(count, 'post')} changed hands or days.`
    : `${formatCount(count, 'pitch', 'pitches')} commissioned by the plan.`;

const sayMisfits = (misfits: number, of: number): string =>
  misfits === of
    ? 'Nothing of the plan fits any more. Nothing was changed.'
    : `${misfits} of ${of} no longer ${misfits === 1 ? 'fits' : 'fit'}. Nothing was changed yet.`;

/** What of a plan cannot be held as things stand, each with the reason. */
async function misfitsOf(
  trx: Trx,
  person: CurrentPerson,
  problem: Problem,
  asked: readonly Placing[],
): Promise<PlanMisfit[]> {
  const moving = new Set(asked.map((p) => p.pitchId));
  // Whatever else may move but does not is where it stands, and takes up its room.
  const placed = problem.pitches.flatMap(({ id, stands }): Placing[] =>
    stands && stands.writerId !== null && !moving.has(id)
      ? [{ pitchId: id, slot: stands.slot, writerId: stands.writerId }]
      : [],
  );
  const pinned = [...placed, ...asked];
  const { unmet } = explain({ ...problem, wishes: { ...NO_WISHES, pinned } }, pinned);
  const own = unmet.filter((u) => moving.has(u.pin.pitchId));
  if (own.length === 0) return [];
  const titles = await trx('posts')
    .where({ blog_id: person.blogId })
    .whereIn(
      'id',
      own.map((u) => u.pin.pitchId),
    )
    .select<{ id: number; title: string }[]>('id', 'title');
  return own.map(({ pin, why }) => ({
    postId: pin.pitchId,
    title: titles.find((t) => t.id === pin.pitchId)?.title ?? '',
    why,
  }));
}
