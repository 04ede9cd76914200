import type { Request, RequestHandler } from 'express';
import { initials } from '@keyroster/core';
import type { Me } from '@keyroster/contract';
import type { Db, Queryable } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { ProblemError } from '../http/problem.js';

declare module 'express-session' {
  interface SessionData {
    personId: number;
    /** What the browser said it is, and when the session was opened; for its owner to know it by. */
    /** The blog that they work for; where nothing is said, the first of theirs. */
    blogId?: number;
    device?: string;
    since?: string;
  }
}

/**
 * Somebody as they are on a blog; null where they do not belong to it. With no blog named, on the first of theirs on
 * which they do more than read.
 */
export async function findPerson(
  db: Queryable,
  personId: number,
  blogId: number | null,
): Promise<CurrentPerson | null> {
  const row = await db('people as p')
    .join('memberships as m', 'm.person_id', 'p.id')
    .join('blogs as b', 'b.id', 'm.blog_id')
    .where({ 'p.id': personId, 'p.active': true })
    .modify((q) => {
      if (blogId !== null) void q.where('m.blog_id', blogId);
    })
    .orderByRaw(`m.role = 'reader', m.blog_id`)
    .first<(Omit<CurrentPerson, 'categories'> & { categories: number[] }) | undefined>(
      'p.id',
      'p.name',
      'p.email',
      'p.mail_mentions as mailMentions',
      'p.mail_comments as mailComments',
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
  const { id, name, email, role, categories, mailMentions, mailComments, schedules } = person;
  return {
    id,
    name,
    initials: initials(name),
    email,
    role,
    categories: [...categories],
    mailMentions,
    mailComments,
    schedules,
  };
}

/** By which a page says for which of their blogs somebody works in it: two tabs may be at two blogs. */
export const BLOG_HEADER = 'key-roster-blog';

/**
 * The blog that a request names, in its header or, where it has none of ours, in its address; no route sees
 * it there.
 */
function blogAsked(req: Request): number | null {
  const url = new URL(req.url, 'http://here');
  const asked = req.get(BLOG_HEADER) ?? url.searchParams.get('blog');
  if (url.searchParams.has('blog')) {
    url.searchParams.delete('blog');
    req.url = `${url.pathname}${url.search}`;
  }
  return asked !== null && /^\d{1,9}$/.test(asked) ? Number(asked) : null;
}

/** Puts the signed-in person, or null, where handlers find them. */
export function authenticate(db: Db): RequestHandler {
  return async (req, res, next) => {
    const personId = req.session?.personId;
    if (!personId) {
      res.locals['person'] = null;
      return next();
    }
    const asked = blogAsked(req);
    const kept = req.session.blogId ?? null;
    const person =
      (await findPerson(db, personId, asked ?? kept)) ??
      // What was chosen once may be no longer theirs.
      (asked === null && kept !== null ? await findPerson(db, personId, null) : null);
    // Nothing is done on another blog than the one that the page was at.
    if (!person && asked !== null && (await findPerson(db, personId, null)))
      return next(
        new ProblemError('not-yours', 'You do not belong to that blog any more. Choose another one.'),
      );
    res.locals['person'] = person;
    next();
  };
}
