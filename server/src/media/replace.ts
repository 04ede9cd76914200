import {
  deskText,
  may,
  pictureIds,
  type BodyNode,
  type Post,
  type PostEdit,
  type SetValues,
} from '@keyroster/core';
import type { Replaced } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { emit } from '../live/live.js';
import { editPosts } from '../posts/edit.js';
import { lockPosts, loadPosts } from '../posts/store.js';
import { onlyVisible } from '../posts/visible.js';
import { findMedia } from './library.js';

const swap = (node: BodyNode, from: number, to: number): BodyNode => ({
  ...node,
  ...(node.type === 'picture' && node.attrs?.['media'] === from
    ? { attrs: { ...node.attrs, media: to } }
    : node.type === 'video' && node.attrs?.['poster'] === from
      ? { attrs: { ...node.attrs, poster: to } }
      : {}),
  ...(node.content ? { content: node.content.map((child) => swap(child, from, to)) } : {}),
});

/**
 * Puts another picture in its place in every post that is the person's to change; the others are named and
 * left.
 */
export async function replaceMedia(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  by: number,
): Promise<Replaced> {
  if (id === by) throw new ProblemError('invalid', 'A picture cannot take its own place.');
  await findMedia(trx, person.blogId, id);
  if ((await findMedia(trx, person.blogId, by)).binned)
    throw new ProblemError('invalid', 'That picture lies in the bin. Restore it first.');
  const used = await onlyVisible(trx('media_uses as u').join('posts', 'posts.id', 'u.post_id'), person)
    .where('u.media_id', id)
    .distinct('u.post_id')
    .orderBy('u.post_id')
    .pluck<number[]>('u.post_id');
  await lockPosts(trx, used);
  const posts = await loadPosts(trx, person.blogId, used, { text: true });
  const mine = posts.filter((post) => may(person, 'write', post));
  const left = posts.filter((post) => !mine.includes(post)).map((post) => post.title);
  await editPosts(
    trx,
    person.blogId,
    person,
    mine.map((post) => post.id),
    (post) => replaceEdits(post, id, by),
    { text: true, atOnce: true },
  );
  const changed = mine.length;
  await emit(trx, { blogId: person.blogId, kind: 'media', personId: person.id });
  const done =
    changed === 0
      ? 'No post was changed'
      : `Put in its place in ${changed === 1 ? 'one post' : `${changed} posts`}`;
  const others = left.length === 1 ? `“${left[0]}” is` : `${left.length} posts are`;
  const sentence = `${done}${left.length > 0 ? `; ${others} not yours to change` : ''}.`;
  return { posts: changed, left, sentence };
}

/** The edits that put one picture in another's place: in the text, as lead, and for sharing. */
function replaceEdits(post: Post, id: number, by: number): PostEdit[] {
  const values: SetValues = {};
  if (post.leadPicture?.media === id) values.leadPicture = { ...post.leadPicture, media: by };
  if (post.sharePicture === id) values.sharePicture = by;
  const text = deskText(post);
  const isInText = text !== undefined && pictureIds(text).includes(id);
  return [
    { kind: 'set', values },
    ...(isInText ? [{ kind: 'text' as const, body: swap(text, id, by), words: post.words }] : []),
  ];
}
