import type { RoutesOf } from '../route.js';
import type { FirstVisit, NewSerial, SeenAs, SerialChanges, SerialView } from './types.js';

/** What goes in and comes out of each route. */
export interface SerialsRoutes {
  'serials.list': { reply: SerialView[] };
  'serials.add': { body: NewSerial; reply: SerialView };
  'serials.change': { id: true; body: SerialChanges; reply: SerialView };
  'serials.remove': { id: true; reply: null };
  'serials.seenAs': { id: true; body: FirstVisit; reply: SeenAs };
}

/** Who may call what, and where. */
export const SERIALS_ROUTES = {
  'serials.list': {
    method: 'GET',
    path: '/api/serials',
    who: 'manageSerials',
    summary: 'Serials, with when each part comes to readers and how many have it',
  },
  'serials.add': {
    method: 'POST',
    path: '/api/serials',
    who: 'manageSerials',
    summary: 'Begin a serial, without parts yet',
    status: 201,
  },
  'serials.change': {
    method: 'PUT',
    path: '/api/serials/:id',
    who: 'manageSerials',
    saves: 'serial',
    summary: 'Change a serial and its parts; what readers would lose by it must be accepted',
  },
  'serials.remove': {
    method: 'DELETE',
    path: '/api/serials/:id',
    who: 'manageSerials',
    saves: 'serial',
    summary: 'Delete a serial; its posts stay, and are before all readers at once',
    status: 204,
  },
  'serials.seenAs': {
    method: 'POST',
    path: '/api/serials/:id/seen-as',
    who: 'manageSerials',
    summary: 'The blog as a reader has it who came first at a time',
  },
} as const satisfies RoutesOf<SerialsRoutes>;
