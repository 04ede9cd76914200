import type { ArchiveOrder, ArchiveQuery } from '@keyroster/contract';
import { parseFilter, seesEverything, type Filter, type FilterToken } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { changedByAndMatching, firstChangedBy } from './first-changed.js';
import { firstOfGroups, type Naming } from './first-groups.js';
import { firstHavingPhrases } from './first-phrases.js';
import { expected, readPlain, sorted, sortedOf, withoutKey } from './first-statements.js';
import { phrasesIn, type Phrases } from './phrases.js';
import { orderOf, type OrderSql } from './order.js';
import type { Sql } from './sql.js';
import { nameKey, namedIds, whereOf, type NamedIds, type WhereContext } from './where.js';

/** How many rows are shown first. */
const FIRST = 60;
/** Above this many matches, reading an order until enough match is quicker than sorting them all. */
const MANY = 2500;
/** The same for the order by run time: what was released together mostly stands together, and is read quickly. */
const MANY_BY_RUN = 600;
/** The same of a phrase, whose posts are looked at one by one when they are found. */
const MANY_OF_PHRASE = 1000;

/**
 * What a query needs looked up. The zone only where a filter reckons by it: the quickest filters take less time
 * than asking.
 */
export async function whereContextFor(
  db: Queryable,
  person: CurrentPerson,
  filter: Filter,
): Promise<Omit<WhereContext, 'rows'>> {
  const zoneOf = async () =>
    (await db('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone;
  const [zone, named, phrases] = await Promise.all([
    filter.tokens.some((t) => t.key === 'changed') ? zoneOf() : 'UTC',
    namedIds(db, person.blogId, filter),
    phrasesIn(db, filter.words),
  ]);
  return { person, zone, named, phrases };
}

/** Conditions on other tables, whose numbers the database guesses wrongly. */
const GUESSED = new Set(['changed-by', 'batch']);
const isGuessed = ({ key, value }: FilterToken) =>
  GUESSED.has(key) || ((key === 'has' || key === 'lacks') && value.toLowerCase() === 'notes');

/** Orders by names, and the key by which a filter asks for some of these names or rules them out. */
const BY_NAME: Partial<Record<string, FilterToken['key']>> = {
  tags: 'tag',
  category: 'category',
  byline: 'byline',
  format: 'format',
};

/**
 * Whether so few match, or so few are worth reading, that they are best found and sorted; null when nobody can guess.
 */
async function few(
  db: Queryable,
  context: Omit<WhereContext, 'rows'>,
  filter: Filter,
  where: Sql,
  many: number,
): Promise<boolean | null> {
  if (many === 0) return false;
  const guessed = filter.tokens.filter(isGuessed);
  const [only, ...others] = guessed;
  if (only?.key === 'changed-by' && !only.not && others.length === 0)
    return (await changedByAndMatching(db, context, only, filter)) < many;
  if (guessed.length > 0) return null;
  // Of what has the phrases, the database would count off once more how rare their words are.
  const byPhrases =
    context.phrases.pairs.length > 0 && whereOf({ ...filter, words: '' }, { ...context, rows: 'counted' });
  return (await expected(db, 'all_posts p', byPhrases || where)) < many;
}

/** How many matches are many, in an order. */
function manyFor({ words }: Filter, { pairs }: Phrases, sort: ArchiveOrder): number {
  if (pairs.length > 0) return MANY_OF_PHRASE;
  return sort.endsWith('run') && words === '' ? MANY_BY_RUN : MANY;
}

/** What a filter says of names by a key. */
function namingOf(filter: Filter, named: NamedIds, key?: FilterToken['key']): Naming {
  const tokens = filter.tokens.filter((t) => t.key === key);
  const ids = (not: boolean) =>
    tokens.filter((t) => t.not === not).flatMap((t) => named.get(nameKey(t)) ?? []);
  return {
    asked: tokens.some((t) => !t.not) ? ids(false) : null,
    ruledOut: ids(true),
  };
}

/** Keys of a filter that leave one value only of what an order goes by. */
const FIXES: Partial<Record<string, FilterToken['key']>> = {
  byline: 'byline',
  stage: 'stage',
  access: 'access',
  campaign: 'campaign',
  format: 'format',
};

/** The order within what the filter leaves: where all are alike in what it goes by, that is newest first. */
function orderWithin(filter: Filter, named: NamedIds, sort: ArchiveOrder): OrderSql {
  const key = FIXES[sort.replace('-', '')];
  const fixed = filter.tokens.filter((t) => t.key === key && !t.not);
  // Two people may have one name, and then they do not stand mixed.
  const isOne = fixed.length === 1 && (named.get(nameKey(fixed[0]!)) ?? []).length <= 1;
  return orderOf(isOne ? '-run' : sort);
}

/** Ids of the first that match, in order. Where `many` do, the order is read; else they are sorted. */
export async function firstIds(
  db: Queryable,
  person: CurrentPerson,
  query: ArchiveQuery,
  many?: number,
): Promise<number[]> {
  const filter = parseFilter(query.line ?? '');
  const context = await whereContextFor(db, person, filter);
  const sort = query.sort ?? '-run';
  const order = orderWithin(filter, context.named, sort);
  const limit = query.limit ?? FIRST;
  const rowsOf = async ({ text, values }: Sql) =>
    (await db.raw<{ rows: { id: number; n?: number }[] }>(text, values as never[])).rows;
  const idsOf = async (statement: Sql) => (await rowsOf(statement)).map((r) => r.id);

  const key = BY_NAME[sort.replace('-', '')];
  const whole = whereOf(filter, { ...context, rows: 'read' });
  if (key === 'byline') {
    const ids = await firstChangedBy(idsOf, filter, context, order, whole, limit);
    if (ids) return ids;
  }
  const enough = many ?? manyFor(filter, context.phrases, sort);
  const byPhrases = await firstHavingPhrases(db, context, filter, order, limit, enough);
  if (byPhrases) return byPhrases;
  const found = whereOf(filter, { ...context, rows: 'found' });
  const narrow = filter.tokens.length > 0 || filter.words !== '' || !seesEverything(person.role);
  const isFew = narrow && (await few(db, context, filter, found, enough));
  if (isFew) return idsOf(sorted(order, found, limit));
  if (isFew === null) {
    const rows = await rowsOf(sortedOf(enough, order, found, limit));
    if ((rows[0]?.n ?? 0) < enough) return rows.map((r) => r.id);
  }
  const naming = namingOf(filter, context.named, key);
  const rest = naming.asked ? whereOf(withoutKey(filter, key!), { ...context, rows: 'read' }) : whole;
  const ids: number[] = [];
  for (const { groups, ...stretch } of order.stretches) {
    const left = limit - ids.length;
    ids.push(
      ...(groups
        ? await firstOfGroups(idsOf, { ...stretch, groups }, rest, left, naming, person.blogId)
        : await idsOf(readPlain(stretch, whole, left))),
    );
    if (ids.length >= limit) break;
  }
  return ids;
}

/** What finds and orders all that match. */
export async function allSql(
  db: Queryable,
  person: CurrentPerson,
  { line, sort }: ArchiveQuery,
): Promise<{ where: Sql; joined: string; by: string }> {
  const filter = parseFilter(line ?? '');
  const context = await whereContextFor(db, person, filter);
  return { where: whereOf(filter, { ...context, rows: 'found' }), ...orderOf(sort ?? '-run') };
}
