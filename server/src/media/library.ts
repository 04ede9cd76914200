import { tidyTag, type Stage } from '@keyroster/core';
import type {
  MediaChanges,
  MediaPage,
  MediaQuery,
  MediaUse,
  MediaView,
  MediaWhole,
  FieldValues,
} from '@keyroster/contract';
import { personRef } from '../accounts/people.js';
import { saveChange, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { onlyVisible, seenSql } from '../posts/visible.js';
import { cutShapes, mediaSrc } from './sizes.js';

const PAGE = 60;

interface MediaRow {
  id: number;
  type: string;
  width: number;
  height: number;
  size: number;
  name: string;
  alt: string;
  caption: string;
  credit: string;
  licence: string;
  source: string;
  tags: string[];
  focus_x: number;
  focus_y: number;
  binned_at: string | null;
  sizes_at: string | null;
  added_at: string;
  added_by: number | null;
  added_name: string | null;
  uses: number;
  version: number;
}

function mediaRows(db: Queryable, blogId: number) {
  return db('media')
    .leftJoin('people as p', 'p.id', 'media.added_by')
    .where('media.blog_id', blogId)
    .select<MediaRow[]>(
      ...[
        'id',
        'type',
        'width',
        'height',
        'size',
        'name',
        'alt',
        'caption',
        'credit',
        'licence',
        'source',
        'tags',
        'focus_x',
        'focus_y',
        'binned_at',
        'sizes_at',
        'added_at',
        'added_by',
        'version',
      ].map((c) => `media.${c}`),
      'p.name as added_name',
      db.raw('(select count(*) from all_media_uses u where u.media_id = media.id)::int as uses'),
    );
}

const mediaView = (row: MediaRow): MediaView => ({
  id: row.id,
  version: row.version,
  src: mediaSrc(row.id),
  type: row.type,
  width: row.width,
  height: row.height,
  size: row.size,
  name: row.name,
  alt: row.alt,
  caption: row.caption,
  credit: row.credit,
  licence: row.licence,
  source: row.source,
  tags: row.tags,
  focus: { x: row.focus_x, y: row.focus_y },
  binned: row.binned_at !== null,
  ready: row.sizes_at !== null,
  uses: row.uses,
  addedAt: row.added_at,
  addedBy: row.added_by === null ? null : personRef({ id: row.added_by, name: row.added_name ?? '' }),
});

export async function findMedia(db: Queryable, blogId: number, id: number): Promise<MediaView> {
  const row = await mediaRows(db, blogId).where('media.id', id).first();
  if (!row) throw notFound('That picture');
  return mediaView(row as unknown as MediaRow);
}

/**
 * A page of the library, newest first: by words of name, alternative text, caption, credit and tags, by tag,
 * by use.
 */
export async function listMedia(db: Queryable, blogId: number, query: MediaQuery): Promise<MediaPage> {
  const rows = mediaRows(db, blogId)
    .orderBy('media.id', 'desc')
    .limit(PAGE + 1);
  const used = 'exists (select 1 from all_media_uses u where u.media_id = media.id)';
  if (query.use === 'binned') void rows.whereNotNull('media.binned_at');
  else void rows.whereNull('media.binned_at');
  if (query.use === 'used') void rows.whereRaw(used);
  if (query.use === 'unused') void rows.whereRaw(`not ${used}`);
  if (query.words)
    void rows.whereRaw(`(media.search @@ websearch_to_tsquery('english', ?) or media.name ilike ?)`, [
      query.words,
      `%${query.words.replace(/[\\%_]/g, '\\$&')}%`,
    ]);
  if (query.tag) void rows.whereRaw('media.tags @> array[?]', [query.tag]);
  if (query.before) void rows.where('media.id', '<', query.before);
  const found = (await rows) as unknown as MediaRow[];
  const { rows: tags } = await db.raw<{ rows: { tag: string }[] }>(
    `
      select
        tag
      from
        (
          select
            unnest(tags) as tag
          from
            media
          where
            blog_id = ?
            and binned_at is null
        ) t
      group by
        tag
      order by
        count(*) desc,
        tag
      limit
        100
    `,
    [blogId],
  );
  return {
    pictures: found.slice(0, PAGE).map(mediaView),
    next: found.length > PAGE ? found[PAGE - 1]!.id : null,
    tags: tags.map((t) => t.tag),
  };
}

export async function seeMedia(db: Queryable, person: CurrentPerson, id: number): Promise<MediaWhole> {
  const view = await findMedia(db, person.blogId, id);
  const usedIn = await onlyVisible(db('all_media_uses as u').join('posts', 'posts.id', 'u.post_id'), person)
    .where('u.media_id', id)
    .orderBy('posts.id')
    .select<(Omit<MediaUse, 'stage'> & { stage: Stage })[]>(
      'posts.id as postId',
      'posts.title',
      'posts.stage',
      'u.how',
    );
  return { ...view, usedIn };
}

/**
 * Describes a picture, moves its focus, bins it or takes it back. Binning is refused while a post uses it.
 */
export function changeMedia(change: Change, id: number, changes: MediaChanges): Promise<MediaView> {
  const { trx, person } = change;
  const read = async (): Promise<MediaView & FieldValues> => {
    const picture = await findMedia(trx, person.blogId, id);
    const desk = person.role === 'managing editor' || person.role === 'editor';
    if (!desk && picture.addedBy?.id !== person.id)
      throw notYours('Changing a picture that somebody else added');
    return { ...picture };
  };
  const changed = { kind: 'picture' as const, id, read, name: ({ name }: MediaView) => name };
  return saveChange(change, changed, async () => {
    if (changes.binned) await mustBeUnused(trx, person, id);
    const { focus, tags, binned, ...words } = changes;
    await trx('media')
      .where({ id })
      .update({
        blog_id: person.blogId,
        ...words,
        ...(tags ? { tags: [...new Set(tags.map((t) => tidyTag(t).toLowerCase()).filter(Boolean))] } : {}),
        ...(focus ? { focus_x: focus.x, focus_y: focus.y } : {}),
        ...(binned === undefined ? {} : { binned_at: binned ? trx.raw('clock_timestamp()') : null }),
      });
    if (focus) await cutShapes(trx, id);
  });
}

async function mustBeUnused(trx: Trx, person: CurrentPerson, id: number): Promise<void> {
  const seen = seenSql(person, 'p');
  const used = await trx('all_media_uses as u')
    .join('all_posts as p', 'p.id', 'u.post_id')
    .where('u.media_id', id)
    .first<{ title: string; seen: boolean } | undefined>(
      'p.title',
      trx.raw(`${seen.text} as seen`, seen.values),
    );
  if (used)
    throw new ProblemError(
      'demands',
      `${used.seen ? `“${used.title}”` : 'A post'} uses this picture. Put another in its place first.`,
    );
  const special = await trx('specials')
    .where({ cover_media_id: id })
    .first<{ title: string } | undefined>('title');
  if (special)
    throw new ProblemError('demands', `The special “${special.title}” has this picture on its cover.`);
}
