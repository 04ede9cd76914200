import type { BlogRef, SessionView } from '@keyroster/contract';
import type { Queryable } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Services } from '../http/services.js';
import { blogView } from '../slots/blog-view.js';
import { meOf } from './who.js';

/** The blogs on which somebody does more than read. */
const blogsOf = (db: Queryable, personId: number): Promise<BlogRef[]> =>
  db('memberships as m')
    .join('blogs as b', 'b.id', 'm.blog_id')
    .where('m.person_id', personId)
    .whereNot('m.role', 'reader')
    .orderBy('b.id')
    .select<BlogRef[]>('b.id', 'b.title', 'b.home', 'm.role');

/** Who is signed in and where, as the newsroom is told. */
export async function sessionView(
  db: Queryable,
  services: Services,
  person: CurrentPerson | null,
): Promise<SessionView> {
  const needsSetup = person ? false : !(await db('people').first('id'));
  return {
    me: person && meOf(person),
    blog: person && (await blogView(db, person.blogId)),
    blogs: person ? await blogsOf(db, person.id) : [],
    needsSetup,
    demo: services.settings.demo,
    mails: services.settings.mailServer !== null,
  };
}
