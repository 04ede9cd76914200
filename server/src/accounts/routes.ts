import type { SessionView } from '@keyroster/contract';
import type { Reader } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import type { Handlers } from '../http/routing.js';
import type { Services } from '../services.js';
import { blogView } from '../site/blog.js';
import { addPerson, changePerson, endSessions, listPeople, setUp } from './people.js';
import { openSession, signIn, type SignInGuard } from './sign-in.js';
import { findPerson, meOf, type CurrentPerson } from './who.js';

async function sessionView(db: Reader, services: Services, person: CurrentPerson | null): Promise<SessionView> {
  const needsSetup = person ? false : !(await db('people').first('id'));
  return { me: person && meOf(person), blog: person && (await blogView(db, person.blogId)), needsSetup, demo: services.settings.demo };
}

export function accountHandlers(guard: SignInGuard): Handlers {
  return {
    'session.see': ({ trx, services, person }) => sessionView(trx, services, person),
    'session.open': async ({ trx, services, req, body }) => sessionView(trx, services, await signIn(trx, guard, req, body)),
    'session.close': ({ req, res }) => new Promise((resolve, reject) => {
      req.session.destroy((error: unknown) => {
        if (error) return reject(error instanceof Error ? error : new Error('session'));
        res.clearCookie('key_roster');
        resolve(null);
      });
    }),
    'session.closeAll': async ({ trx, res, person }) => {
      await endSessions(trx, person.id);
      res.clearCookie('key_roster');
      return null;
    },
    'setup.make': async ({ trx, services, req, body }) => {
      const id = await setUp(trx, body, services.settings.publicUrl);
      await openSession(req, id);
      return sessionView(trx, services, await findPerson(trx, id));
    },
    'demo.people': async ({ trx, services }) => {
      if (!services.settings.demo) throw notFound('The demo');
      return trx('demo_people as d').join('people as p', 'p.id', 'd.person_id').join('memberships as m', 'm.person_id', 'p.id').where('p.active', true).orderBy('d.person_id')
        .select('p.name', 'm.role', 'p.email', 'd.password');
    },
    'people.list': ({ trx, person }) => listPeople(trx, person.blogId),
    'people.add': async ({ trx, person, body }) => {
      const id = await addPerson(trx, person.blogId, body);
      return (await listPeople(trx, person.blogId)).find((p) => p.id === id)!;
    },
    'people.change': async ({ trx, person, id, body }) => {
      await changePerson(trx, person, id, body);
      const changed = (await listPeople(trx, person.blogId)).find((p) => p.id === id);
      if (!changed) throw new ProblemError('not-found', 'That person is not here.');
      return changed;
    },
  };
}
