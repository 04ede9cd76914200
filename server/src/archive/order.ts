import { ARCHIVE_TEXTS, type ArchiveOrder, type ArchiveSort, type ArchiveText } from '@keyroster/contract';
import { ACCESS, STAGES } from '@keyroster/core';
import { textColumn } from '../posts/columns.js';

type Way = 'asc' | 'desc';

/**
 * An order of posts, in two shapes that say the same.
 * - `joined` and `by`: one join and one ORDER BY, for sorting what a filter has found.
 * - `stretches`: what an index already holds in order, one stretch after the other, for reading the first rows of
 *   many without sorting them.
 */
export interface OrderSql {
  joined: string;
  by: string;
  stretches: Stretch[];
}

/**
 * Posts that match `where`, ordered by `by`. With `groups`, by the names of a table, `g.key` of `g.id`, and the
 * posts that belong to each.
 */
export interface Stretch {
  by: string;
  where?: string;
  groups?: Groups;
}
/** Which posts belong to a group `g`, as conditions. */
export interface Groups {
  table: string;
  way: Way;
  all: string;
  /**
   * The same where a filter asks for some of the names, an array in SQL: one part for the group itself, one for other
   * groups whose posts are of the name as well. Which of them counts is known before a post is looked at.
   */
  asked: (ids: string) => string[];
}

/** Within what is alike: newest first, then what is not dated yet. */
export const NEWEST = 'p.run_at desc nulls last, p.id desc';
const FINDINGS = 'p.check_blocks * 1000 + p.check_warns';

const column =
  (name: string) =>
  (way: Way): OrderSql => {
    const by = `${name} ${way}, p.id ${way}`;
    return { joined: '', by, stretches: [{ by }] };
  };

/**
 * A column that may be empty: what is empty comes last, either way. Where it stands in the index says how the index
 * is read.
 */
const optional =
  (name: string, indexed: { asc: string; desc: string }) =>
  (way: Way): OrderSql => ({
    joined: '',
    by: `${name} ${way} nulls last, p.id ${way}`,
    stretches: [
      { where: `${name} is not null`, by: `${name} ${way} ${indexed[way]}, p.id ${way}` },
      { where: `${name} is null`, by: `p.id ${way}` },
    ],
  });

/** A few values that are known, in the order in which they are given. */
const values =
  (name: string, known: readonly string[]) =>
  (way: Way): OrderSql => {
    const ordered = way === 'asc' ? known : [...known].reverse();
    return {
      joined: '',
      by: `array_position(array[${known.join(', ')}], ${name}) ${way}, ${NEWEST}`,
      stretches: ordered.map((value) => ({ where: `${name} = ${value}`, by: NEWEST })),
    };
  };

/** By the name of what a post belongs to; what belongs to nothing comes last. */
const named =
  (table: string, reference: string, asked: Groups['asked']) =>
  (way: Way): OrderSql => ({
    joined: `left join ${table} s on s.id = p.${reference}`,
    by: `lower(s.name) ${way} nulls last, s.id ${way}, ${NEWEST}`,
    stretches: [
      { groups: { table, way, all: `p.${reference} = g.id`, asked }, by: NEWEST },
      { where: `p.${reference} is null`, by: NEWEST },
    ],
  });

/** The same where a post belongs to one, or to a second one as well. */
const namedOnce = (table: string, reference: string, second?: string) =>
  named(table, reference, (ids) => [
    `p.${reference} = g.id and g.id = any(${ids})`,
    ...(second ? [`p.${reference} = g.id and not g.id = any(${ids}) and p.${second} = any(${ids})`] : []),
  ]);

/**
 * By the first of a post's tags or, downwards, by the last of them. A post may have other tags as well: those of a
 * group that are also of the asked ones are found among the tags, before a post is looked at.
 */
function tags(way: Way): OrderSql {
  const reference = way === 'asc' ? 'first_tag_id' : 'last_tag_id';
  const asked: Groups['asked'] = (ids) => [
    `p.${reference} = g.id and g.id = any(${ids})`,
    `
      p.${reference} = g.id and not g.id = any(${ids}) and p.id in (
        select t.post_id from post_tags t
        where t.tag_id = g.id and exists (select from post_tags w where w.post_id = t.post_id and w.tag_id = any(${ids}))
        offset 0
      )`,
  ];
  return named('tags', reference, asked)(way);
}

/** A field of text; posts where it is empty come last. */
const textField =
  (field: ArchiveText) =>
  (way: Way): OrderSql => {
    const column = `p.${textColumn(field)}`;
    return {
      joined: '',
      by: `nullif(lower(${column}), '') ${way} nulls last, ${NEWEST}`,
      stretches: [
        { where: `${column} <> ''`, by: `lower(${column}) ${way}, ${NEWEST}` },
        { where: `${column} = ''`, by: NEWEST },
      ],
    };
  };

function checks(way: Way): OrderSql {
  const found = { where: `${FINDINGS} > 0`, by: `${FINDINGS} ${way}, ${NEWEST}` };
  const fine = { where: `${FINDINGS} = 0`, by: NEWEST };
  return {
    joined: '',
    by: `${FINDINGS} ${way}, ${NEWEST}`,
    stretches: way === 'asc' ? [fine, found] : [found, fine],
  };
}

const SORTS: Record<ArchiveSort, (way: Way) => OrderSql> = {
  ...(Object.fromEntries(ARCHIVE_TEXTS.map((f) => [f, textField(f)])) as Record<
    ArchiveText,
    (way: Way) => OrderSql
  >),
  title: column('lower(p.title)'),
  byline: namedOnce('people', 'byline_id'),
  category: namedOnce('categories', 'category_id', 'second_category_id'),
  tags,
  run: optional('p.run_at', { asc: 'nulls first', desc: 'nulls last' }),
  stage: values(
    'p.stage',
    STAGES.map((stage) => `'${stage}'`),
  ),
  words: column('p.words'),
  changed: column('p.updated_at'),
  made: column('p.created_at'),
  slug: optional('p.slug', { asc: 'nulls last', desc: 'nulls first' }),
  access: values(
    'p.access',
    ACCESS.map((access) => `'${access}'`),
  ),
  comments: values('p.comments', ['false', 'true']),
  format: namedOnce('formats', 'format_id'),
  checks,
};

export function orderOf(order: ArchiveOrder): OrderSql {
  const down = order.startsWith('-');
  return SORTS[(down ? order.slice(1) : order) as ArchiveSort](down ? 'desc' : 'asc');
}
