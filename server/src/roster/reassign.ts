import type { Knex } from 'knex';
import type { BatchPreview, Reassignment } from '@keyroster/contract';
import { isDesk } from '@keyroster/core';
import { storeChores } from '../archive/batch-chores.js';
import { previewWithChores } from '../archive/preview.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { onlyVisible } from '../posts/visible.js';

/**
 * Previews a batch that gives what somebody has in hand to somebody else: every post that is not out and in
 * which they write, edit or proofread, or those that run in some days, with the open chores that name them.
 * What is out keeps its byline.
 */
export async function previewReassign(
  trx: Trx,
  person: CurrentPerson,
  fromId: number,
  { to, from, until }: Reassignment,
): Promise<BatchPreview> {
  if (to === fromId) throw new ProblemError('invalid', 'Choose somebody else.');
  if (from !== null && until !== null && until < from)
    throw new ProblemError('invalid', 'The last day is before the first.', {
      fields: [{ field: 'until', sentence: 'Choose a last day that is not before the first.' }],
    });
  const member = await trx('memberships as m')
    .join('people as p', 'p.id', 'm.person_id')
    .where({ 'm.blog_id': person.blogId, 'm.person_id': to, 'p.active': true })
    .whereNot('m.role', 'reader')
    .first('m.person_id');
  if (!member) throw new ProblemError('invalid', 'That person has no open account in this newsroom.');
  if (!(await trx('memberships').where({ blog_id: person.blogId, person_id: fromId }).first('person_id')))
    throw new ProblemError('not-found', 'That person is not in this newsroom.');
  const within = { from, until };
  const ids = await underWay(trx, person, within)
    .where((w) =>
      w
        .where('posts.byline_id', fromId)
        .orWhere('posts.editor_id', fromId)
        .orWhere('posts.proofreader_id', fromId)
        .orWhereExists((q) =>
          q
            .from('post_coauthors as c')
            .whereRaw('c.post_id = posts.id')
            .where('c.person_id', fromId)
            .select(trx.raw('1')),
        ),
    )
    .orderBy('posts.id')
    .pluck<number[]>('posts.id');
  const named = await underWay(trx, person, within)
    .join('chores as ch', 'ch.post_id', 'posts.id')
    .where('ch.person_id', fromId)
    .whereNull('ch.done_at')
    .select<{ id: number; category_id: number | null }[]>('ch.id', 'posts.category_id');
  const chores = named.filter((c) => isDesk(person, { categoryId: c.category_id })).map((c) => c.id);
  if (ids.length === 0 && chores.length === 0)
    throw new ProblemError('invalid', 'There is nothing to reassign: nothing of theirs is under way then.');
  const change = { kind: 'reassign', from: fromId, to } as const;
  return previewWithChores(trx, person, change, ids, (batchId) => storeChores(trx, batchId, chores, change));
}

/** Posts that the person sees and that are not out, those that run in some days. */
const underWay = (
  trx: Trx,
  person: CurrentPerson,
  { from, until }: Pick<Reassignment, 'from' | 'until'>,
): Knex.QueryBuilder =>
  onlyVisible(trx('posts'), person)
    .where('posts.blog_id', person.blogId)
    .whereIn('posts.stage', ['pitch', 'commissioned', 'drafting', 'in review', 'cleared', 'scheduled'])
    .modify((q) => {
      if (from !== null) void q.where('posts.run_local', '>=', `${from}T00:00:00`);
      if (until !== null) void q.where('posts.run_local', '<=', `${until}T23:59:59`);
    });
