import type { FindQuery, Found } from '../planner/types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface FindRoutes {
  'find.all': { query: FindQuery; reply: Found };
}

/** Who may call what, and where. */
export const FIND_ROUTES = {
  'find.all': {
    method: 'GET',
    path: '/api/find',
    who: 'enterNewsroom',
    summary: 'Find posts and people by words',
  },
} as const satisfies RoutesOf<FindRoutes>;
