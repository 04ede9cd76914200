import type { PostText } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { asReadersSee } from '../posts/readers-version.js';
import { findPost, type WholePostRow } from '../posts/store.js';
import { textAt } from '../posts/text-at.js';
import { phrasesOfPost, sourceFrom, stemsOfPost, type PostToMakeOf } from '../work/computing.js';
import { urlOfPost, type PostPlaces } from '../posts/url.js';

/**
 * Stems that are weighed against the archive, and posts that are counted for each: beyond that a word is
 * common.
 */
const MAX_STEMS = 40;
const COMMON = 500;
const MAX_PHRASES = 8;

/** What sets a post apart from the other published ones. */
async function phrasesOf(db: Queryable, row: WholePostRow): Promise<string[]> {
  const stems = await stemsOfPost(row.title, row.body, MAX_STEMS);
  const { rows } = await db.raw<{ rows: { stem: string; n: number }[] }>(
    `
      select
        w as stem,
        (
          select
            count(*)::int
          from
            (
              select
                1
              from
                posts p
              where
                p.blog_id = ?
                and p.stage = 'published'
                and p.id <> ?
                and p.search @@ plainto_tsquery('english', w)
              limit
                ${COMMON}
            ) x
        ) as n
      from
        unnest(?::text[]) w
    `,
    [row.blog_id, row.id, stems],
  );
  const [{ count } = { count: '0' }] = await db('posts')
    .where({ blog_id: row.blog_id, stage: 'published' })
    .count<{ count: string }[]>('id as count');
  return phrasesOfPost({
    title: row.title,
    body: row.body,
    archive: { posts: Math.min(Number(count), COMMON), holding: new Map(rows.map((r) => [r.stem, r.n])) },
    max: MAX_PHRASES,
  });
}

/** A post as pieces are made from it, as it is now. A post without an address has no link yet. */
export async function postToMakeOf(db: Queryable, row: WholePostRow): Promise<PostToMakeOf> {
  const category =
    row.category_id === null
      ? undefined
      : await db('categories').where({ id: row.category_id }).first<{ name: string }>('name');
  const tags = await db('post_tags as t')
    .join('tags', 'tags.id', 't.tag_id')
    .where('t.post_id', row.id)
    .orderBy('tags.name')
    .pluck<string[]>('tags.name');
  const blog = await db('blogs')
    .where({ id: row.blog_id })
    .first<{ title: string } & PostPlaces>('title', 'home', 'site');
  const about = {
    title: row.title,
    excerpt: row.excerpt,
    url: row.slug === null ? '' : urlOfPost(blog!, { slug: row.slug, runLocal: row.run_local }),
    byline: row.byline_name ?? '',
    blog: blog!.title,
    category: category?.name ?? '',
    tags,
    phrases: await phrasesOf(db, row),
  };
  return { about, body: row.body };
}

/** Other posts of a digest. Throws a sentence when one of them is gone. */
export async function othersToMakeOf(
  db: Queryable,
  blogId: number,
  ids: readonly number[],
): Promise<PostToMakeOf[]> {
  return Promise.all(
    ids.map(async (id) => {
      const row = await findPost(db, blogId, id);
      if (!row)
        throw new ProblemError('invalid', 'A post that it tells of is no longer there. Choose others.');
      return postToMakeOf(db, await asReadersSee(db, row));
    }),
  );
}

/** Title and sentences of a post at earlier versions, as they were kept. */
export async function textsAt(
  db: Queryable,
  postId: number,
  versions: readonly number[],
): Promise<Map<number, PostText>> {
  const texts = new Map<number, PostText>();
  for (const version of new Set(versions)) {
    const fields = await db('post_versions')
      .where({ post_id: postId })
      .where('version', '<=', version)
      .orderBy('version', 'desc')
      .first<{ title: string } | undefined>(db.raw(`fields->>'title' as title`));
    const body = await textAt(db, postId, version);
    texts.set(version, {
      title: fields?.title ?? '',
      sentences: body ? (await sourceFrom(body)).sentences : [],
    });
  }
  return texts;
}
