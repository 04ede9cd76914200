import {
  fileIds,
  HELD_FIELDS,
  pictureIds,
  POST_FIELDS,
  sameValue,
  type BodyNode,
  type FieldSpec,
  type HeldField,
  type Post,
  type PostValues,
} from '@keyroster/core';
import type { Queryable, Trx } from '../db/connect.js';
import { columnsOf, COLUMN_FIELDS, EMPTY_TEXT_COLUMNS, written, type ColumnField } from './columns.js';
import type { EffectOn } from './effects.js';
import type { WholePostRow } from './store.js';

/** Fields that readers see an earlier state of, in columns of the same names as those of posts. */
const HELD_COLUMN_FIELDS = COLUMN_FIELDS.filter(
  (f) => (HELD_FIELDS as readonly string[]).includes(f) && f !== 'body',
);
const HELD_COLUMNS = HELD_COLUMN_FIELDS.flatMap(columnsOf).map(([name]) => name);

/** Keeps what readers go on seeing of posts that are worked on, from the versions. */
export async function storeReadersVersions(
  trx: Trx,
  effects: readonly EffectOn<'readers kept'>[],
): Promise<void> {
  const kept = JSON.stringify(effects.map(({ on, version }) => ({ id: on.after.id, version })));
  await dropRows(trx, effects);
  const columns = HELD_COLUMNS.join(', ');
  const ids = (field: string) =>
    `array(select n::int from jsonb_array_elements_text(coalesce(v.fields -> '${field}', '[]')) as e (n))`;
  const { rows } = await trx.raw<{
    rows: { post_id: number; body: BodyNode; lead: number; share: number }[];
  }>(
    `
      insert into
        readers_versions (post_id, blog_id, version, updated_at, ${columns}, tag_ids, coauthor_ids, body)
      select
        v.post_id,
        v.blog_id,
        v.version,
        v.at,
        ${HELD_COLUMNS.map((c) => (c in EMPTY_TEXT_COLUMNS ? `coalesce(f.${c}, '')` : `f.${c}`)).join(', ')},
        ${ids('tag_ids')},
        ${ids('coauthor_ids')},
        (
          select
            b.body
          from
            post_versions b
          where
            b.post_id = v.post_id
            and b.version <= v.version
            and b.body is not null
          order by
            b.version desc
          limit
            1
        )
      from
        jsonb_to_recordset(?::jsonb) as w (id int, version int)
        join post_versions v on v.post_id = w.id
        and v.version = w.version
        cross join lateral jsonb_populate_record(null::all_posts, v.fields) f
      returning
        post_id,
        body,
        lead_media_id as lead,
        share_media_id as share
    `,
    [kept],
  );
  for (const { post_id, body, lead, share } of rows) await storeUses(trx, post_id, body, [lead, share]);
}

/** What of the library readers are shown: it stays theirs while the desk has other pictures. */
async function storeUses(
  trx: Trx,
  postId: number,
  body: BodyNode,
  others: readonly (number | null)[],
): Promise<void> {
  const media = [...pictureIds(body), ...others.filter((id) => id !== null)];
  await trx('readers_versions')
    .where({ post_id: postId })
    .update({ media_ids: [...new Set(media)], file_ids: [...new Set(fileIds(body))] });
}

/** Readers see these posts as they are. */
export const dropReadersVersions = (trx: Trx, effects: readonly EffectOn<'readers caught up'>[]) =>
  dropRows(trx, effects);

async function dropRows(trx: Trx, effects: readonly { on: { after: Post } }[]): Promise<void> {
  await trx('readers_versions')
    .whereRaw('post_id = any(?)', [effects.map(({ on }) => on.after.id)])
    .delete();
}

type ReadersRow = Record<string, unknown> & { body: BodyNode; tag_ids: number[]; coauthor_ids: number[] };

/**
 * Shows readers at once what was changed, of posts that they see an earlier version of. A field that had waited for
 * the update already goes on waiting: what it became was not meant for them yet.
 */
export async function sendOn(trx: Trx, effects: readonly EffectOn<'sent on'>[]): Promise<void> {
  for (const { on, fields } of effects) {
    const { before, after } = on;
    const row = (await trx('readers_versions').where({ post_id: after.id }).first()) as
      ReadersRow | undefined;
    if (!row) continue;
    const sent = fields.filter((f) => isShown(row, f, before));
    if (sent.length === 0) continue;
    const changes = Object.assign({}, ...sent.map((f) => columnsFor(f, after))) as Record<string, unknown>;
    await trx('readers_versions')
      .where({ post_id: after.id })
      .update({ ...changes, updated_at: trx.raw('clock_timestamp()') });
    const now = { ...row, ...changes };
    const body = sent.includes('body') ? after.body! : row.body;
    await storeUses(trx, after.id, body, [now['lead_media_id'], now['share_media_id']] as (number | null)[]);
  }
}

const JSON_FIELDS: readonly HeldField[] = ['body', 'formatValues'];

function columnsFor(field: HeldField, post: Post): Record<string, unknown> {
  if (field === 'tagIds') return { tag_ids: post.tagIds };
  if (field === 'coauthorIds') return { coauthor_ids: post.coauthorIds };
  const columns = written(field as ColumnField, post[field] as PostValues[ColumnField]);
  return JSON_FIELDS.includes(field)
    ? Object.fromEntries(Object.entries(columns).map(([name, value]) => [name, JSON.stringify(value)]))
    : columns;
}

/** Do readers see a field as it was before this change? Sets come in any order. */
function isShown(row: ReadersRow, field: HeldField, before: Post): boolean {
  if (field === 'tagIds' || field === 'coauthorIds') {
    const shown = field === 'tagIds' ? row.tag_ids : row.coauthor_ids;
    return sameValue(
      [...shown].sort((a, b) => a - b),
      before[field],
    );
  }
  const columns = written(field as ColumnField, before[field] as PostValues[ColumnField]);
  return Object.entries(columns).every(([name, value]) => sameValue(row[name], value));
}

/** Of what they see, all but whom and what it belongs to. */
const SEEN_COLUMNS = HELD_COLUMN_FIELDS.filter((f) => {
  const spec: FieldSpec = POST_FIELDS[f];
  return spec.kind !== 'reference' || (spec.to !== 'person' && spec.to !== 'category');
})
  .flatMap(columnsOf)
  .map(([name]) => name);

/**
 * A post with the words, pictures and address that readers see, and the version that has them: what is made of it
 * for the outside is made of that. Who it belongs to is as at the desk.
 */
export async function asReadersSee(db: Queryable, row: WholePostRow): Promise<WholePostRow> {
  if (row.readers_version === null || row.stage !== 'published') return row;
  const seen = await db('readers_versions')
    .where({ post_id: row.id })
    .first<Partial<WholePostRow> | undefined>('version', 'body', ...SEEN_COLUMNS);
  return { ...row, ...seen };
}
