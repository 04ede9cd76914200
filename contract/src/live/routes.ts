import type { RoutesOf } from '../route.js';
import type { TaskKey, TaskView } from './types.js';

/** What goes in and comes out of each route. */
export interface LiveRoutes {
  'events.stream': { reply: never };
  'openapi.see': { reply: unknown };
  'tasks.see': { query: TaskKey; reply: { task: TaskView | null } };
}

/** Who may call what, and where. */
export const LIVE_ROUTES = {
  'events.stream': {
    method: 'GET',
    path: '/api/events',
    who: 'enterNewsroom',
    summary: 'Server-sent events of what changed',
  },
  'tasks.see': {
    method: 'GET',
    path: '/api/tasks',
    who: 'enterNewsroom',
    summary: 'How far work is that one sent under a key: how many come first, and how much is done',
  },
  'openapi.see': { method: 'GET', path: '/api/openapi.json', who: 'anyone', summary: 'This description' },
} as const satisfies RoutesOf<LiveRoutes>;
