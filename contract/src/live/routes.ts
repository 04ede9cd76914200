import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface LiveRoutes {
  'events.stream': { reply: never };
  'openapi.see': { reply: unknown };
}

/** Who may call what, and where. */
export const LIVE_ROUTES = {
  'events.stream': {
    method: 'GET',
    path: '/api/events',
    who: 'enterNewsroom',
    summary: 'Server-sent events of what changed',
  },
  'openapi.see': { method: 'GET', path: '/api/openapi.json', who: 'anyone', summary: 'This description' },
} as const satisfies RoutesOf<LiveRoutes>;
