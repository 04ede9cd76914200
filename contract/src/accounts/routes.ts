import type {
  DemoPerson,
  Me,
  MeChanges,
  NewPassword,
  NewPerson,
  NewToken,
  PersonChanges,
  PersonView,
  SessionView,
  SetUp,
  SignIn,
  TokenList,
  TokenMade,
} from './types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface AccountsRoutes {
  'session.see': { reply: SessionView };
  'session.open': { body: SignIn; reply: SessionView };
  'session.choose': { body: { blogId: number }; reply: SessionView };
  'session.close': { reply: null };
  'session.closeAll': { reply: null };
  'setup.make': { body: SetUp; reply: SessionView };
  'demo.people': { reply: DemoPerson[] };
  'me.change': { body: MeChanges; reply: Me };
  'me.password': { body: NewPassword; reply: null };
  'tokens.list': { reply: TokenList };
  'tokens.make': { body: NewToken; reply: TokenMade };
  'tokens.revoke': { id: true; reply: null };
  'people.list': { reply: PersonView[] };
  'people.add': { body: NewPerson; reply: PersonView };
  'people.change': { id: true; body: PersonChanges; reply: PersonView };
}

/** Who may call what, and where. */
export const ACCOUNTS_ROUTES = {
  'session.see': { method: 'GET', path: '/api/session', who: 'anyone', summary: 'Who is signed in' },
  'session.open': { method: 'POST', path: '/api/session', who: 'anyone', summary: 'Sign in' },
  'session.choose': {
    method: 'POST',
    path: '/api/session/blog',
    who: 'signed in',
    summary: 'Work for another of one’s blogs from now on; a page may name one in its requests instead',
  },
  'session.close': {
    method: 'DELETE',
    path: '/api/session',
    who: 'signed in',
    summary: 'Sign out here',
    status: 204,
  },
  'session.closeAll': {
    method: 'DELETE',
    path: '/api/sessions',
    who: 'signed in',
    summary: 'Sign out everywhere',
    status: 204,
  },
  'setup.make': {
    method: 'POST',
    path: '/api/setup',
    who: 'anyone',
    summary: 'Make the blog and the managing editor’s account, once',
    status: 201,
  },
  'demo.people': {
    method: 'GET',
    path: '/api/demo/people',
    who: 'anyone',
    summary: 'The demo people and their passwords (with the demo only)',
  },
  'me.change': {
    method: 'PATCH',
    path: '/api/me',
    who: 'enterNewsroom',
    summary: 'Change what one wishes for oneself',
  },
  'me.password': {
    method: 'PUT',
    path: '/api/me/password',
    who: 'signed in',
    summary: 'Change one’s own password, and sign out everywhere else',
    status: 204,
  },
  'tokens.list': {
    method: 'GET',
    path: '/api/tokens',
    who: 'enterNewsroom',
    summary: 'One’s own keys for writing tools; the managing editor sees everybody’s',
  },
  'tokens.make': {
    method: 'POST',
    path: '/api/tokens',
    who: 'enterNewsroom',
    summary: 'Make a key for a writing tool',
    status: 201,
  },
  'tokens.revoke': {
    method: 'DELETE',
    path: '/api/tokens/:id',
    who: 'enterNewsroom',
    summary: 'End a key',
    status: 204,
  },
  'people.list': {
    method: 'GET',
    path: '/api/people',
    who: 'enterNewsroom',
    summary: 'The people of the newsroom',
  },
  'people.add': {
    method: 'POST',
    path: '/api/people',
    who: 'managePeople',
    summary: 'Add a person',
    status: 201,
  },
  'people.change': {
    method: 'PATCH',
    path: '/api/people/:id',
    who: 'managePeople',
    saves: 'person',
    summary: 'Change a person',
  },
} as const satisfies RoutesOf<AccountsRoutes>;
