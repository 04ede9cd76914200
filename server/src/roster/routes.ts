import { sessionView } from '../accounts/session-view.js';
import { accountOf } from '../accounts/people.js';
import { hashPassword, openSession, provenOwner } from '../accounts/sign-in.js';
import type { SignInGuard } from '../accounts/sign-in-guard.js';
import { findPerson } from '../accounts/who.js';
import { addressOf } from '../http/address-of.js';
import { prepared, type Handlers } from '../http/handlers.js';
import { previewReassign } from './reassign.js';
import { acceptInvite, listInvites, makeInvite, revokeInvite, seeInvite, type Accepting } from './invites.js';
import { loadView } from './load.js';
import { changeProfile, personPage } from './person.js';
import { endSession, listSessions } from './sessions.js';

export function rosterHandlers(guard: SignInGuard): Handlers {
  return {
    'people.see': ({ trx, person, id }) => personPage(trx, person, id),
    'people.profile': ({ id, body, ...change }) => changeProfile(change, id, body),
    'people.reassign': ({ trx, person, id, body }) => previewReassign(trx, person, id, body),
    'load.see': ({ trx, person, query }) => loadView(trx, person, query),
    'invites.list': ({ trx, person }) => listInvites(trx, person.blogId),
    'invites.make': ({ trx, person, body, services }) => makeInvite(trx, person, body, services.settings),
    'invites.revoke': ({ trx, person, id }) => revokeInvite(trx, person, id),
    'invites.see': ({ trx, body }) => seeInvite(trx, body.secret),
    'invites.accept': prepared(
      async ({ services, req, body }) => {
        // Guessing secrets counts like guessing passwords; a right one is given back.
        const guessing = `invitation from ${addressOf(req)}`;
        await guard.count(guessing, req);
        const { email } = await seeInvite(services.db, body.secret);
        await guard.giveBack(guessing, req);
        const account = await accountOf(services.db, email);
        if (!account) return { passwordHash: await hashPassword(body.password) };
        return { personId: await provenOwner(guard, req, { ...account, email }, body.password) };
      },
      async ({ trx, services, req, body }, accepting: Accepting) => {
        const id = await acceptInvite(trx, body, accepting);
        await openSession(req, id);
        return sessionView(trx, services, await findPerson(trx, id, null));
      },
    ),
    'sessions.list': ({ trx, person, req }) => listSessions(trx, person.id, req),
    'sessions.end': ({ trx, person, body }) => endSession(trx, person.id, body.session),
  };
}
