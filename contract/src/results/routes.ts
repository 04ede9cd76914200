import type { RoutesOf } from '../route.js';
import type { PlaceFigures, PlaceQuery, PostResults, ResultsQuery, ResultsView } from './types.js';

/** What goes in and comes out of each route. */
export interface ResultsRoutes {
  'results.see': { query: ResultsQuery; reply: ResultsView };
  'results.export': { query: ResultsQuery; reply: never };
  'results.post': { id: true; reply: PostResults };
  'results.place': { query: PlaceQuery; reply: PlaceFigures };
}

/** Who may call what, and where. */
export const RESULTS_ROUTES = {
  'results.see': {
    method: 'GET',
    path: '/api/results',
    who: 'seeResults',
    summary: 'What came of posts, pieces and letters in a span, beside the span before',
  },
  'results.export': {
    method: 'GET',
    path: '/api/results.csv',
    who: 'seeResults',
    summary: 'Every post that was read in a span, as CSV (RFC 4180)',
  },
  'results.post': {
    method: 'GET',
    path: '/api/posts/:id/results',
    who: 'seeResults',
    summary: 'What came of one post',
  },
  'results.place': {
    method: 'GET',
    path: '/api/results/place',
    who: 'seeResults',
    summary: 'Figures of a person, an outlet or a post in a few sentences',
  },
} as const satisfies RoutesOf<ResultsRoutes>;
