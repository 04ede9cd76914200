import type { MoveDone } from '../posts/types.js';
import type { RoutesOf } from '../route.js';
import type {
  ComparisonQuery,
  ComparisonView,
  Imported,
  Restoring,
  UpdateView,
  VersionName,
  VersionsQuery,
  VersionsView,
  VersionView,
} from './types.js';

/** What goes in and comes out of each route. */
export interface VersionsRoutes {
  'versions.list': { id: true; query: VersionsQuery; reply: VersionsView };
  'versions.compare': { id: true; query: ComparisonQuery; reply: ComparisonView };
  'versions.name': { id: true; body: VersionName; reply: VersionView };
  'versions.imported': { id: true; body: Imported; reply: null };
  'versions.pending': { id: true; reply: UpdateView };
  'versions.update': { id: true; body: object; ifMatch: 'required'; reply: MoveDone };
  'versions.restore': { id: true; body: Restoring; ifMatch: 'required'; reply: MoveDone };
}

/** Who may call what, and where. */
export const VERSIONS_ROUTES = {
  'versions.list': {
    method: 'GET',
    path: '/api/posts/:id/versions',
    who: 'enterNewsroom',
    summary: 'Versions of a post, the newest first',
  },
  'versions.compare': {
    method: 'GET',
    path: '/api/posts/:id/comparison',
    who: 'enterNewsroom',
    summary: 'Two versions of a post with what differs between their details',
  },
  'versions.name': {
    method: 'PUT',
    path: '/api/posts/:id/version-name',
    who: 'enterNewsroom',
    summary: 'Give a version of a post a name',
  },
  'versions.imported': {
    method: 'POST',
    path: '/api/posts/:id/imports',
    who: 'enterNewsroom',
    summary: 'Say that the text one put in last came from a file',
    status: 204,
  },
  'versions.pending': {
    method: 'GET',
    path: '/api/posts/:id/update',
    who: 'enterNewsroom',
    summary: 'What updating a published post would put before its readers',
  },
  'versions.update': {
    method: 'POST',
    path: '/api/posts/:id/updates',
    who: 'enterNewsroom',
    summary: 'Put what was changed in a published post before its readers',
    ifMatch: 'required',
  },
  'versions.restore': {
    method: 'POST',
    path: '/api/posts/:id/restorings',
    who: 'enterNewsroom',
    summary: 'Restore an earlier version of a post, or a passage of it',
    ifMatch: 'required',
  },
} as const satisfies RoutesOf<VersionsRoutes>;
