import type { RunwayView, TodayView } from '../planner/types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface TodayRoutes {
  'runway.see': { reply: RunwayView };
  'today.see': { reply: TodayView };
}

/** Who may call what, and where. */
export const TODAY_ROUTES = {
  'runway.see': {
    method: 'GET',
    path: '/api/runway',
    who: 'enterNewsroom',
    summary: 'How far the calendar is covered',
  },
  'today.see': {
    method: 'GET',
    path: '/api/today',
    who: 'enterNewsroom',
    summary: 'What needs the person who asks',
  },
} as const satisfies RoutesOf<TodayRoutes>;
