import type { MoveDone } from '../posts/types.js';
import type { RoutesOf } from '../route.js';
import type {
  ComparisonQuery,
  ComparisonView,
  Restoring,
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
  'versions.restore': {
    method: 'POST',
    path: '/api/posts/:id/restorings',
    who: 'enterNewsroom',
    summary: 'Restore an earlier version of a post, or a passage of it',
    ifMatch: 'required',
  },
} as const satisfies RoutesOf<VersionsRoutes>;
