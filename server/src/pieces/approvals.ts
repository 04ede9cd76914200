import type { Approval, ApprovedRollout } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { emit } from '../live/live.js';
import { type WholePostRow } from '../posts/store.js';
import type { OutletRow } from '../outlets/outlet-row.js';
import { galleryOf } from './pictures.js';
import { lockPiece, type PieceRow } from './piece-store.js';
import { cancelSends, planSends } from '../outlets/plan.js';
import { errorsOf, seeRollout } from './rollout.js';
import { mustSend, whyNothingGoesOut, whyOthersStay } from '../outlets/permissions.js';

/** Lets a piece go out when it is due, or holds it. What its outlet would refuse is not let out. */
export async function approvePiece(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  { approved }: Approval,
): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, null);
  await mustSend(trx, person, piece.post_id);
  const refusal = await setApproval(trx, person, piece, post, approved);
  if (refusal) throw new ProblemError('invalid', refusal);
  return piece.post_id;
}

/**
 * The same for all pieces of a post. Those that cannot go, or that the post has left behind, are left as they are and
 * given with why.
 */
export async function approveRollout(
  trx: Trx,
  person: CurrentPerson,
  postId: number,
  { approved }: Approval,
): Promise<ApprovedRollout['staying']> {
  const post = await mustSend(trx, person, postId);
  const refusal = approved ? await whyNothingGoesOut(trx, post) : null;
  if (refusal) throw new ProblemError('invalid', refusal);
  const pieces = await trx('pieces')
    .where({ post_id: postId })
    .orderBy('id')
    .forUpdate()
    .select<PieceRow[]>();
  if (pieces.length === 0) throw new ProblemError('invalid', 'The post has no pieces yet.');
  const behind = new Set(
    (await seeRollout(trx, person, postId)).pieces
      .filter((p) => p.moved.what === 'used' || p.moved.what === 'title')
      .map((p) => p.id),
  );
  const staying: ApprovedRollout['staying'] = [];
  for (const piece of pieces) {
    const sentence =
      approved && behind.has(piece.id)
        ? 'It is behind the post.'
        : await setApproval(trx, person, piece, post, approved);
    if (sentence) staying.push({ pieceId: piece.id, sentence });
  }
  return staying;
}

/** Gives why it cannot be, or null once it is so. */
async function setApproval(
  trx: Trx,
  person: CurrentPerson,
  piece: PieceRow,
  post: WholePostRow,
  approved: boolean,
): Promise<string | null> {
  const send = await trx('sends')
    .where({ piece_id: piece.id })
    .forUpdate()
    .first<{ id: number; state: string } | undefined>('id', 'state');
  if (!approved) {
    if (!send) return null;
    if (send.state !== 'waiting' && send.state !== 'stopped' && send.state !== 'failed')
      return 'It is out, or on its way.';
    await cancelSends(trx, [send.id]);
    await trx('sends').where({ id: send.id }).delete();
  } else {
    if (send && send.state !== 'stopped' && send.state !== 'failed') return null;
    const refusal = (await whyNothingGoesOut(trx, post)) ?? (await whyOthersStay(trx, piece, 'in time'));
    if (refusal) return refusal;
    const outlet = (await trx('outlets').where({ id: piece.outlet_id }).first<OutletRow>())!;
    const error = errorsOf(piece, outlet, piece.kind === 'gallery' ? galleryOf(post, piece) : []).find(
      (f) => f.blocks,
    );
    if (error) return error.sentence;
    if (outlet.closed_at !== null) return `${outlet.name} is closed.`;
    if (send)
      await trx('sends')
        .where({ id: send.id })
        .update({
          state: 'waiting',
          error: '',
          due_at: piece.due_at,
          next_at: null,
          outlet_id: piece.outlet_id,
          approved_by: person.id,
          approved_at: trx.raw('clock_timestamp()'),
        });
    else
      await trx('sends').insert({
        blog_id: piece.blog_id,
        piece_id: piece.id,
        outlet_id: piece.outlet_id,
        due_at: piece.due_at,
        approved_by: person.id,
      });
    await planSends(trx, {
      sendId: (await trx('sends').where({ piece_id: piece.id }).first<{ id: number }>('id'))!.id,
    });
  }
  await emit(trx, { blogId: piece.blog_id, kind: 'outlet', postId: piece.post_id, personId: person.id });
  return null;
}
