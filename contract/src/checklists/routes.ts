import type { RoutesOf } from '../route.js';
import type { ChecklistView, ChoreChanges, ChoreView, NewChecklist, NewChore } from './types.js';

/** What goes in and comes out of each route. */
export interface ChecklistsRoutes {
  'checklists.list': { reply: ChecklistView[] };
  'checklists.add': { body: NewChecklist; reply: ChecklistView };
  'checklists.change': { id: true; body: NewChecklist; reply: ChecklistView };
  'checklists.remove': { id: true; reply: null };
  'chores.list': { id: true; reply: ChoreView[] };
  'chores.add': { id: true; body: NewChore; reply: ChoreView[] };
  'chores.change': { id: true; body: ChoreChanges; reply: ChoreView };
  'chores.remove': { id: true; reply: null };
}

/** Who may call what, and where. */
export const CHECKLISTS_ROUTES = {
  'checklists.list': {
    method: 'GET',
    path: '/api/checklists',
    who: 'enterNewsroom',
    summary: 'Checklists, with their items and what they are attached to',
  },
  'checklists.add': {
    method: 'POST',
    path: '/api/checklists',
    who: 'manageTags',
    summary: 'Make a checklist; posts that it is for and that are under way get it',
    status: 201,
  },
  'checklists.change': {
    method: 'PUT',
    path: '/api/checklists/:id',
    who: 'manageTags',
    saves: 'checklist',
    summary: 'Change a checklist; what is not done yet on posts follows',
  },
  'checklists.remove': {
    method: 'DELETE',
    path: '/api/checklists/:id',
    who: 'manageTags',
    saves: 'checklist',
    summary: 'Delete a checklist; what is done on posts stays, the rest goes',
    status: 204,
  },
  'chores.list': {
    method: 'GET',
    path: '/api/posts/:id/chores',
    who: 'enterNewsroom',
    summary: 'The checklist of a post',
  },
  'chores.add': {
    method: 'POST',
    path: '/api/posts/:id/chores',
    who: 'enterNewsroom',
    summary: 'Put a checklist, or one chore, on a post by hand',
    status: 201,
  },
  'chores.change': {
    method: 'PATCH',
    path: '/api/chores/:id',
    who: 'enterNewsroom',
    saves: 'chore',
    summary: 'Say that a chore is done, or change it',
  },
  'chores.remove': {
    method: 'DELETE',
    path: '/api/chores/:id',
    who: 'enterNewsroom',
    saves: 'chore',
    summary: 'Take a chore off its post',
    status: 204,
  },
} as const satisfies RoutesOf<ChecklistsRoutes>;
