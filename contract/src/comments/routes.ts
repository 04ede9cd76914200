import type { RoutesOf } from '../route.js';
import type {
  CommentAnswer,
  CommentMove,
  CommentsMoved,
  CommentsPage,
  CommentsQuery,
  CommentsRestored,
  CommentView,
} from './types.js';

/** What goes in and comes out of each route. */
export interface CommentsRoutes {
  'comments.list': { query: CommentsQuery; reply: CommentsPage };
  'comments.move': { body: CommentMove; reply: CommentsMoved };
  'comments.undo': { id: true; body: object; reply: CommentsRestored };
  'comments.answer': { id: true; body: CommentAnswer; reply: CommentView };
  'comments.remove': { id: true; reply: null };
}

/** Who may call what, and where. */
export const COMMENTS_ROUTES = {
  'comments.list': {
    method: 'GET',
    path: '/api/comments',
    who: 'moderate',
    summary: 'Comments and mentions, the newest first, with how many stand where',
  },
  'comments.move': {
    method: 'POST',
    path: '/api/comments/moves',
    who: 'moderate',
    summary: 'Approve comments, refuse them, hold them or say that they are spam',
    status: 201,
  },
  'comments.undo': {
    method: 'POST',
    path: '/api/comments/moves/:id/undo',
    who: 'moderate',
    summary: 'Put moved comments where they were; those moved again since stay',
    status: 201,
  },
  'comments.answer': {
    method: 'POST',
    path: '/api/comments/:id/answers',
    who: 'moderate',
    summary: 'Answer a comment, marked as by staff; one that waits is approved with it',
    status: 201,
  },
  'comments.remove': {
    method: 'DELETE',
    path: '/api/comments/:id',
    who: 'manageBlog',
    summary: 'Delete a comment permanently, with its answers',
    status: 204,
  },
} as const satisfies RoutesOf<CommentsRoutes>;
