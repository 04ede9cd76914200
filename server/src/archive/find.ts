import { stringify } from 'csv-stringify/sync';
import type { ArchiveCounts, ArchiveIds, ArchiveOrder, ArchiveQuery, ArchiveRow, ArchiveRows, ArchiveSort, FoundPlace, PickedRows, PickQuery } from '@keyroster/contract';
import { parseFilter, spanOf, type Filter, type FilterToken, type Spotlight, type Stage } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../accounts/who.js';
import type { Reader } from '../db/connect.js';

/** A piece of SQL and what it is filled with. */
interface Sql { text: string; values: unknown[] }
const sql = (text: string, ...values: unknown[]): Sql => ({ text, values });
const join = (parts: readonly Sql[], by: string): Sql => ({ text: parts.map((p) => p.text).join(by), values: parts.flatMap((p) => p.values) });

const NAMED: Partial<Record<FilterToken['key'], (value: string) => Sql>> = {
  byline: (v) => (v === 'nobody' ? sql('p.byline_id is null') : sql('p.byline_id in (select id from people where lower(name) = lower(?))', v)),
  category: (v) => (v === 'none' ? sql('p.category_id is null') : sql('(p.category_id = any(array(select id from categories where lower(name) = lower(?))) or p.second_category_id = any(array(select id from categories where lower(name) = lower(?))))', v, v)),
  tag: (v) => (v === 'none' ? sql('not exists (select 1 from post_tags t where t.post_id = p.id)') : sql('p.id in (select t.post_id from post_tags t join tags on tags.id = t.tag_id where lower(tags.name) = lower(?))', v)),
  format: (v) => (v === 'none' ? sql('p.format_id is null') : sql('p.format_id in (select id from formats where lower(name) = lower(?))', v)),
  campaign: (v) => (v === 'none' ? sql(`p.campaign = ''`) : sql('lower(p.campaign) = lower(?)', v)),
  'changed-by': (v) => sql('p.id in (select v.post_id from post_versions v join people on people.id = v.person_id where lower(people.name) = lower(?))', v),
  stage: (v) => sql('p.stage = lower(?)', v),
  access: (v) => sql('p.access = lower(?)', v),
  batch: (v) => (/^\d{1,9}$/.test(v) ? sql(`p.id in (select post_id from batch_items where batch_id = ? and state = 'changes')`, Number(v)) : sql('false')),
};

const PRESENT: Record<string, string> = {
  picture: 'p.lead_media_id is not null', excerpt: `p.excerpt <> ''`, category: 'p.category_id is not null', tags: 'exists (select 1 from post_tags t where t.post_id = p.id)', byline: 'p.byline_id is not null',
  address: 'p.address is not null', 'run-time': 'p.run_at is not null', text: 'p.words > 0', format: 'p.format_id is not null', 'search-description': `p.search_description <> ''`,
  spotlight: 'p.spotlight_until is not null', comments: 'p.comments', notes: 'exists (select 1 from notes n where n.post_id = p.id and n.parent_id is null and n.settled_at is null)',
};

function conditionOf({ key, value }: FilterToken, zone: string): Sql {
  const word = value.toLowerCase();
  switch (key) {
    case 'has': return sql(PRESENT[word] ?? 'false');
    case 'lacks': return sql(PRESENT[word] ? `not (${PRESENT[word]})` : 'false');
    case 'checks': return word === 'blocking' ? sql('p.check_blocks > 0') : word === 'warning' ? sql('p.check_warns > 0') : word === 'fine' ? sql('p.check_blocks + p.check_warns = 0') : sql('p.check_failing @> array[?]::text[]', word);
    case 'released': case 'changed': {
      const span = spanOf(value);
      if (!span) return sql('false');
      const at = (day: string) => (key === 'released' ? sql('?::timestamp', day) : sql('?::timestamp at time zone ?', day, zone));
      const column = key === 'released' ? 'p.run_local' : 'p.updated_at';
      return join([...(span.from ? [join([sql(`${column} >= `), at(span.from)], '')] : []), ...(span.until ? [join([sql(`${column} < `), at(span.until)], '')] : [])], ' and ');
    }
    case 'in': return sql('true');
    default: return NAMED[key]!(value);
  }
}

const inBin = (filter: Filter) => filter.tokens.some((t) => t.key === 'in' && !t.not && t.value.toLowerCase() === 'bin');

/** The posts that match: tokens of one key are alternatives, all else holds together. What lies in the bin is found only there. */
export function whereOf(filter: Filter, person: CurrentPerson, zone: string): Sql {
  const parts: Sql[] = [sql('p.blog_id = ?', person.blogId), sql(`p.binned_at is ${inBin(filter) ? 'not ' : ''}null`)];
  // The same as onlyVisible in posts.
  if (person.role === 'proofreader') parts.push(sql(`(p.proofreader_id = ? or p.stage = 'published')`, person.id));
  const groups = new Map<string, Sql[]>();
  for (const token of filter.tokens) {
    if (token.key === 'in') continue;
    const condition = conditionOf(token, zone);
    if (token.not) parts.push(join([sql('not coalesce(('), condition, sql('), false)')], ''));
    else groups.set(token.key, [...(groups.get(token.key) ?? []), condition]);
  }
  for (const group of groups.values()) parts.push(join([sql('('), join(group.map((g) => join([sql('('), g, sql(')')], '')), ' or '), sql(')')], ''));
  if (filter.words !== '') parts.push(sql(`p.search @@ websearch_to_tsquery('english', ?)`, filter.words));
  return join(parts, ' and ');
}

const SORTS: Record<ArchiveSort, string> = {
  title: 'lower(p.title)', byline: 'lower(s.name)', category: 'lower(s.name)',
  tags: '(select min(lower(tags.name)) from post_tags t join tags on tags.id = t.tag_id where t.post_id = p.id)', run: 'p.run_at',
  stage: `array_position(array['pitch','commissioned','drafting','in review','cleared','scheduled','published','withdrawn'], p.stage)`, words: 'p.words', changed: 'p.updated_at', made: 'p.created_at', address: 'p.address',
  access: 'p.access', comments: 'p.comments', campaign: `nullif(lower(p.campaign), '')`, format: 'lower(s.name)', checks: 'p.check_blocks * 1000 + p.check_warns',
};
/** Orders by a name join it: looked up row by row, it takes four times as long over 100,000. */
const JOINS: Partial<Record<ArchiveSort, string>> = { byline: 'left join people s on s.id = p.byline_id', category: 'left join categories s on s.id = p.category_id', format: 'left join formats s on s.id = p.format_id' };
/** Columns that are never empty need no rule for where the empty ones stand, and so meet their index. */
const NEVER_EMPTY = new Set<ArchiveSort>(['title', 'words', 'changed', 'made', 'stage', 'access', 'comments', 'checks']);

/** What a sort joins, and what it orders by. */
function orderOf(order: ArchiveOrder): { joined: string; by: string } {
  const down = order.startsWith('-');
  const by = (down ? order.slice(1) : order) as ArchiveSort;
  const way = down ? 'desc' : 'asc';
  return { joined: JOINS[by] ?? '', by: `${SORTS[by]} ${way}${NEVER_EMPTY.has(by) ? '' : ' nulls last'}, p.id ${way}` };
}

const COLUMNS = `p.id, p.version, p.stage, p.title, p.excerpt, p.address, p.category_id as "categoryId", p.second_category_id as "secondCategoryId", p.byline_id, (select name from people where id = p.byline_id) as byline_name,
  array(select tags.name from post_tags t join tags on tags.id = t.tag_id where t.post_id = p.id order by 1) as tags, p.format_id as "formatId", p.run_local as "runLocal", p.words, p.access, p.comments, p.campaign,
  p.spotlight_from, p.spotlight_until, p.check_blocks, p.check_warns, p.created_at as "createdAt", p.updated_at as "updatedAt", p.binned_at as "binnedAt"`;

interface Found extends Omit<ArchiveRow, 'byline' | 'spotlight' | 'checks'> { byline_id: number | null; byline_name: string | null; spotlight_from: string | null; spotlight_until: string | null; check_blocks: number; check_warns: number }

function rowOf({ byline_id, byline_name, spotlight_from, spotlight_until, check_blocks, check_warns, ...row }: Found): ArchiveRow {
  return {
    ...row, byline: byline_id === null ? null : personRef({ id: byline_id, name: byline_name ?? '' }), spotlight: spotlight_from === null ? null : ({ from: spotlight_from, until: spotlight_until! } satisfies Spotlight),
    checks: { blocks: check_blocks, warns: check_warns },
  };
}

/** The blog's zone, asked for only where a filter reckons by it: the quickest filters take less time than asking. */
const zoneFor = async (db: Reader, blogId: number, { line }: ArchiveQuery) => (parseFilter(line ?? '').tokens.some((t) => t.key === 'changed') ? (await db('blogs').where({ id: blogId }).first<{ zone: string }>('zone'))!.zone : 'UTC');

/** The SQL of the first rows, for the table and for whoever measures it. Posts are found and put in order first; only the few that are shown are read. */
export function rowsSql(query: ArchiveQuery, person: CurrentPerson, zone: string): Sql {
  const where = whereOf(parseFilter(query.line ?? ''), person, zone);
  const { joined, by } = orderOf(query.sort ?? '-run');
  return { text: `with page as materialized (select p.id, row_number() over () as at from (select p.id from all_posts p ${joined} where ${where.text} order by ${by} limit ${Number(query.limit ?? 60)}) p)
    select ${COLUMNS} from page join all_posts p on p.id = page.id order by page.at`, values: where.values };
}

export async function archiveRows(db: Reader, person: CurrentPerson, query: ArchiveQuery): Promise<ArchiveRows> {
  const { text, values } = rowsSql(query, person, await zoneFor(db, person.blogId, query));
  const { rows } = await db.raw<{ rows: Found[] }>(text, values as never[]);
  return { rows: rows.map(rowOf) };
}

/** Ids of all that match, in order, as JSON that PostgreSQL has written: a hundred thousand rows are not made into objects first. */
export async function archiveIds(db: Reader, person: CurrentPerson, query: ArchiveQuery): Promise<string> {
  const where = whereOf(parseFilter(query.line ?? ''), person, await zoneFor(db, person.blogId, query));
  const { joined, by } = orderOf(query.sort ?? '-run');
  const { rows } = await db.raw<{ rows: { ids: string }[] }>(
    `select coalesce(string_agg(id::text, ',' order by at), '') as ids from (select p.id, row_number() over (order by ${by}) as at from all_posts p ${joined} where ${where.text}) f`, where.values as never[]);
  return `{"ids":[${rows[0]!.ids}]}`;
}

/** The same as a list. */
export async function matchingIds(db: Reader, person: CurrentPerson, query: ArchiveQuery): Promise<number[]> {
  return (JSON.parse(await archiveIds(db, person, query)) as ArchiveIds).ids;
}

export async function archiveCounts(db: Reader, person: CurrentPerson, query: ArchiveQuery): Promise<ArchiveCounts> {
  const where = whereOf(parseFilter(query.line ?? ''), person, await zoneFor(db, person.blogId, query));
  const [{ rows }, bin] = await Promise.all([
    db.raw<{ rows: { stage: Stage; n: number }[] }>(`select p.stage, count(*)::int as n from all_posts p where ${where.text} group by p.stage`, where.values as never[]),
    db('all_posts').where({ blog_id: person.blogId }).whereNotNull('binned_at').count<{ count: string }[]>('id as count'),
  ]);
  return { total: rows.reduce((sum, r) => sum + r.n, 0), stages: Object.fromEntries(rows.map((r) => [r.stage, r.n])), bin: Number(bin[0]!.count) };
}

/** Rows by id, those that are visible, in the order they were asked for; with words, the places where they were found. */
export async function pickRows(db: Reader, person: CurrentPerson, { ids, words }: PickQuery): Promise<PickedRows> {
  const visible = person.role === 'proofreader' ? sql(`and (p.proofreader_id = ? or p.stage = 'published')`, person.id) : sql('');
  const { rows } = await db.raw<{ rows: Found[] }>(`select ${COLUMNS} from unnest(?::int[]) with ordinality as w(id, at) join all_posts p on p.id = w.id where p.blog_id = ? ${visible.text} order by w.at`, [ids, person.blogId, ...visible.values] as never[]);
  return { rows: rows.map(rowOf), places: words ? await placesOf(db, rows.map((r) => r.id), words) : [] };
}

const [OPEN, CLOSE] = ['\u0002', '\u0003'];

/** The stretch of text around the words that were found, for a few posts: making it costs more than finding them. */
async function placesOf(db: Reader, ids: readonly number[], words: string): Promise<FoundPlace[]> {
  const { rows } = await db.raw<{ rows: { id: number; text: string }[] }>(
    `select p.id, ts_headline('english', left(p.excerpt || E'\\n' || p.body_text, 20000), q, ?) as text from all_posts p, websearch_to_tsquery('english', ?) q where p.id = any(?)`,
    [`StartSel=${OPEN}, StopSel=${CLOSE}, MaxFragments=1, MaxWords=24, MinWords=10`, words, [...ids]]);
  return rows.flatMap(({ id, text }) => {
    const marks: [number, number][] = [];
    let plain = '';
    for (const piece of text.replace(/\s+/g, ' ').split(/(?=[\u0002\u0003])/)) { // eslint-disable-line no-control-regex -- the two signs that the database puts around what it found
      if (piece.startsWith(OPEN!)) marks.push([plain.length, plain.length + piece.length - 1]);
      plain += piece.replace(/^[\u0002\u0003]/, ''); // eslint-disable-line no-control-regex
    }
    return marks.length > 0 ? [{ postId: id, text: plain, marks }] : [];
  });
}

/** The table as CSV (RFC 4180), all that matches, in its order. */
export async function archiveCsv(db: Reader, person: CurrentPerson, query: ArchiveQuery): Promise<string> {
  const zone = await zoneFor(db, person.blogId, query);
  const where = whereOf(parseFilter(query.line ?? ''), person, zone);
  const { joined, by } = orderOf(query.sort ?? '-run');
  const { rows } = await db.raw<{ rows: (Found & { category: string | null; format: string | null })[] }>(
    `select ${COLUMNS}, (select name from categories where id = p.category_id) as category, (select name from formats where id = p.format_id) as format from all_posts p ${joined} where ${where.text} order by ${by}`, where.values as never[]);
  // A cell that a spreadsheet would take for a formula is kept from being one.
  const safe = (text: string | null) => (text && /^[=+\-@\t\r]/.test(text) ? `'${text}` : text ?? '');
  return stringify(rows.map((r) => [r.id, safe(r.title), safe(r.byline_name), safe(r.category), safe(r.tags.join('; ')), r.runLocal?.replace('T', ' ') ?? '', r.stage, r.words, r.address ?? '', r.access, r.comments ? 'open' : 'closed', safe(r.campaign), safe(r.format), safe(r.excerpt)]), {
    header: true, bom: true, record_delimiter: 'windows', columns: ['number', 'title', 'byline', 'category', 'tags', 'run time', 'stage', 'words', 'address', 'access', 'comments', 'campaign', 'format', 'excerpt'],
  });
}
