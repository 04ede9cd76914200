import { sessionView } from '../accounts/session-view.js';
import { hashPassword, openSession, type SignInGuard } from '../accounts/sign-in.js';
import { findPerson } from '../accounts/who.js';
import { prepared, type Handlers } from '../http/handlers.js';
import { previewHandOver } from './hand-over.js';
import { listInvites, makeInvite, revokeInvite, seeInvite, acceptInvite } from './invites.js';
import { loadView } from './load.js';
import { changeProfile, personPage } from './person.js';
import { endSession, listSessions } from './sessions.js';

export function rosterHandlers(guard: SignInGuard): Handlers {
  return {
    'people.see': ({ trx, person, id }) => personPage(trx, person, id),
    'people.profile': ({ trx, person, id, body }) => changeProfile(trx, person, id, body),
    'people.handOver': ({ trx, person, id, body }) => previewHandOver(trx, person, id, body),
    'load.see': ({ trx, person, query }) => loadView(trx, person, query),
    'invites.list': ({ trx, person }) => listInvites(trx, person.blogId),
    'invites.make': ({ trx, person, body, services }) => makeInvite(trx, person, body, services.settings),
    'invites.revoke': ({ trx, person, id }) => revokeInvite(trx, person, id),
    'invites.see': ({ trx, body }) => seeInvite(trx, body.secret),
    'invites.accept': prepared(
      async ({ services, req, body }) => {
        // Guessing secrets counts like guessing passwords; a right one is given back.
        const address = req.ip ?? 'unknown';
        await guard.count(`invitation from ${address}`, address);
        await seeInvite(services.db, body.secret);
        await guard.giveBack(`invitation from ${address}`, address);
        return hashPassword(body.password);
      },
      async ({ trx, services, req, body }, hash) => {
        const id = await acceptInvite(trx, body, hash);
        await openSession(req, id);
        return sessionView(trx, services, await findPerson(trx, id, null));
      },
    ),
    'sessions.list': ({ trx, person, req }) => listSessions(trx, person.id, req),
    'sessions.end': ({ trx, person, body }) => endSession(trx, person.id, body.session),
  };
}
