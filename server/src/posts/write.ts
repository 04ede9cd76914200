import { bodyText, type Edited, type Post, type PostField } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import { columnsOf, COLUMN_FIELDS, LIGHT_COLUMNS, written, type ColumnField } from './columns.js';
import { carryOut, type Written } from './effects.js';
import { loadPosts } from './store.js';

/** Posts written in one statement; texts are heavy, so fewer of them. */
const CHUNK = 2000;
const TEXT_CHUNK = 100;

export interface PostWrite {
  before: Post;
  edited: Edited;
}

/**
 * The only way a row of posts changes: counts the version up, keeps the new version, and has the effects carried
 * out. The caller holds the rows' locks and has the edits from core. What changes nothing is not written.
 * Returns the versions that stand then, in the order given; throws when a row is not as it was seen.
 */
export async function writePosts(
  trx: Trx,
  blogId: number,
  writes: readonly PostWrite[],
  personId: number | null,
  /** With `silent`, the caller notifies everybody itself. */
  options: { silent?: boolean } = {},
): Promise<number[]> {
  const rows = writes
    .filter((w) => w.edited.changed.length > 0)
    .map(({ before, edited }): Written => {
      const after = { ...edited.post, version: before.version + 1 };
      return { blogId, before, after, changed: edited.changed, personId, effects: edited.effects };
    });
  for (const chunk of chunksOf(rows)) {
    // Rows that change in the same fields are written by the same statements.
    for (const [changed, group] of byFields(chunk)) await writeAlike(trx, group, changed, personId);
    await carryOut(trx, chunk, options);
  }
  return writes.map((w) => w.before.version + (w.edited.changed.length > 0 ? 1 : 0));
}

function* chunksOf(rows: readonly Written[]): Generator<Written[]> {
  const size = rows.some((r) => r.changed.includes('body') || r.changed.includes('suggested'))
    ? TEXT_CHUNK
    : CHUNK;
  for (let at = 0; at < rows.length; at += size) yield rows.slice(at, at + size);
}

function byFields(rows: readonly Written[]): Map<readonly PostField[], Written[]> {
  const groups = new Map<string, [readonly PostField[], Written[]]>();
  for (const row of rows) {
    const key = row.changed.join();
    const group = groups.get(key);
    if (group) group[1].push(row);
    else groups.set(key, [row.changed, [row]]);
  }
  return new Map(groups.values());
}

async function writeAlike(
  trx: Trx,
  rows: readonly Written[],
  changed: readonly PostField[],
  personId: number | null,
): Promise<void> {
  const fields = COLUMN_FIELDS.filter((f) => changed.includes(f));
  await writeColumns(trx, rows, fields, changed, personId);
  if (changed.includes('tagIds')) await writeJoined(trx, rows, 'post_tags', 'tag_id', 'tagIds');
  if (changed.includes('coauthorIds'))
    await writeJoined(trx, rows, 'post_coauthors', 'person_id', 'coauthorIds');
  await storeVersions(
    trx,
    rows.map((r) => r.after.id),
    changed,
    personId,
  );
}

const TAG_ENDS = `(
  select
    (array_agg(t.id order by lower(t.name)))[1],
    (array_agg(t.id order by lower(t.name) desc))[1]
  from
    tags t
  where
    t.id = any (w.tag_ids)
)`;

async function writeColumns(
  trx: Trx,
  rows: readonly Written[],
  fields: readonly ColumnField[],
  changed: readonly PostField[],
  personId: number | null,
): Promise<void> {
  const withText = fields.includes('body');
  const columns = [
    ...fields.flatMap(columnsOf),
    ...(withText ? [['body_text', 'text'] as const] : []),
    ...(changed.includes('binned') ? [['binned', 'boolean'] as const] : []),
    ...(changed.includes('tagIds') ? [['tag_ids', 'int[]'] as const] : []),
  ];
  const values = rows.map(({ before, after }) => ({
    id: after.id,
    version: before.version,
    ...Object.assign({}, ...fields.map((f) => written(f, after[f] as never))),
    ...(withText ? { body_text: bodyText(after.body!) } : {}),
    ...(changed.includes('binned') ? { binned: after.binned } : {}),
    ...(changed.includes('tagIds') ? { tag_ids: after.tagIds } : {}),
  }));
  const sets = [
    ...columns
      .filter(([name]) => name !== 'binned' && name !== 'tag_ids')
      .map(([name]) => `${name} = w.${name}`),
    ...(changed.includes('binned')
      ? [
          'binned_at = case when w.binned then clock_timestamp() end',
          `binned_by = case when w.binned then ?::int end`,
        ]
      : []),
    // With the row, so that the database has nothing left to keep when the tags follow.
    ...(changed.includes('tagIds') ? [`(first_tag_id, last_tag_id) = ${TAG_ENDS}`] : []),
    ...(rows[0]!.effects.some((e) => e.kind === 'checks') ? ['measured_version = null'] : []),
  ];
  const { rowCount } = await trx.raw<{ rowCount: number }>(
    `
      update all_posts p
      set
        ${[...sets, 'version = p.version + 1', 'updated_at = clock_timestamp()'].join(', ')}
      from
        jsonb_to_recordset(?::jsonb) as w (id int, version int ${columns.map(([n, t]) => `, ${n} ${t}`).join('')})
      where
        p.id = w.id
        and p.version = w.version
    `,
    [...(changed.includes('binned') ? [personId] : []), JSON.stringify(values)],
  );
  if (rowCount !== rows.length) throw new Error(`${rows.length - rowCount} posts are not as they were seen.`);
}

/** Tags and co-authors, each in a table of its own: what is there no more goes, what is new comes. */
async function writeJoined(
  trx: Trx,
  rows: readonly Written[],
  table: string,
  column: string,
  field: 'tagIds' | 'coauthorIds',
): Promise<void> {
  const wanted = JSON.stringify(
    rows.map(({ blogId, after }) => ({ blog_id: blogId, post_id: after.id, ids: after[field] })),
  );
  await trx.raw(
    `
      with
        wanted as (select * from jsonb_to_recordset(?::jsonb) as w (blog_id int, post_id int, ids jsonb)),
        gone as (
          delete from ${table} t using wanted w
          where
            t.post_id = w.post_id
            and not w.ids @> to_jsonb(t.${column})
        )
      insert into
        ${table} (blog_id, post_id, ${column})
      select
        w.blog_id,
        w.post_id,
        n.id::int
      from
        wanted w,
        jsonb_array_elements_text(w.ids) as n (id)
      on conflict do nothing
    `,
    [wanted],
  );
}

/**
 * A version keeps every field as it is then; the text in the first and where it changed, since it holds until
 * the next one.
 */
async function storeVersions(
  trx: Trx,
  ids: readonly number[],
  changed: readonly PostField[],
  personId: number | null,
): Promise<void> {
  await trx.raw(
    `
      insert into
        post_versions (blog_id, post_id, version, person_id, changed, fields, body, suggested)
      select
        p.blog_id,
        p.id,
        p.version,
        ?,
        ?::text[],
        (
          select
            to_jsonb(f)
          from
            (
              select
                ${LIGHT_COLUMNS.map((c) => `p.${c}`).join(', ')},
                array(select person_id from post_coauthors c where c.post_id = p.id order by 1) as coauthor_ids,
                array(select tag_id from post_tags t where t.post_id = p.id order by 1) as tag_ids,
                p.binned_at is not null as binned
            ) f
        ),
        ${changed.includes('body') ? 'p.body' : 'case when p.version = 1 then p.body end'},
        ${changed.includes('suggested') ? 'p.suggested' : 'null'}
      from
        all_posts p
      where
        p.id = any (?)
    `,
    [personId, [...changed], [...ids]],
  );
}

/**
 * Takes up a row that came whole from elsewhere, with a history of its own: keeps its first version and counts
 * the pictures it uses. Nobody is told, and nothing is released.
 */
export async function adoptPost(
  trx: Trx,
  blogId: number,
  id: number,
  personId: number | null,
): Promise<void> {
  const [post] = await loadPosts(trx, blogId, [id], { text: true });
  const changed: PostField[] = ['title', 'body', 'leadPicture', 'sharePicture'];
  await storeVersions(trx, [id], changed, personId);
  const effects = [{ kind: 'pictures' } as const];
  await carryOut(trx, [{ blogId, before: post!, after: post!, changed, personId, effects }], {
    silent: true,
  });
}
