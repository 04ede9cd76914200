import type { ArchiveNames, KeptFilter, NewKeptFilter } from '@keyroster/contract';
import { personRef } from '../accounts/people.js';
import { seesEverything } from '@keyroster/core';
import { tagSeen } from '../desk/tags.js';
import { seenSql } from '../posts/visible.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';

const MAX_FILTERS = 100;

/** Names on the blog for tokens and batches. */
export async function archiveNames(db: Queryable, person: CurrentPerson): Promise<ArchiveNames> {
  const { blogId } = person;
  const seen = seenSql(person, 'p');
  const [people, categories, tags, formats, campaigns] = await Promise.all([
    db('people as p')
      .join('memberships as m', 'm.person_id', 'p.id')
      .where('m.blog_id', blogId)
      .whereNot('m.role', 'reader')
      .orderBy('p.name')
      .select<{ id: number; name: string }[]>('p.id', 'p.name'),
    db('categories').where({ blog_id: blogId }).orderBy('name').pluck<string[]>('name'),
    db('tags')
      .where({ blog_id: blogId })
      .modify((q) => {
        if (!seesEverything(person.role)) void q.whereRaw(tagSeen(seen.text), seen.values);
      })
      .orderBy('name')
      .select<{ id: number; name: string }[]>('id', 'name'),
    db('formats').where({ blog_id: blogId }).orderBy('name').pluck<string[]>('name'),
    db('posts as p')
      .where({ blog_id: blogId })
      .whereRaw(seen.text, seen.values)
      .whereNot({ campaign: '' })
      .distinct()
      .orderBy('campaign')
      .limit(200)
      .pluck<string[]>('campaign'),
  ]);
  const names = people.map((p) => p.name);
  return {
    filter: {
      byline: names,
      category: categories,
      tag: tags.map((t) => t.name),
      format: formats,
      campaign: campaigns,
      'changed-by': names,
    },
    people: people.map((p) => personRef(p)),
    tags,
  };
}

export async function listFilters(db: Queryable, person: CurrentPerson): Promise<KeptFilter[]> {
  const rows = await db('kept_filters as f')
    .join('people as p', 'p.id', 'f.person_id')
    .where('f.blog_id', person.blogId)
    .where((w) => w.where('f.person_id', person.id).orWhere('f.shared', true))
    .orderByRaw('lower(f.name), f.id')
    .select<(Omit<KeptFilter, 'by'> & { person_id: number; person: string })[]>(
      'f.id',
      'f.name',
      'f.line',
      'f.sort',
      'f.shared',
      'f.person_id',
      'p.name as person',
    );
  return rows.map(({ person_id, person: name, ...f }) => ({ ...f, by: personRef({ id: person_id, name }) }));
}

/** Keeps a filter; one of the same name of the same person takes its place. */
export async function saveFilter(
  trx: Trx,
  person: CurrentPerson,
  filter: NewKeptFilter,
): Promise<KeptFilter[]> {
  const [{ count } = { count: '0' }] = await trx('kept_filters')
    .where({ blog_id: person.blogId, person_id: person.id })
    .count<{ count: string }[]>('id as count');
  if (Number(count) >= MAX_FILTERS)
    throw new ProblemError('invalid', `You keep ${MAX_FILTERS} filters already. Let one go first.`);
  await trx('kept_filters')
    .insert({ blog_id: person.blogId, person_id: person.id, ...filter })
    .onConflict(['blog_id', 'person_id', 'name'])
    .merge();
  return listFilters(trx, person);
}

/** Lets a filter go: one’s own, and for the managing editor any shared one. */
export async function deleteFilter(trx: Trx, person: CurrentPerson, id: number): Promise<KeptFilter[]> {
  const gone = await trx('kept_filters')
    .where({ blog_id: person.blogId, id })
    .where((w) => {
      void w.where({ person_id: person.id });
      if (person.role === 'managing editor') void w.orWhere({ shared: true });
    })
    .delete();
  if (gone === 0) throw notFound('That filter');
  return listFilters(trx, person);
}
