import type { SessionView } from '@keyroster/contract';
import type { Reader } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Services } from '../http/services.js';
import { blogView } from '../slots/blog-view.js';
import { meOf } from './who.js';

/** Who is signed in and where, as the newsroom is told. */
export async function sessionView(
  db: Reader,
  services: Services,
  person: CurrentPerson | null,
): Promise<SessionView> {
  const needsSetup = person ? false : !(await db('people').first('id'));
  return {
    me: person && meOf(person),
    blog: person && (await blogView(db, person.blogId)),
    needsSetup,
    demo: services.settings.demo,
    mails: services.settings.mailServer !== null,
  };
}
