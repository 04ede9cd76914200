import { COPIED_FIELDS, fileIds, isDesk, pictureIds, roleMay, type BodyNode } from '@keyroster/core';
import { findPerson } from '../accounts/who.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { planSizes } from '../jobs/queue.js';
import { editPosts } from './edit.js';
import { createPost } from './pitch.js';
import { factsOf, postOf, type WholePostRow } from './store.js';

/** Columns of a picture and of a file that are the same on another blog. */
const PICTURE =
  'sha256, type, width, height, bytes, name, alt, caption, credit, licence, source, tags, focus_x, focus_y';
const FILE = 'sha256, type, name, size, bytes';

/**
 * A post taken to another blog of the newsroom: title, text, excerpt, pictures, files, search texts and tags come
 * along. Category and format are the other blog's to give; what was said of the post here, its versions and its run
 * time stay here. It starts in the tray there, credited to the person who takes it. Moved, the one here goes to the
 * bin, and the addresses that readers knew of it lead to the one there once it is published.
 */
export async function copyElsewhere(
  trx: Trx,
  person: CurrentPerson,
  source: WholePostRow,
  { blogId, title = source.title, move }: { blogId: number; title?: string; move: boolean },
): Promise<{ person: CurrentPerson; post: WholePostRow }> {
  const there = await findPerson(trx, person.id, blogId);
  if (!there || !roleMay(there.role, 'pitch')) throw notFound('That blog');
  if (move && !isDesk(person, factsOf(source))) throw notYours('Moving this post away');
  if (move && source.stage === 'published')
    throw new ProblemError(
      'demands',
      'Readers see this post here. Withdraw it before it moves, or copy it and leave it where it is.',
    );
  const post = postOf(source);
  const { body, words, leadPicture, sharePicture, tagIds, ...along } = Object.fromEntries(
    COPIED_FIELDS.map((f) => [f, post[f]]),
  ) as Pick<Required<typeof post>, (typeof COPIED_FIELDS)[number]>;
  const pictures = await bring(trx, 'media', PICTURE, there, [
    ...pictureIds(body),
    ...(leadPicture ? [leadPicture.media] : []),
    ...(sharePicture === null ? [] : [sharePicture]),
  ]);
  const files = await bring(trx, 'files', FILE, there, fileIds(body));
  for (const id of pictures.values()) await planSizes(trx, id);
  const made = await createPost(
    trx,
    there,
    {
      ...along,
      title,
      bylineId: there.id,
      categoryId: null,
      secondCategoryId: null,
      formatId: null,
      formatValues: {},
      tagIds: await tagsThere(trx, there, tagIds),
      leadPicture: leadPicture && { ...leadPicture, media: pictures.get(leadPicture.media)! },
      sharePicture: sharePicture === null ? null : pictures.get(sharePicture)!,
    },
    null,
    { kind: 'text', body: withOther(body, pictures, files), words },
  );
  if (move) {
    await leadOn(trx, source, made.id);
    await editPosts(trx, person.blogId, person, [source.id], () => [{ kind: 'bin' }]);
  }
  return { person: there, post: made };
}

/** Has the addresses that a post had as published lead to another one, and those that led to it already. */
async function leadOn(trx: Trx, source: WholePostRow, postId: number): Promise<void> {
  await trx.raw(
    `
      insert into
        moved_away (blog_id, slug, post_id)
      select
        :blogId,
        slug,
        :postId
      from
        (
          select
            slug
          from
            all_posts
          where
            id = :from
            and exists (
              select
              from
                release_log
              where
                post_id = :from
            )
          union
          select
            slug
          from
            old_slugs
          where
            post_id = :from
        ) known
      where
        slug is not null
      on conflict (blog_id, slug) do update
      set
        post_id = excluded.post_id
    `,
    { blogId: source.blog_id, postId, from: source.id },
  );
  // What had moved here before moves on.
  await trx('moved_away').where({ post_id: source.id }).update({ post_id: postId });
}

/** Has pictures or files on another blog too, each once. Gives the number there of each. */
async function bring(
  trx: Trx,
  table: 'media' | 'files',
  columns: string,
  { blogId, id: personId }: CurrentPerson,
  ids: readonly number[],
): Promise<Map<number, number>> {
  const { rows } = await trx.raw<{ rows: { here: number; there: number }[] }>(
    `
      with
        brought as (
          insert into
            ${table} (blog_id, added_by, ${columns})
          select
            ?,
            ?,
            ${columns}
          from
            ${table}
          where
            id = any (?)
          on conflict (blog_id, sha256) do update
          set
            added_by = ${table}.added_by
          returning
            id,
            sha256
        )
      select
        h.id as here,
        b.id as there
      from
        ${table} h
        join brought b on b.sha256 = h.sha256
      where
        h.id = any (?)
    `,
    [blogId, personId, [...new Set(ids)], [...new Set(ids)]],
  );
  return new Map(rows.map((r) => [r.here, r.there]));
}

/** The body with the numbers that its pictures and files have there. */
function withOther(
  body: BodyNode,
  pictures: ReadonlyMap<number, number>,
  files: ReadonlyMap<number, number>,
): BodyNode {
  const other: Record<string, ReadonlyMap<number, number>> = {
    media: pictures,
    poster: pictures,
    file: files,
    captions: files,
  };
  return JSON.parse(JSON.stringify(body), (key, value: unknown) =>
    typeof value === 'number' && other[key] ? (other[key].get(value) ?? value) : value,
  ) as BodyNode;
}

/** Tags of the same names, as far as the other blog has them. */
async function tagsThere(trx: Trx, { blogId }: CurrentPerson, tagIds: readonly number[]): Promise<number[]> {
  return trx('tags as here')
    .join('tags as there', (on) =>
      on.andOn(trx.raw('lower(there.name) = lower(here.name)')).andOnVal('there.blog_id', '=', blogId),
    )
    .whereIn('here.id', [...tagIds])
    .pluck<number[]>('there.id');
}
