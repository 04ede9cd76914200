import { FIRST_DAYS, may } from '@keyroster/core';
import type { TitleTrialView, UsedTitles } from '@keyroster/contract';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { emit } from '../live/live.js';
import { clockOf } from '../slots/clock.js';
import { factsOf, lockPost, type WholePostRow } from '../posts/store.js';

/** More titles than any of ours is compared with, newest first. */
const MAX_TITLES = 20_000;
const MAX_TRIALS = 60;

export async function listTrials(db: Queryable, postId: number): Promise<TitleTrialView[]> {
  const rows = await db('title_trials as t')
    .join('people as p', 'p.id', 't.person_id')
    .where('t.post_id', postId)
    .orderBy('t.id')
    .select<{ id: number; title: string; at: string; person_id: number; name: string }[]>(
      't.id',
      't.title',
      't.at',
      't.person_id',
      'p.name',
    );
  return rows.map(({ person_id, name, ...row }) => ({ ...row, by: personRef({ id: person_id, name }) }));
}

export async function saveTrial(
  trx: Trx,
  post: WholePostRow,
  person: CurrentPerson,
  title: string,
): Promise<TitleTrialView[]> {
  if (!may(person, 'write', factsOf(post)) && !may(person, 'note', factsOf(post)))
    throw notYours('Trying titles for this post');
  const { count } = (
    await trx('title_trials').where({ post_id: post.id }).count<{ count: number }[]>('* as count')
  )[0]!;
  if (Number(count) >= MAX_TRIALS)
    throw new ProblemError('invalid', `A post keeps ${MAX_TRIALS} title trials. Remove some first.`);
  await trx('title_trials')
    .insert({ blog_id: post.blog_id, post_id: post.id, title, person_id: person.id })
    .onConflict(['post_id', 'title'])
    .ignore();
  await emit(trx, { blogId: post.blog_id, kind: 'note', postId: post.id, personId: person.id });
  return listTrials(trx, post.id);
}

/** A trial goes by the hand of who made it, or of the desk. */
export async function removeTrial(trx: Trx, person: CurrentPerson, id: number): Promise<null> {
  const trial = await trx('title_trials')
    .where({ blog_id: person.blogId, id })
    .first<{ post_id: number; person_id: number } | undefined>('post_id', 'person_id');
  const post = trial && (await lockPost(trx, person.blogId, trial.post_id));
  if (!trial || !post || !may(person, 'see', factsOf(post))) throw notFound('That title trial');
  if (trial.person_id !== person.id && !may(person, 'details', factsOf(post)))
    throw notYours('Removing somebody else’s title trial');
  await trx('title_trials').where({ id }).delete();
  await emit(trx, { blogId: post.blog_id, kind: 'note', postId: post.id, personId: person.id });
  return null;
}

/** Titles in use; of posts whose first days are over, with how often they were read in these. */
export async function usedTitles(db: Queryable, blogId: number): Promise<UsedTitles> {
  const { today } = await clockOf(db, blogId);
  const rows = await db('posts')
    .where({ blog_id: blogId })
    .whereNot({ stage: 'pitch' })
    .orderBy('id', 'desc')
    .limit(MAX_TITLES)
    .joinRaw(
      `
        left join (
          select
            p.id as post_id,
            sum(r.reads)::int as reads
          from
            posts p
            join post_reads r on r.post_id = p.id
            and r.day >= p.run_local::date
            and r.day < p.run_local::date + ?::int
          where
            p.blog_id = ?
            and p.run_local::date + ?::int <= ?::date
          group by
            p.id
        ) r on r.post_id = posts.id
      `,
      [FIRST_DAYS, blogId, FIRST_DAYS, today],
    )
    .select<{ id: number; title: string; stage: string; reads: number | null }[]>(
      'id',
      'title',
      'stage',
      'r.reads',
    );
  return {
    titles: rows.map((r) => [r.id, r.title, r.stage === 'published', r.reads]),
  };
}
