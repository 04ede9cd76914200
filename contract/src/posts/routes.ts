import type {
  Captured,
  NewCapture,
  MoveDone,
  NewMove,
  NewPost,
  PostChanges,
  PostPage,
  PostQuery,
  PostView,
  ReleaseLogEntry,
} from './types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface PostsRoutes {
  'posts.list': { query: PostQuery; reply: PostPage };
  'posts.pitch': { body: NewPost; reply: PostView };
  'posts.capture': { body: NewCapture; reply: Captured };
  'posts.see': { id: true; reply: PostView };
  'posts.change': { id: true; body: PostChanges; ifMatch: 'required'; reply: MoveDone };
  'posts.move': { id: true; body: NewMove; ifMatch: 'optional'; reply: MoveDone };
  'posts.open': { id: true; body: object; reply: null };
  'releaseLog.list': { reply: ReleaseLogEntry[] };
}

/** Who may call what, and where. */
export const POSTS_ROUTES = {
  'posts.list': {
    method: 'GET',
    path: '/api/posts',
    who: 'enterNewsroom',
    summary: 'Posts, filtered and sorted, a page at a time',
  },
  'posts.pitch': {
    method: 'POST',
    path: '/api/posts',
    who: 'pitch',
    summary: 'Put a pitch in the tray',
    status: 201,
  },
  'posts.capture': {
    method: 'POST',
    path: '/api/captures',
    who: 'pitch',
    summary: 'Take in what was written down on a device; sent again with its key, it is there once',
    status: 201,
  },
  'posts.see': { method: 'GET', path: '/api/posts/:id', who: 'enterNewsroom', summary: 'One post' },
  'posts.change': {
    method: 'PATCH',
    path: '/api/posts/:id',
    who: 'enterNewsroom',
    summary: 'Change fields of a post',
    ifMatch: 'required',
  },
  'posts.move': {
    method: 'POST',
    path: '/api/posts/:id/moves',
    who: 'enterNewsroom',
    summary: 'Move a post to a stage',
    ifMatch: 'optional',
  },
  'posts.open': {
    method: 'PUT',
    path: '/api/posts/:id/open',
    who: 'enterNewsroom',
    summary: 'Say that one has the post open',
    status: 204,
  },
  'releaseLog.list': {
    method: 'GET',
    path: '/api/release-log',
    who: 'seeReleaseLog',
    summary: 'The last 200 releases, planned against actual',
  },
} as const satisfies RoutesOf<PostsRoutes>;
