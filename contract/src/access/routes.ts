import type { RoutesOf } from '../route.js';
import type {
  MemberChanges,
  MembersPage,
  MembersQuery,
  MemberView,
  NewPreviewLink,
  PreviewLinkMade,
  PreviewLinkView,
} from './types.js';

/** What goes in and comes out of each route. */
export interface AccessRoutes {
  'previewLinks.list': { id: true; reply: PreviewLinkView[] };
  'previewLinks.add': { id: true; body: NewPreviewLink; reply: PreviewLinkMade };
  'previewLinks.remove': { id: true; reply: null };
  'members.list': { query: MembersQuery; reply: MembersPage };
  'members.change': { id: true; body: MemberChanges; reply: MemberView };
  'members.remove': { id: true; reply: null };
}

/** Who may call what, and where. */
export const ACCESS_ROUTES = {
  'previewLinks.list': {
    method: 'GET',
    path: '/api/posts/:id/preview-links',
    who: 'enterNewsroom',
    summary: 'Links by which people outside see a post before it is out',
  },
  'previewLinks.add': {
    method: 'POST',
    path: '/api/posts/:id/preview-links',
    who: 'enterNewsroom',
    summary: 'Make a link by which somebody outside sees a post; its address is told once',
    status: 201,
  },
  'previewLinks.remove': {
    method: 'DELETE',
    path: '/api/preview-links/:id',
    who: 'enterNewsroom',
    summary: 'Take such a link back: it leads nowhere from now on',
    status: 204,
  },
  'members.list': {
    method: 'GET',
    path: '/api/members',
    who: 'manageBlog',
    summary: 'Readers who signed up, the newest first; at most 200',
  },
  'members.change': {
    method: 'PATCH',
    path: '/api/members/:id',
    who: 'manageBlog',
    summary: 'Shut a member out, signed out everywhere; or let them in again',
  },
  'members.remove': {
    method: 'DELETE',
    path: '/api/members/:id',
    who: 'manageBlog',
    summary: 'Delete a member with all that is kept of them',
    status: 204,
  },
} as const satisfies RoutesOf<AccessRoutes>;
