import type { Said } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import type { Settings } from '../settings.js';
import { fetchConfig } from './transport/micropub.js';
import { tryMail } from './transport/mail.js';
import { call } from './transport/call.js';
import { errorOutcome, outcomeOf, type Destination, type Outcome } from './transport/transport.js';
import type { OutletRow } from './outlet-row.js';
import { addresseeOf } from './destination.js';

/** Asks an outlet whether it would take a piece, and sends none. */
export async function tryOutlet(
  db: Queryable,
  person: CurrentPerson,
  id: number,
  settings: Settings,
): Promise<Said> {
  const row = await db('outlets').where({ blog_id: person.blogId, id }).first<OutletRow | undefined>();
  if (!row) throw notFound('That outlet');
  let to: Destination;
  try {
    to = await addresseeOf(db, row, settings);
  } catch {
    return {
      sentence: 'The credentials cannot be opened: they were sealed with another key. Give them again.',
    };
  }
  return { sentence: (await trial(to)).sentence };
}

async function trial(to: Destination): Promise<Outcome> {
  const fine = (sentence: string): Outcome => ({ outcome: 'sent', url: '', sentence });
  switch (to.protocol) {
    case 'micropub': {
      const asked = await fetchConfig(to);
      return 'error' in asked
        ? asked.error
        : fine(
            `${to.name} knows ` +
              `us${asked.config['media-endpoint'] ? ' and takes pictures' : ', and takes no pictures'}.`,
          );
    }
    case 'mail':
      return tryMail(to);
    default: {
      if (to.address === '') return fine('The feed is there; no hub is notified.');
      const answer = await call(to.address, { method: 'GET' }, to.allowed).catch(errorOutcome);
      if ('outcome' in answer) return answer;
      // What takes only POST says so to a GET; that is an answer, too.
      return answer.status >= 500 || (answer.status >= 300 && answer.status < 400)
        ? outcomeOf(to.name, answer)
        : fine(`${to.name} answers. Whether it takes a piece shows when one is sent.`);
    }
  }
}
