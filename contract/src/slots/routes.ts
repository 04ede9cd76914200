import type { BlogView } from '../accounts/types.js';
import type { NewSlot, SlotAnswer, SlotQuestion } from '../planner/types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface SlotsRoutes {
  'slots.add': { body: NewSlot; reply: BlogView };
  'slots.change': { id: true; body: NewSlot; reply: BlogView };
  'slots.weigh': { body: SlotQuestion; reply: SlotAnswer };
  'slots.remove': { id: true; reply: BlogView };
}

/** Who may call what, and where. */
export const SLOTS_ROUTES = {
  'slots.add': {
    method: 'POST',
    path: '/api/slots',
    who: 'manageBlog',
    summary: 'Add a standing slot',
    status: 201,
  },
  'slots.change': {
    method: 'PATCH',
    path: '/api/slots/:id',
    who: 'manageBlog',
    saves: 'slot',
    summary: 'Change a standing slot; posts keep their run times',
  },
  'slots.weigh': {
    method: 'POST',
    path: '/api/slots/weigh',
    who: 'manageBlog',
    summary: 'What a change of standing slots would do; changes nothing',
  },
  'slots.remove': {
    method: 'DELETE',
    path: '/api/slots/:id',
    who: 'manageBlog',
    saves: 'slot',
    summary: 'Remove a standing slot; posts keep their run times',
  },
} as const satisfies RoutesOf<SlotsRoutes>;
