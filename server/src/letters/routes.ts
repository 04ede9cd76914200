import type { Handlers } from '../http/handlers.js';
import { prepared } from '../http/handlers.js';
import { ProblemError } from '../http/problem.js';
import {
  addLetter,
  builtLetter,
  changeLetter,
  previewLetter,
  removeLetter,
  resumeLetter,
  sendToAll,
  settleDoubt,
  stopLetter,
} from './letters.js';
import { PostOffice } from './post-office.js';
import { letterOfPost } from './of-post.js';
import { visiblePost } from '../posts/visible.js';
import { listLetters, seeLetter } from './store.js';
import { leftSignal } from '../http/left.js';
import { sendCsv } from '../http/send-csv.js';
import { progressOf } from '../work/progress.js';
import {
  SUBSCRIBER_COLUMNS,
  importSubscribers,
  readSubscriberFile,
  subscriberRows,
} from './subscriber-file.js';
import {
  addSubscriber,
  changeSubscriber,
  listSubscribers,
  removeSubscriber,
  restoreSubscribers,
} from './subscribers.js';
import { NIL_KEY } from '@keyroster/core';

export const letterHandlers: Handlers = {
  'subscribers.list': ({ trx, person, query }) => listSubscribers(trx, person, query),
  'subscribers.add': ({ trx, person, body }) => addSubscriber(trx, person, body),
  'subscribers.change': ({ id, body, ...change }) => changeSubscriber(change, id, body),
  'subscribers.remove': ({ id, ...change }) => removeSubscriber(change, id),
  'subscribers.restore': ({ trx, person, body }) => restoreSubscribers(trx, person, body),
  'subscribers.import': prepared(
    async ({ services, person, file, query, res }) => {
      const progress = progressOf(services.db, person, query.task);
      return readSubscriberFile(services.db, file, progress, leftSignal(res)).finally(progress.end);
    },
    ({ trx, person }, found) => importSubscribers(trx, person, found),
  ),
  'subscribers.export': async ({ services, person, res }) => {
    const rows = subscriberRows(services.db, person.blogId);
    await sendCsv(res, 'subscribers.csv', SUBSCRIBER_COLUMNS, rows);
    return undefined as never;
  },
  'letters.list': ({ trx, person }) => listLetters(trx, person),
  'letters.add': ({ trx, person, body }) => addLetter(trx, person, body),
  'letters.ofPost': async ({ trx, person, id }) => letterOfPost(trx, await visiblePost(trx, person, id)),
  'letters.see': ({ trx, person, id }) => seeLetter(trx, person, id),
  'letters.change': ({ id, body, ...change }) => changeLetter(change, id, body),
  'letters.remove': ({ id, ...change }) => removeLetter(change, id),
  'letters.preview': ({ trx, person, id, services }) => previewLetter(trx, person, id, services.settings),
  // Calling a mail server takes its time: it is done while no connection is held.
  'letters.try': prepared(
    async ({ person, id, services }) => {
      const { db, settings } = services;
      const { mailServer } = settings;
      if (!mailServer)
        throw new ProblemError('demands', 'No mail server is set up (MAIL_SERVER): nothing can be sent.');
      const built = await builtLetter(db, person, id, settings);
      const { email } = (await db('people').where({ id: person.id }).first<{ email: string }>('email'))!;
      const office = new PostOffice({ ...settings, mailServer });
      const to = { email, name: person.name, key: NIL_KEY };
      const delivery = await office.deliver(built, person.blogId, to, { trial: true });
      office.close();
      if (delivery.outcome !== 'sent')
        throw new ProblemError('unavailable', `It did not go out. ${delivery.fault}`);
      return email;
    },
    (_call, to) => ({ to }),
  ),
  'letters.send': ({ id, services, ...change }) => sendToAll(change, id, services.settings),
  'letters.stop': ({ trx, person, id }) => stopLetter(trx, person, id),
  'letters.resume': ({ trx, person, id }) => resumeLetter(trx, person, id),
  'letters.settle': ({ trx, person, id, body }) => settleDoubt(trx, person, id, body),
};
