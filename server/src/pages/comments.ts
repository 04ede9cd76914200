import { commentsShow, formatDate, wallTimeOf, whyClosed, type Closed } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { databaseNow } from '../db/now.js';
import { readable } from '../access/readable.js';
import { pathIn, type ReaderBlog } from './reader-blog.js';
import type { TitleLink } from './titles.js';

/** The most comments under a post, answers not counted: of more, the newest. */
const MAX_COMMENTS = 400;

export interface ShownComment {
  id: number;
  kind: 'comment' | 'mention';
  name: string;
  /** Of staff, what they are to the post. */
  mark: 'writer' | 'staff' | null;
  paragraphs: string[];
  at: string;
  when: string;
  /** Of a mention, the page that links here. */
  source: string | null;
  answers: ShownComment[];
}

/** What stands under a post. */
export interface CommentsBelow {
  closed: Closed | null;
  comments: ShownComment[];
  mentions: ShownComment[];
  /** Comments and answers. */
  count: number;
  /** What the post invites readers to say. */
  call: string;
}

interface Row {
  id: number;
  parentId: number | null;
  kind: ShownComment['kind'];
  name: string;
  text: string;
  personId: number | null;
  at: string;
  source: string | null;
}

/** The comments under a post that readers see, oldest first; null where none show, neither old nor new. */
export async function commentsBelow(
  db: Queryable,
  blog: ReaderBlog,
  postId: number,
): Promise<CommentsBelow | null> {
  const post = (await db('posts as p').join('readers_posts as r', 'r.id', 'p.id').where('p.id', postId).first<
    | {
        comments: boolean;
        runAt: string | null;
        call: string;
        bylineId: number | null;
        coauthorIds: number[];
      }
    | undefined
  >('p.comments', 'p.run_at as runAt', 'r.comment_call as call', 'r.byline_id as bylineId', 'r.coauthor_ids as coauthorIds'))!;
  const closed = whyClosed(blog.settings, post, await databaseNow(db));
  if (!commentsShow(closed)) return null;
  const newest = await db('comments')
    .where({ post_id: postId, state: 'approved', parent_id: null })
    .orderBy('id', 'desc')
    .limit(MAX_COMMENTS)
    .pluck<number[]>('id');
  const rows =
    newest.length === 0
      ? []
      : await db('comments')
          .where({ post_id: postId, state: 'approved' })
          .where((w) => w.whereIn('id', newest).orWhereIn('parent_id', newest))
          .orderBy('id')
          .select<Row[]>(
            'id',
            'parent_id as parentId',
            'kind',
            'name',
            'text',
            'person_id as personId',
            'at',
            'source',
          );
  const writers = [post.bylineId, ...post.coauthorIds];
  const shown = (row: Row): ShownComment => ({
    id: row.id,
    kind: row.kind,
    name: row.name,
    mark: row.personId === null ? null : writers.includes(row.personId) ? 'writer' : 'staff',
    paragraphs: row.text.split(/\n{2,}/).filter((p) => p !== ''),
    at: row.at,
    when: whenOf(row.at, blog.zone),
    source: row.source,
    answers: rows.filter((r) => r.parentId === row.id).map(shown),
  });
  const top = rows.filter((r) => r.parentId === null).map(shown);
  const comments = top.filter((c) => c.kind === 'comment');
  return {
    closed,
    comments,
    mentions: top.filter((c) => c.kind === 'mention'),
    count: comments.length + comments.reduce((sum, c) => sum + c.answers.length, 0),
    call: post.call,
  };
}

function whenOf(at: string, zone: string): string {
  const local = wallTimeOf(at, zone);
  return `${formatDate(local.slice(0, 10))} ${local.slice(0, 4)}, ${local.slice(11, 16)}`;
}

/** The newest comments under posts that the reader may read, where comments show. */
export async function newestComments(db: Queryable, blog: ReaderBlog, most: number): Promise<TitleLink[]> {
  if (!blog.settings.comments) return [];
  const rows = await readable(db, blog)
    .join('comments as c', 'c.post_id', 'posts.id')
    .join('posts as d', 'd.id', 'posts.id')
    .where({ 'c.state': 'approved', 'c.kind': 'comment', 'd.comments': true })
    .orderBy('c.id', 'desc')
    .limit(most)
    .select<{ id: number; name: string; title: string; slug: string; runLocal: string }[]>(
      'c.id',
      'c.name',
      'posts.title',
      'posts.slug',
      'posts.run_local as runLocal',
    );
  return rows.map((row) => ({
    label: row.title,
    href: `${pathIn(blog, row)}#comment-${row.id}`,
    note: row.name,
  }));
}
