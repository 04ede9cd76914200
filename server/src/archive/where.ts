import { ACCESS, type Filter, type FilterToken } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { seenSql } from '../posts/visible.js';
import type { Phrases } from './phrases.js';
import { join, sql, type Sql } from './sql.js';
import { released, within } from './where-dates.js';

/** What a filter's names stand for, looked up before: ids by `nameKey`. */
export type NamedIds = ReadonlyMap<string, readonly number[]>;

/** A name as it is looked up: with its key, in small letters. */
export const nameKey = ({ key, value }: Pick<FilterToken, 'key' | 'value'>): string =>
  `${key} ${value.toLowerCase()}`;

/** What reckons by a zone or by names gets them here. */
export interface WhereContext {
  person: CurrentPerson;
  zone: string;
  named: NamedIds;
  /** Ids of bylines that the filter rules out. */
  notBy?: readonly number[];
  phrases: Phrases;
  /**
   * How the rows are come by: `found`, all that match by whatever index has them, or `read`, in an order that is
   * given, each looked at as it comes. `gathered` is found, but what has the phrases is `having_phrases` already; and
   * `counted` is found, and said so that the database can guess how many they are.
   */
  rows: 'found' | 'read' | 'gathered' | 'counted';
}

/** A condition, with another way to say that it does not hold. */
interface Condition extends Sql {
  absent?: Sql;
}

/** Posts that another table names. Found, they are a set, or one to leave out; read, each is asked for alone. */
function among({ rows }: WhereContext, table: string, condition: string, ...values: unknown[]): Condition {
  const ofPost = `from ${table} t where t.post_id = p.id and ${condition}`;
  if (rows === 'read') return sql(`coalesce((select true ${ofPost} limit 1), false)`, ...values);
  const set = sql(`p.id in (select t.post_id from ${table} t where ${condition})`, ...values);
  return {
    ...set,
    absent: sql(`not exists (select ${ofPost})`, ...values),
  };
}

/** What is ruled out, also where it cannot be said of a post; so that the database can guess how many that leaves. */
const ruledOut = ({ text, values, absent }: Condition): Sql =>
  absent ?? sql(`(${text}) is not true`, ...values);

type NamedKey = Exclude<FilterToken['key'], 'has' | 'lacks' | 'checks' | 'released' | 'changed' | 'in'>;

const NAMED: Record<NamedKey, (value: string, ids: readonly number[], context: WhereContext) => Condition> = {
  byline: (v, ids) => (v === 'nobody' ? sql('p.byline_id is null') : sql('p.byline_id = any(?)', ids)),
  category: (v, ids) =>
    v === 'none'
      ? sql('p.category_id is null')
      : sql('(p.category_id = any(?) or p.second_category_id = any(?))', ids, ids),
  tag: (v, ids, context) =>
    v === 'none' ? sql('p.first_tag_id is null') : among(context, 'post_tags', 't.tag_id = any(?)', ids),
  format: (v, ids) => (v === 'none' ? sql('p.format_id is null') : sql('p.format_id = any(?)', ids)),
  campaign: (v) =>
    v === 'none' ? sql(`p.campaign = ''`) : sql(`(p.campaign <> '' and lower(p.campaign) = lower(?))`, v),
  'changed-by': (_, ids, context) => {
    const { notBy } = context;
    // Who changed a post is mostly who wrote it: what is ruled out by its byline need not be looked at then.
    const others =
      ' and not exists (select from all_posts o where o.byline_id = any(?) and o.id = t.post_id)';
    return among(
      context,
      'post_versions',
      `t.blog_id = ? and t.person_id = any(?)${notBy?.length ? others : ''}`,
      ...[context.person.blogId, ids, ...(notBy?.length ? [notBy] : [])],
    );
  },
  stage: (v) => sql('p.stage = lower(?)', v),
  // A word that is known stands in the text, where an index on it is met.
  access: (v) => sql(ACCESS.some((a) => a === v.toLowerCase()) ? `p.access = '${v.toLowerCase()}'` : 'false'),
  batch: (v, _, context) =>
    /^\d{1,9}$/.test(v)
      ? among(context, 'batch_items', `t.batch_id = ? and t.state = 'changes'`, Number(v))
      : sql('false'),
};

/** Where the names of a key are; people belong to several blogs. */
const NAME_TABLES: Partial<Record<FilterToken['key'], [table: string, blog: string]>> = {
  byline: ['people', ''],
  'changed-by': ['people', ''],
  category: ['categories', ' and t.blog_id = ?'],
  tag: ['tags', ' and t.blog_id = ?'],
  format: ['formats', ' and t.blog_id = ?'],
};

const PRESENT = new Map(
  Object.entries({
    picture: 'p.lead_media_id is not null',
    excerpt: `p.excerpt <> ''`,
    category: 'p.category_id is not null',
    tags: 'p.first_tag_id is not null',
    byline: 'p.byline_id is not null',
    address: 'p.slug is not null',
    'run-time': 'p.run_at is not null',
    text: 'p.words > 0',
    format: 'p.format_id is not null',
    'search-description': `p.search_description <> ''`,
    spotlight: 'p.spotlight_until is not null',
    comments: 'p.comments',
  }),
);

function present(word: string): Sql {
  // So few that they are looked up first: then an index finds them beside what else is asked for.
  if (word === 'notes')
    return sql(
      'p.id = any(array(select t.post_id from notes t where t.parent_id is null and t.settled_at is null))',
    );
  return sql(PRESENT.get(word) ?? 'null');
}

function conditionOf({ key, value }: FilterToken, context: WhereContext): Condition {
  const word = value.toLowerCase();
  switch (key) {
    case 'has':
      return present(word);
    case 'lacks':
      return join([sql('not ('), present(word), sql(')')], '');
    case 'checks':
      return word === 'blocking'
        ? sql('p.check_blocks > 0')
        : word === 'warning'
          ? sql('p.check_warns > 0')
          : word === 'fine'
            ? sql('p.check_blocks * 1000 + p.check_warns = 0')
            : sql('p.check_failing @> array[?]::text[]', word);
    case 'released':
      return released(value);
    case 'changed':
      return within('p.updated_at', value, (day) => sql('?::timestamp at time zone ?', day, context.zone));
    case 'in':
      return sql('true');
    default:
      return NAMED[key](value, context.named.get(nameKey({ key, value })) ?? [], context);
  }
}

/** Ids of posts with these phrases, and a few more: by chance, or whose pairs are not made yet. */
export const idsHavingPhrases = ({ pairs, without }: Phrases): Sql =>
  sql(
    `
      select w.post_id from word_pairs w
      where w.pairs @> array[${pairs.map(() => 'hashtext(?)').join(', ')}] ${without ? 'and w.words @@ ?::tsquery' : ''}
      union all
      select w.post_id from word_pairs w where w.pairs is null
    `,
    ...pairs,
    ...(without ? [without] : []),
  );

function havingPhrases(phrases: Phrases, rows: WhereContext['rows']): Sql {
  if (rows === 'gathered') return sql('p.id = any(array(select post_id from having_phrases))');
  const having = idsHavingPhrases(phrases);
  // Gathered first, their posts are fetched in one go: half the time of a join, which is guessed better.
  return rows === 'counted'
    ? sql(`p.id in (${having.text})`, ...having.values)
    : sql(`p.id = any(array(${having.text}))`, ...having.values);
}

const inBin = (filter: Filter) =>
  filter.tokens.some((t) => t.key === 'in' && !t.not && t.value.toLowerCase() === 'bin');

/** Looks up what a filter names, each kind of name once. */
export async function namedIds(db: Queryable, blogId: number, filter: Filter): Promise<NamedIds> {
  const parts = filter.tokens.flatMap(({ key, value }) => {
    const table = NAME_TABLES[key];
    return table
      ? [
          sql(
            `select ? as key, id from ${table[0]} t where lower(t.name) = ?${table[1]}`,
            nameKey({ key, value }),
            value.toLowerCase(),
            ...(table[1] === '' ? [] : [blogId]),
          ),
        ]
      : [];
  });
  const named = new Map<string, number[]>();
  if (parts.length === 0) return named;
  const { text, values } = join(parts, ' union ');
  const { rows } = await db.raw<{ rows: { key: string; id: number }[] }>(text, values as never[]);
  for (const { key, id } of rows) named.set(key, [...(named.get(key) ?? []), id]);
  return named;
}

const OPPOSITES: Partial<Record<FilterToken['key'], FilterToken['key']>> = { has: 'lacks', lacks: 'has' };

/** Whether another token says the opposite: the same ruled out, or the only thing to lack is what is to be had. */
function isRuledOut({ key, value }: FilterToken, { tokens }: Filter): boolean {
  const isSame = (t: FilterToken) => t.value.toLowerCase() === value.toLowerCase();
  const opposite = tokens.filter((t) => t.key === OPPOSITES[key] && !t.not);
  return (
    tokens.some((t) => t.not && t.key === key && isSame(t)) || (opposite.length === 1 && isSame(opposite[0]!))
  );
}

/**
 * The posts that match: tokens of one key are alternatives, all else holds together. What lies in the bin is
 * found only there.
 */
export function whereOf(filter: Filter, context: WhereContext): Sql {
  const { person } = context;
  const parts: Sql[] = [
    sql('p.blog_id = ?', person.blogId),
    sql(`p.binned_at is ${inBin(filter) ? 'not ' : ''}null`),
    seenSql(person, 'p'),
  ];
  const notBy =
    context.rows !== 'read'
      ? filter.tokens
          .filter((t) => t.key === 'byline' && t.not)
          .flatMap((t) => context.named.get(nameKey(t)) ?? [])
      : [];
  const groups = new Map<string, Sql[]>();
  for (const token of filter.tokens) {
    if (token.key === 'in') continue;
    const condition = conditionOf(token, { ...context, notBy });
    if (token.not) parts.push(ruledOut(condition));
    else
      groups.set(token.key, [
        ...(groups.get(token.key) ?? []),
        // What is asked for and ruled out at once is no alternative; said plainly, no row is looked at for it.
        isRuledOut(token, filter) ? sql('false') : condition,
      ]);
  }
  for (const group of groups.values())
    parts.push(
      join(
        [
          sql('('),
          join(
            group.map((g) => join([sql('('), g, sql(')')], '')),
            ' or ',
          ),
          sql(')'),
        ],
        '',
      ),
    );
  const byPhrases = context.phrases.pairs.length > 0 && context.rows !== 'read';
  if (byPhrases) parts.push(havingPhrases(context.phrases, context.rows));
  if (filter.words !== '') {
    // By the pairs and not by the words: said so, since the database would take the index on these, which has far more.
    const text = `p.search @@ websearch_to_tsquery('english', ?)`;
    parts.push(sql(byPhrases ? `(${text}) is true` : text, filter.words));
  }
  return join(parts, ' and ');
}
