import type { SessionView } from '../accounts/types.js';
import type { BatchPreview } from '../archive/types.js';
import type { RoutesOf } from '../route.js';
import type {
  Reassignment,
  InviteMade,
  InviteSecret,
  InviteSeen,
  InviteAccepted,
  InviteView,
  LoadQuery,
  LoadView,
  NewInvite,
  OwnSession,
  PersonPage,
  ProfileChanges,
} from './types.js';

/** What goes in and comes out of each route. */
export interface RosterRoutes {
  'people.see': { id: true; reply: PersonPage };
  'people.profile': { id: true; body: ProfileChanges; reply: PersonPage };
  'people.reassign': { id: true; body: Reassignment; reply: BatchPreview };
  'load.see': { query: LoadQuery; reply: LoadView };
  'invites.list': { reply: InviteView[] };
  'invites.make': { body: NewInvite; reply: InviteMade };
  'invites.revoke': { id: true; reply: null };
  'invites.see': { body: InviteSecret; reply: InviteSeen };
  'invites.accept': { body: InviteAccepted; reply: SessionView };
  'sessions.list': { reply: OwnSession[] };
  'sessions.end': { body: { session: string }; reply: null };
}

/** Who may call what, and where. */
export const ROSTER_ROUTES = {
  'people.see': {
    method: 'GET',
    path: '/api/people/:id',
    who: 'enterNewsroom',
    summary: 'One person: what they do, what they have in hand, how quick they are',
  },
  'people.profile': {
    method: 'PATCH',
    path: '/api/people/:id/profile',
    who: 'enterNewsroom',
    saves: 'profile',
    summary: 'Change what a person says of themselves: one’s own, or anybody’s for the managing editor',
  },
  'people.reassign': {
    method: 'POST',
    path: '/api/people/:id/reassign',
    who: 'changeMany',
    summary: 'Preview a batch that gives what a person has in hand to somebody else',
    status: 201,
  },
  'load.see': {
    method: 'GET',
    path: '/api/load',
    who: 'enterNewsroom',
    summary: 'What everybody has by week against what fits, and how quick they are',
  },
  'invites.list': {
    method: 'GET',
    path: '/api/invites',
    who: 'managePeople',
    summary: 'Invitations of the last weeks',
  },
  'invites.make': {
    method: 'POST',
    path: '/api/invites',
    who: 'managePeople',
    summary: 'Invite somebody by a link that expires; mailed where there is a mail server',
    status: 201,
  },
  'invites.revoke': {
    method: 'DELETE',
    path: '/api/invites/:id',
    who: 'managePeople',
    summary: 'Take an invitation back',
    status: 204,
  },
  'invites.see': {
    method: 'POST',
    path: '/api/invites/see',
    who: 'anyone',
    summary: 'What an invitation is for, by its secret',
  },
  'invites.accept': {
    method: 'POST',
    path: '/api/invites/accept',
    who: 'anyone',
    summary: 'Follow an invitation: an account, and signed in',
    status: 201,
  },
  'sessions.list': {
    method: 'GET',
    path: '/api/sessions',
    who: 'signed in',
    summary: 'Where one is signed in',
  },
  'sessions.end': {
    method: 'POST',
    path: '/api/sessions/end',
    who: 'signed in',
    summary: 'Sign out on one device',
    status: 204,
  },
} as const satisfies RoutesOf<RosterRoutes>;
