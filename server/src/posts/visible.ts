import { may, seesEverything } from '@keyroster/core';
import type { Knex } from 'knex';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import { factsOf, findPost, lockPost, type WholePostRow } from './store.js';

/** The post, if it exists and this person may see it; the two cannot be told apart. */
export async function visiblePost(db: Queryable, person: CurrentPerson, id: number): Promise<WholePostRow> {
  const row = await findPost(db, person.blogId, id);
  if (!row || !may(person, 'see', factsOf(row))) throw notFound('That post');
  return row;
}

export async function visiblePostToChange(
  trx: Trx,
  person: CurrentPerson,
  id: number,
): Promise<WholePostRow> {
  const row = await lockPost(trx, person.blogId, id);
  if (!row || !may(person, 'see', factsOf(row))) throw notFound('That post');
  return row;
}

/**
 * The posts a person may see at all, as SQL over a post under the alias `of`: says the same as `may(…, 'see', …)`
 * in core, and that what lies in the bin is only for those who see everything. All that is made of posts (lists,
 * counts, names, likeness, cards, events, search) asks this.
 */
export function seenSql(
  person: Pick<CurrentPerson, 'id' | 'role'>,
  of: string,
): { text: string; values: number[] } {
  if (seesEverything(person.role)) return { text: 'true', values: [] };
  if (person.role === 'reader') return { text: 'false', values: [] };
  return {
    text: `(${of}.binned_at is null and (${of}.proofreader_id = ? or (${of}.stage = 'published' and ${of}.readers_version is null)))`,
    values: [person.id],
  };
}

/** Those of some posts that a person may see. */
export async function seenOf(
  db: Queryable,
  person: Pick<CurrentPerson, 'id' | 'role' | 'blogId'>,
  ids: readonly number[],
): Promise<Set<number>> {
  if (ids.length === 0 || seesEverything(person.role)) return new Set(ids);
  const seen = seenSql(person, 'p');
  return new Set(
    await db('all_posts as p')
      .where('p.blog_id', person.blogId)
      .whereRaw('p.id = any(?)', [[...ids]])
      .whereRaw(seen.text, seen.values)
      .pluck<number[]>('p.id'),
  );
}

/** Only the posts that the person may see. */
export function onlyVisible<Q extends Knex.QueryBuilder>(query: Q, person: CurrentPerson): Q {
  const seen = seenSql(person, 'posts');
  void query.whereRaw(seen.text, seen.values);
  return query;
}
