import type { RoutesOf } from '../route.js';
import type { ChangesPage, ChangesQuery } from './types.js';

/** What goes in and comes out of each route. */
export interface ChangesRoutes {
  'changes.list': { query: ChangesQuery; reply: ChangesPage };
  'changes.undo': { id: true; body: object; reply: null };
}

/** Who may call what, and where. */
export const CHANGES_ROUTES = {
  'changes.list': {
    method: 'GET',
    path: '/api/changes',
    who: 'manageBlog',
    summary: 'Who changed what when, from what to what, the newest first',
  },
  'changes.undo': {
    method: 'POST',
    path: '/api/changes/:id/undo',
    who: 'manageBlog',
    summary: 'Puts back what a change replaced, where nobody changed it since',
    status: 204,
  },
} as const satisfies RoutesOf<ChangesRoutes>;
