import { proposeAddress, tidyTag } from '@keyroster/core';
import type { TagChanges, TagView } from '@keyroster/contract';
import type { CurrentPerson } from '../accounts/who.js';
import type { Reader, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { tell } from '../live/live.js';
import { lockPost } from '../posts/store.js';
import { keepOldPage } from '../site/merging.js';
import { writePost } from '../posts/write-post.js';

export async function listTags(db: Reader, blogId: number): Promise<TagView[]> {
  return db('tags').where({ blog_id: blogId }).orderBy('name')
    .select<TagView[]>('id', 'name', 'slug', db.raw('(select count(*) from post_tags t where t.tag_id = tags.id)::int as posts'));
}

/** Tags by their names; those that are new are made. Capitals make no other tag. */
export async function tagIdsOf(trx: Trx, blogId: number, names: readonly string[]): Promise<number[]> {
  const wanted = new Map(names.map(tidyTag).filter(Boolean).map((name) => [name.toLowerCase(), name]));
  if (wanted.size === 0) return [];
  const known = await trx('tags').where({ blog_id: blogId }).whereRaw('lower(name) = any(?)', [[...wanted.keys()]]).select<{ id: number; name: string }[]>('id', 'name');
  const ids = known.map((t) => t.id);
  for (const tag of known) wanted.delete(tag.name.toLowerCase());
  if (wanted.size > 0) {
    // Two people making the same tag at once: the second waits for the first to be decided.
    await trx.raw('select pg_advisory_xact_lock(4311, ?)', [blogId]);
    for (const name of wanted.values()) {
      const made = await trx('tags').where({ blog_id: blogId }).whereRaw('lower(name) = lower(?)', [name]).first<{ id: number } | undefined>('id');
      ids.push(made?.id ?? (await makeTag(trx, blogId, name)));
    }
  }
  return ids;
}

async function makeTag(trx: Trx, blogId: number, name: string): Promise<number> {
  const slug = await freeSlug(trx, blogId, name);
  const [row] = await trx('tags').insert({ blog_id: blogId, name, slug }).returning<{ id: number }[]>('id');
  return row!.id;
}

async function freeSlug(trx: Trx, blogId: number, name: string): Promise<string> {
  const taken = new Set(await trx('tags').where({ blog_id: blogId }).pluck<string[]>('slug'));
  return proposeAddress(name, (slug) => taken.has(slug));
}

/** Renames a tag, or puts its posts under another one. Returns the tags as they are then. */
export async function changeTag(trx: Trx, person: CurrentPerson, id: number, changes: TagChanges): Promise<TagView[]> {
  const tag = await trx('tags').where({ blog_id: person.blogId, id }).forUpdate().first<{ id: number; slug: string } | undefined>('id', 'slug');
  if (!tag) throw notFound('That tag');
  if (changes.name !== undefined) {
    const name = tidyTag(changes.name);
    if (name === '') throw new ProblemError('invalid', 'A tag needs a name.');
    const other = await trx('tags').where({ blog_id: person.blogId }).whereNot({ id }).whereRaw('lower(name) = lower(?)', [name]).first('id');
    if (other) throw new ProblemError('taken', `There is a tag “${name}” already. Merge this one into it.`);
    await trx('tags').where({ id }).update({ name });
  } else await mergeTag(trx, person, tag, changes.mergeInto!);
  await tell(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return listTags(trx, person.blogId);
}

async function mergeTag(trx: Trx, person: CurrentPerson, tag: { id: number; slug: string }, into: number): Promise<void> {
  const { id } = tag;
  if (into === id) throw new ProblemError('invalid', 'A tag cannot be merged into itself.');
  if (!(await trx('tags').where({ blog_id: person.blogId, id: into }).first('id'))) throw notFound('The tag to merge into');
  const posts = await trx('post_tags as t').join('posts as p', 'p.id', 't.post_id').where('t.tag_id', id).orderBy('t.post_id').pluck<number[]>('t.post_id');
  for (const postId of posts) {
    const row = (await lockPost(trx, person.blogId, postId))!;
    await writePost(trx, row, { tagIds: [...row.tag_ids.filter((t) => t !== id), into] }, person.id);
  }
  // What lies in the bin goes along unseen.
  await trx.raw('insert into post_tags (blog_id, post_id, tag_id) select blog_id, post_id, ? from post_tags where tag_id = ? on conflict do nothing', [into, id]);
  await keepOldPage(trx, person.blogId, 'tag', tag, into);
  await trx('tags').where({ id }).delete();
}
