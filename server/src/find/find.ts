import type { Found } from '@keyroster/contract';
import type { Stage } from '@keyroster/core';
import { seenSql } from '../posts/visible.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';

/** Posts by their words (title first) and people by their names, for find-or-do. */
export async function findAll(db: Queryable, person: CurrentPerson, words: string): Promise<Found> {
  const like = `%${words.replace(/[\\%_]/g, '\\$&')}%`;
  const posts = db('posts')
    .leftJoin('people as by', 'by.id', 'posts.byline_id')
    .where('posts.blog_id', person.blogId)
    .where((w) =>
      w
        .whereILike('posts.title', like)
        .orWhereRaw(`posts.search @@ websearch_to_tsquery('english', ?)`, [words]),
    )
    .orderByRaw(
      `
        posts.title ilike ? desc,
        ts_rank(posts.search, websearch_to_tsquery('english', ?)) desc,
        posts.id desc
      `,
      [like, words],
    )
    .limit(8)
    .select<{ id: number; title: string; stage: Stage; byline: string | null }[]>(
      'posts.id',
      'posts.title',
      'posts.stage',
      'by.name as byline',
    );
  const seen = seenSql(person, 'posts');
  void posts.whereRaw(seen.text, seen.values);
  const people = db('memberships as m')
    .join('people as p', 'p.id', 'm.person_id')
    .where('m.blog_id', person.blogId)
    .where('p.active', true)
    .whereILike('p.name', like)
    .orderBy('p.name')
    .limit(5)
    .select<Found['people']>('p.id', 'p.name', 'm.role');
  return { posts: await posts, people: await people };
}
