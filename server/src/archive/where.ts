import { spanOf, type Filter, type FilterToken } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import { seenSql } from '../posts/visible.js';

/** A piece of SQL and what it is filled with. */
export interface Sql {
  text: string;
  values: unknown[];
}

export const sql = (text: string, ...values: unknown[]): Sql => ({ text, values });

export const join = (parts: readonly Sql[], by: string): Sql => ({
  text: parts.map((p) => p.text).join(by),
  values: parts.flatMap((p) => p.values),
});

const NAMED: Partial<Record<FilterToken['key'], (value: string) => Sql>> = {
  byline: (v) =>
    v === 'nobody'
      ? sql('p.byline_id is null')
      : sql('p.byline_id in (select id from people where lower(name) = lower(?))', v),
  category: (v) =>
    v === 'none'
      ? sql('p.category_id is null')
      : sql(
          '(p.category_id = any(array(select id from categories where lower(name) = lower(?))) ' +
            'or p.second_category_id = any(array(select id from categories where lower(name) = ' +
            'lower(?))))',
          v,
          v,
        ),
  tag: (v) =>
    v === 'none'
      ? sql('not exists (select 1 from post_tags t where t.post_id = p.id)')
      : sql(
          'p.id in (select t.post_id from post_tags t join tags on tags.id = t.tag_id where ' +
            'lower(tags.name) = lower(?))',
          v,
        ),
  format: (v) =>
    v === 'none'
      ? sql('p.format_id is null')
      : sql('p.format_id in (select id from formats where lower(name) = lower(?))', v),
  campaign: (v) => (v === 'none' ? sql(`p.campaign = ''`) : sql('lower(p.campaign) = lower(?)', v)),
  'changed-by': (v) =>
    sql(
      'p.id in (select v.post_id from post_versions v join people on people.id = ' +
        'v.person_id where lower(people.name) = lower(?))',
      v,
    ),
  stage: (v) => sql('p.stage = lower(?)', v),
  access: (v) => sql('p.access = lower(?)', v),
  batch: (v) =>
    /^\d{1,9}$/.test(v)
      ? sql(`p.id in (select post_id from batch_items where batch_id = ? and state = 'changes')`, Number(v))
      : sql('false'),
};

const PRESENT = new Map(
  Object.entries({
    picture: 'p.lead_media_id is not null',
    excerpt: `p.excerpt <> ''`,
    category: 'p.category_id is not null',
    tags: 'exists (select 1 from post_tags t where t.post_id = p.id)',
    byline: 'p.byline_id is not null',
    address: 'p.slug is not null',
    'run-time': 'p.run_at is not null',
    text: 'p.words > 0',
    format: 'p.format_id is not null',
    'search-description': `p.search_description <> ''`,
    spotlight: 'p.spotlight_until is not null',
    comments: 'p.comments',
    notes:
      'exists (select 1 from notes n where n.post_id = p.id and n.parent_id is null and n.settled_at is null)',
  }),
);

function conditionOf({ key, value }: FilterToken, zone: string): Sql {
  const word = value.toLowerCase();
  switch (key) {
    case 'has':
      return sql(PRESENT.get(word) ?? 'false');
    case 'lacks':
      return sql(PRESENT.has(word) ? `not (${PRESENT.get(word)})` : 'false');
    case 'checks':
      return word === 'blocking'
        ? sql('p.check_blocks > 0')
        : word === 'warning'
          ? sql('p.check_warns > 0')
          : word === 'fine'
            ? sql('p.check_blocks + p.check_warns = 0')
            : sql('p.check_failing @> array[?]::text[]', word);
    case 'released':
    case 'changed': {
      const span = spanOf(value);
      if (!span) return sql('false');
      const at = (day: string) =>
        key === 'released' ? sql('?::timestamp', day) : sql('?::timestamp at time zone ?', day, zone);
      const column = key === 'released' ? 'p.run_local' : 'p.updated_at';
      return join(
        [
          ...(span.from ? [join([sql(`${column} >= `), at(span.from)], '')] : []),
          ...(span.until ? [join([sql(`${column} < `), at(span.until)], '')] : []),
        ],
        ' and ',
      );
    }
    case 'in':
      return sql('true');
    default:
      return NAMED[key]!(value);
  }
}

const inBin = (filter: Filter) =>
  filter.tokens.some((t) => t.key === 'in' && !t.not && t.value.toLowerCase() === 'bin');

/**
 * The posts that match: tokens of one key are alternatives, all else holds together. What lies in the bin is
 * found only there.
 */
export function whereOf(filter: Filter, person: CurrentPerson, zone: string): Sql {
  const parts: Sql[] = [
    sql('p.blog_id = ?', person.blogId),
    sql(`p.binned_at is ${inBin(filter) ? 'not ' : ''}null`),
  ];
  parts.push(seenSql(person, 'p'));
  const groups = new Map<string, Sql[]>();
  for (const token of filter.tokens) {
    if (token.key === 'in') continue;
    const condition = conditionOf(token, zone);
    if (token.not) parts.push(join([sql('not coalesce(('), condition, sql('), false)')], ''));
    else groups.set(token.key, [...(groups.get(token.key) ?? []), condition]);
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
  if (filter.words !== '') parts.push(sql(`p.search @@ websearch_to_tsquery('english', ?)`, filter.words));
  return join(parts, ' and ');
}
