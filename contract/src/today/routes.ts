import type { RunwayView, TodayView } from '../planner/types.js';
import type { ReviewView } from './types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface TodayRoutes {
  'runway.see': { reply: RunwayView };
  'review.list': { reply: ReviewView };
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
  'review.list': {
    method: 'GET',
    path: '/api/review',
    who: 'enterNewsroom',
    summary: 'What waits for the person who asks to read it',
  },
  'today.see': {
    method: 'GET',
    path: '/api/today',
    who: 'enterNewsroom',
    summary: 'What needs the person who asks',
  },
} as const satisfies RoutesOf<TodayRoutes>;
