import { parse as parseCookie } from 'cookie';
import type { NewPreviewLink, PreviewLinkMade, PreviewLinkView } from '@keyroster/contract';
import { may } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Db, Queryable, Trx } from '../db/connect.js';
import { notFound, notYours } from '../http/problem.js';
import { factsOf, findPost, type WholePostRow } from '../posts/store.js';
import { digestOf, newSecret } from '../http/secrets.js';

/** By which the pictures in a preview are had as well. */
export const PREVIEW_COOKIE = 'kr_preview';

/** Links are for those who answer for what is in the post. */
async function mayShow(db: Queryable, person: CurrentPerson, postId: number): Promise<WholePostRow> {
  const post = await findPost(db, person.blogId, postId);
  if (!post || !may(person, 'see', factsOf(post))) throw notFound('That post');
  const facts = factsOf(post);
  if (!may(person, 'write', facts) && !may(person, 'details', facts))
    throw notYours('Showing this post outside');
  return post;
}

interface LinkRow {
  id: number;
  label: string;
  personId: number | null;
  name: string | null;
  madeAt: string;
  expiresAt: string;
  opened: number;
}
const viewOf = ({ personId, name, ...link }: LinkRow): PreviewLinkView => ({
  ...link,
  by: personId === null ? null : personRef({ id: personId, name: name! }),
});

async function linksOf(db: Queryable, postId: number): Promise<PreviewLinkView[]> {
  const rows = await db('preview_links as l')
    .leftJoin('people as p', 'p.id', 'l.person_id')
    .where('l.post_id', postId)
    .whereRaw('l.expires_at > now()')
    .orderBy('l.id')
    .select<LinkRow[]>(
      'l.id',
      'l.label',
      'p.id as personId',
      'p.name',
      'l.made_at as madeAt',
      'l.expires_at as expiresAt',
      'l.opened',
    );
  return rows.map(viewOf);
}

export async function listPreviewLinks(
  db: Queryable,
  person: CurrentPerson,
  postId: number,
): Promise<PreviewLinkView[]> {
  await mayShow(db, person, postId);
  return linksOf(db, postId);
}

export async function addPreviewLink(
  trx: Trx,
  person: CurrentPerson,
  postId: number,
  { label, days }: NewPreviewLink,
  publicUrl: string,
): Promise<PreviewLinkMade> {
  await mayShow(trx, person, postId);
  const secret = newSecret();
  const [row] = await trx('preview_links')
    .insert({
      blog_id: person.blogId,
      post_id: postId,
      digest: digestOf(secret),
      label,
      person_id: person.id,
      expires_at: trx.raw(`now() + ?::int * interval '1 day'`, [days]),
    })
    .returning<{ id: number }[]>('id');
  const link = (await linksOf(trx, postId)).find((l) => l.id === row!.id)!;
  return { link, address: `${publicUrl}/preview/${secret}` };
}

export async function removePreviewLink(trx: Trx, person: CurrentPerson, id: number): Promise<null> {
  const link = await trx('preview_links')
    .where({ blog_id: person.blogId, id })
    .first<{ postId: number } | undefined>('post_id as postId');
  if (!link) throw notFound('That link');
  await mayShow(trx, person, link.postId);
  await trx('preview_links').where({ id }).delete();
  return null;
}

/** The post that a link leads to, and until when; null where it leads nowhere. Counts that it was followed. */
export async function followPreviewLink(
  db: Db,
  secret: string,
): Promise<{ postId: number; blogId: number; expiresAt: string } | null> {
  const [link] = await db('preview_links')
    .where({ digest: digestOf(secret) })
    .whereRaw('expires_at > now()')
    .increment('opened', 1)
    .returning<{ postId: number; blogId: number; expiresAt: string }[]>([
      'post_id as postId',
      'blog_id as blogId',
      'expires_at as expiresAt',
    ]);
  return link ?? null;
}

/** Is a picture or a file in the post of the link that a browser followed? */
export async function isInPreview(
  db: Queryable,
  cookies: string,
  of: 'media' | 'file',
  id: number,
): Promise<boolean> {
  const secret = parseCookie(cookies)[PREVIEW_COOKIE];
  if (!secret) return false;
  const row = await db('preview_links as l')
    .join(`${of}_uses as u`, 'u.post_id', 'l.post_id')
    .join('posts as p', 'p.id', 'l.post_id')
    .where({ 'l.digest': digestOf(secret), [`u.${of}_id`]: id })
    .whereRaw('l.expires_at > now()')
    .first('l.id');
  return row !== undefined;
}
