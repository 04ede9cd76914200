import { seesEverything, tidyTag } from '@keyroster/core';
import type { TagChanges, TagView, FieldValues } from '@keyroster/contract';
import { saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { editPosts } from '../posts/edit.js';
import { lockPosts } from '../posts/store.js';
import { seenSql } from '../posts/visible.js';
import { storeOldPage } from '../pages/old-pages.js';

/** Tags with the number of posts under them; for those who do not see every post, only of what they see. */
export async function listTags(db: Queryable, person: CurrentPerson): Promise<TagView[]> {
  const seen = seenSql(person, 'p');
  return db('tags')
    .where({ blog_id: person.blogId })
    .modify((q) => {
      if (!seesEverything(person.role)) void q.whereRaw(tagSeen(seen.text), seen.values);
    })
    .orderBy('name')
    .select<TagView[]>(
      'id',
      'version',
      'name',
      'slug',
      seesEverything(person.role)
        ? db.raw('(select count(*) from post_tags t where t.tag_id = tags.id)::int as posts')
        : db.raw(
            `(select count(*) from post_tags t join all_posts p on p.id = t.post_id
               where t.tag_id = tags.id and ${seen.text})::int as posts`,
            seen.values,
          ),
    );
}

/** Is a tag on a post that is seen? As SQL over `tags`. */
export const tagSeen = (seen: string): string =>
  `exists (select 1 from post_tags t join all_posts p on p.id = t.post_id where t.tag_id = tags.id and ${seen})`;

/** Renames a tag, or puts its posts under another one. Returns the tags as they are then. */
export async function changeTag(change: Change, id: number, changes: TagChanges): Promise<TagView[]> {
  const { trx, person } = change;
  // First the posts and then the tag: the order in which tagging locks them.
  await lockPosts(trx, await taggedPosts(trx, id));
  const { name, mergeInto } = changes;
  const changed = {
    kind: 'tag' as const,
    id,
    read: async (): Promise<TagRow & FieldValues> => {
      const tag = await trx('tags')
        .where({ blog_id: person.blogId, id })
        .first<TagRow | undefined>('id', 'name', 'slug');
      if (!tag) throw notFound('That tag');
      return { ...tag };
    },
    name: (tag: TagRow) => tag.name,
  };
  if (name === undefined) await saveRemoval(change, changed, (tag) => mergeTag(trx, person, tag, mergeInto!));
  else await saveChange(change, changed, () => renameTag(trx, person, id, tidyTag(name)));
  return listTags(trx, person);
}

interface TagRow {
  id: number;
  name: string;
  slug: string;
}

async function renameTag(trx: Trx, person: CurrentPerson, id: number, name: string): Promise<void> {
  if (name === '') throw new ProblemError('invalid', 'A tag needs a name.');
  const other = await trx('tags')
    .where({ blog_id: person.blogId })
    .whereNot({ id })
    .whereRaw('lower(name) = lower(?)', [name])
    .first('id');
  if (other) throw new ProblemError('taken', `There is a tag “${name}” already. Merge this one into it.`);
  await trx('tags').where({ id }).update({ name });
}

const taggedPosts = (trx: Trx, id: number): Promise<number[]> =>
  trx('post_tags').where({ tag_id: id }).orderBy('post_id').pluck<number[]>('post_id');

async function mergeTag(
  trx: Trx,
  person: CurrentPerson,
  tag: { id: number; slug: string },
  into: number,
): Promise<void> {
  const { id } = tag;
  if (into === id) throw new ProblemError('invalid', 'A tag cannot be merged into itself.');
  if (!(await trx('tags').where({ blog_id: person.blogId, id: into }).first('id')))
    throw notFound('The tag to merge into');
  await editPosts(
    trx,
    person.blogId,
    person,
    await taggedPosts(trx, id),
    (post) => [{ kind: 'set', values: { tagIds: [...post.tagIds.filter((t) => t !== id), into] } }],
    { inBin: true, atOnce: true },
  );
  await storeOldPage(trx, person.blogId, 'tag', tag, into);
  await trx('tags').where({ id }).delete();
}
