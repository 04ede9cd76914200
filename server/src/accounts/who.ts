import type { RequestHandler } from 'express';
import { initials } from '@keyroster/core';
import type { Me } from '@keyroster/contract';
import type { Db, Reader } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';

declare module 'express-session' {
  interface SessionData {
    personId: number;
    /** What the browser said it is, and when the session was opened; for its owner to know it by. */
    device?: string;
    since?: string;
  }
}

export async function findPerson(db: Reader, personId: number): Promise<CurrentPerson | null> {
  const row = await db('people as p')
    .join('memberships as m', 'm.person_id', 'p.id')
    .join('blogs as b', 'b.id', 'm.blog_id')
    .where({ 'p.id': personId, 'p.active': true })
    .orderBy('m.blog_id')
    .first<(Omit<CurrentPerson, 'categories'> & { categories: number[] }) | undefined>(
      'p.id',
      'p.name',
      'p.email',
      'p.mail_mentions as mailMentions',
      'm.role',
      'm.blog_id as blogId',
      db.raw(`coalesce((b.site ->> 'editorsSchedule')::boolean, true) as schedules`),
      db.raw(
        `
          array(
            select
              category_id
            from
              editor_categories e
            where
              e.person_id = p.id
              and e.blog_id = m.blog_id
            order by
              1
          ) as categories
        `,
      ),
    );
  return row ?? null;
}

export function meOf(person: CurrentPerson): Me {
  const { id, name, email, role, categories, mailMentions, schedules } = person;
  return {
    id,
    name,
    initials: initials(name),
    email,
    role,
    categories: [...categories],
    mailMentions,
    schedules,
  };
}

/** Puts the signed-in person, or null, where handlers find them. */
export function authenticate(db: Db): RequestHandler {
  return async (req, res, next) => {
    const personId = req.session?.personId;
    res.locals['person'] = personId ? await findPerson(db, personId) : null;
    next();
  };
}
