import type { Post } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';

/** Gathers what checks look at beside the posts, and gives what says what holds a post back, a sentence each. */
export type BlockingLoader = (
  db: Queryable,
  blogId: number,
  posts: readonly Post[],
) => Promise<(post: Post) => readonly string[]>;

let loader: BlockingLoader | null = null;

/** The feature that has the checks registers how to run them; posts know no checks. */
export function provideBlocking(provided: BlockingLoader): void {
  loader = provided;
}

export const loadBlocking: BlockingLoader = (db, blogId, posts) => {
  if (!loader) throw new Error('Nobody has said how posts are checked; see wiring.ts.');
  return loader(db, blogId, posts);
};
