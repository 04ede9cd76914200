import { roleMay } from '@keyroster/core';
import { notFound } from '../http/problem.js';
import { prepared, type Handlers } from '../http/handlers.js';
import { sessionView } from './session-view.js';
import { tokenHandlers } from './tokens.js';
import { addToBlog, changePerson, endSessions, listPeople, setUp } from './people.js';
import { hashPassword, newPasswordOf, openSession, signIn } from './sign-in.js';
import type { SignInGuard } from './sign-in-guard.js';
import { findPerson, meOf } from './who.js';

export function accountHandlers(guard: SignInGuard): Handlers {
  return {
    'session.see': ({ trx, services, person }) => sessionView(trx, services, person),
    'session.open': prepared(
      ({ services, req, res, body }) => signIn(services.db, guard, req, res, body, services.settings),
      ({ trx, services }, person) => sessionView(trx, services, person),
    ),
    'session.choose': async ({ trx, services, req, person, body }) => {
      const there = await findPerson(trx, person.id, body.blogId);
      if (!there || !roleMay(there.role, 'enterNewsroom')) throw notFound('That blog');
      req.session.blogId = body.blogId;
      return sessionView(trx, services, there);
    },
    'session.close': ({ req, res }) =>
      new Promise((resolve, reject) => {
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
    'setup.make': prepared(
      ({ body }) => hashPassword(body.password),
      async ({ trx, services, req, body }, hash) => {
        const id = await setUp(trx, body, hash, services.settings.publicUrl);
        await openSession(req, id);
        return sessionView(trx, services, await findPerson(trx, id, null));
      },
    ),
    'demo.people': async ({ trx, services }) => {
      if (!services.settings.demo) throw notFound('The demo');
      return (
        trx('demo_people as d')
          .join('people as p', 'p.id', 'd.person_id')
          .join('memberships as m', 'm.person_id', 'p.id')
          .where('p.active', true)
          // Of somebody's blogs the one that they come to first.
          .distinctOn('d.person_id')
          .orderByRaw(`d.person_id, m.role = 'reader', m.blog_id`)
          .select('p.name', 'm.role', 'p.email', 'd.password')
      );
    },
    'me.change': async ({ trx, person, body }) => {
      if (body.mailMentions !== undefined)
        await trx('people').where({ id: person.id }).update({ mail_mentions: body.mailMentions });
      if (body.mailComments !== undefined)
        await trx('people').where({ id: person.id }).update({ mail_comments: body.mailComments });
      return meOf((await findPerson(trx, person.id, person.blogId))!);
    },
    'me.password': prepared(
      ({ services, req, person, body }) => newPasswordOf(services.db, guard, req, person, body),
      async ({ trx, req, person }, hash) => {
        await trx('people').where({ id: person.id }).update({ password_hash: hash });
        await endSessions(trx, person.id, req.sessionID);
        return null;
      },
    ),
    ...tokenHandlers,
    'people.list': ({ trx, person }) => listPeople(trx, person),
    'people.add': prepared(
      ({ body }) => hashPassword(body.password),
      async ({ trx, person, body }, hash) => {
        const id = await addToBlog(trx, person, body, hash);
        return (await listPeople(trx, person)).find((p) => p.id === id)!;
      },
    ),
    'people.change': prepared(
      async ({ body }) => (body.password === undefined ? null : hashPassword(body.password)),
      ({ id, body, ...change }, hash) => changePerson(change, id, body, hash),
    ),
  };
}
