import type { RoutesOf } from '../route.js';
import type {
  NewSpecial,
  SpecialDraft,
  SpecialLine,
  SpecialPublished,
  SpecialTried,
  SpecialView,
} from './types.js';

/** What goes in and comes out of each route. */
export interface SpecialsRoutes {
  'specials.list': { reply: SpecialLine[] };
  'specials.add': { body: NewSpecial; reply: SpecialView };
  'specials.see': { id: true; reply: SpecialView };
  'specials.change': { id: true; body: SpecialDraft; reply: SpecialView };
  'specials.publish': { id: true; body: SpecialPublished; reply: SpecialView };
  'specials.remove': { id: true; reply: null };
  'specials.try': { id: true; body: SpecialTried; reply: { html: string } };
  'specials.export': { id: true; reply: never };
}

/** Who may call what, and where. */
export const SPECIALS_ROUTES = {
  'specials.list': {
    method: 'GET',
    path: '/api/specials',
    who: 'makeSpecials',
    summary: 'Specials, with how many posts each has and whether readers see it',
  },
  'specials.add': {
    method: 'POST',
    path: '/api/specials',
    who: 'makeSpecials',
    summary: 'Begin a special; nobody sees it before it is published',
    status: 201,
  },
  'specials.see': {
    method: 'GET',
    path: '/api/specials/:id',
    who: 'makeSpecials',
    summary: 'A special: its cover, its posts in order, its look, and what is to be known of it',
  },
  'specials.change': {
    method: 'PUT',
    path: '/api/specials/:id',
    who: 'makeSpecials',
    saves: 'special',
    summary: 'Change a special; of one that is published, readers see it at once',
  },
  'specials.publish': {
    method: 'POST',
    path: '/api/specials/:id/published',
    who: 'makeSpecials',
    saves: 'special',
    summary: 'Show a special to readers, or take it from them',
  },
  'specials.remove': {
    method: 'DELETE',
    path: '/api/specials/:id',
    who: 'makeSpecials',
    saves: 'special',
    summary: 'Delete a special; its posts stay where they are',
    status: 204,
  },
  'specials.try': {
    method: 'POST',
    path: '/api/specials/:id/try',
    who: 'makeSpecials',
    summary: 'A page of a special as it would be, changing nothing',
  },
  'specials.export': {
    method: 'GET',
    path: '/api/specials/:id/files',
    who: 'makeSpecials',
    summary: 'A special as a zip of plain files that can be read without a connection',
  },
} as const satisfies RoutesOf<SpecialsRoutes>;
