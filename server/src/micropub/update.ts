import {
  entryParts,
  formatList,
  isEntryProperty,
  may,
  photoOf,
  type MicropubRequest,
  type PostEdit,
} from '@keyroster/core';
import type { PostChanges } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import type { Services } from '../http/services.js';
import { editOf } from '../posts/change.js';
import { editPost } from '../posts/edit.js';
import { factsOf, type WholePostRow } from '../posts/store.js';
import { visiblePost, visiblePostToChange } from '../posts/visible.js';
import { markImported } from '../versions/versions.js';
import { storeContent, ownPicture, readContent, withPictures, type Picture } from './content.js';
import { checkedFields } from './fields.js';
import { postAt } from './post-at.js';

type Update = Extract<MicropubRequest, { action: 'update' }>;

/** An update names only what a post has; nothing of one that does not is applied. */
function mustFit({ replace, add, remove, drop }: Update): void {
  const named = [...new Set([replace, add, remove].flatMap((p) => Object.keys(p)).concat(drop))];
  const strange = named.filter((p) => !isEntryProperty(p));
  if (strange.length > 0)
    throw new ProblemError(
      'invalid',
      `A post has no place for ${formatList(strange.map((p) => p.slice(0, 60)))}.`,
    );
  const gone = [...drop, ...Object.keys(remove)].filter((p) => p === 'name' || p === 'content');
  if (gone.length > 0) throw new ProblemError('invalid', `A post cannot be without ${formatList(gone)}.`);
}

/** What a post has one of, and whether it has it. */
const SINGLE: Readonly<Record<string, (row: WholePostRow) => boolean>> = {
  name: (row) => row.title !== '',
  content: (row) =>
    (row.body.content ?? []).some((node) => (node.content ?? []).length > 0 || node.type !== 'paragraph'),
  summary: (row) => row.excerpt !== '',
  'mp-slug': (row) => row.slug !== null,
};

/** The single properties that an update adds: what is missing is created (section 3.4.2), what is there is not doubled. */
function mustBeMissing(add: Update['add'], row: WholePostRow): void {
  const there = Object.keys(add).filter((p) => SINGLE[p]?.(row));
  if (there.length > 0)
    throw new ProblemError(
      'invalid',
      `The post has ${formatList(there)} already, and room for one; send it under “replace”.`,
    );
}

const tagNames = (trx: Trx, row: WholePostRow): Promise<string[]> =>
  trx('tags').whereIn('id', row.tag_ids).orderBy('name').pluck<string[]>('name');

/** The name of the post's category, which stands among the categories of its entry and is no tag. */
const categoryName = async (trx: Trx, row: WholePostRow): Promise<string | undefined> =>
  (
    await trx('categories')
      .where({ id: row.category_id ?? 0 })
      .pluck<string[]>('name')
  )[0]?.toLowerCase();

/** Changes a post as a writing tool asks, in one edit: all of it or nothing, and nothing that its sender may not do. */
export async function updateFromEntry(
  { db, settings, texts }: Services,
  person: CurrentPerson,
  request: Update,
  tool: string,
): Promise<void> {
  mustFit(request);
  const { add, remove, drop } = request;
  const created = Object.fromEntries(Object.entries(add).filter(([p]) => p in SINGLE));
  const replace = { ...created, ...request.replace };
  const { parts } = entryParts(replace);
  const found = await postAt(db, person.blogId, settings.publicUrl, request.url);
  if (!found || found.binned) throw notFound('That post');
  const content = await readContent(parts.content);
  if (replace['content'] && !content) throw new ProblemError('invalid', 'The new content is empty.');
  const seen = await visiblePost(db, person, found.id);
  if (!may(person, 'write', factsOf(seen))) throw notYours('Changing this post');
  const kept = await storeContent(db, person, content);
  const ready = kept && (await withPictures(kept.body, []));
  await texts.settle(found.id);
  await inTransaction(db, async (trx) => {
    const row = await visiblePostToChange(trx, person, found.id);
    mustBeMissing(add, row);
    const changes: PostChanges = {};
    if (parts.title !== undefined) changes.title = parts.title;
    else if (replace['name']) throw new ProblemError('invalid', 'The new name is empty.');
    if (parts.excerpt !== undefined) changes.excerpt = parts.excerpt;
    if (parts.slug !== undefined) changes.slug = parts.slug;
    if (drop.includes('summary') || remove['summary']) changes.excerpt = '';
    if (drop.includes('mp-slug') || remove['mp-slug']) changes.slug = null;

    const more = entryParts({ category: add['category'] ?? [] }).parts.tags ?? [];
    const less = (entryParts({ category: remove['category'] ?? [] }).parts.tags ?? []).map((t) =>
      t.toLowerCase(),
    );
    if (parts.tags || drop.includes('category') || more.length + less.length > 0) {
      const before = drop.includes('category') ? [] : (parts.tags ?? (await tagNames(trx, row)));
      const category = await categoryName(trx, row);
      changes.tags = [...before.filter((t) => !less.includes(t.toLowerCase())), ...more].filter(
        (t) => t.toLowerCase() !== category,
      );
    }

    const pictureAt = async (value: unknown) => {
      const photo = photoOf(value);
      const own = photo && (await ownPicture(trx, person.blogId, settings.publicUrl, photo));
      if (!own)
        throw new ProblemError(
          'invalid',
          'A picture is first brought to the media endpoint; others are not fetched.',
        );
      return own;
    };
    let lead = row.lead_media_id;
    const beside: Picture[] = [];
    const attach = async (value: unknown) => {
      const picture = await pictureAt(value);
      if (lead === null) [lead, changes.leadPicture] = [picture.media, picture];
      else beside.push(picture);
    };
    if (replace['photo'] || drop.includes('photo')) [lead, changes.leadPicture] = [null, null];
    for (const value of remove['photo'] ?? [])
      if ((await pictureAt(value)).media === lead) [lead, changes.leadPicture] = [null, null];
    for (const value of [...(replace['photo'] ?? []), ...(add['photo'] ?? [])]) await attach(value);

    const edits: PostEdit[] = [];
    if (Object.keys(changes).length > 0) edits.push(await editOf(trx, person.blogId, checkedFields(changes)));
    const text =
      beside.length > 0 ? await withPictures(kept?.body ?? row.suggested ?? row.body, beside) : ready;
    if (text) edits.push({ kind: 'text', body: text.body, words: text.words });
    const done = edits.length > 0 ? await editPost(trx, row, person, ...edits) : row;
    if (text && done.version > row.version) await markImported(trx, row.id, person.id, tool);
  });
}
