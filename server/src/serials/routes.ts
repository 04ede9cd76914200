import type { Handlers } from '../http/handlers.js';
import { seenAs } from './seen-as.js';
import { addSerial, changeSerial, listSerials, removeSerial } from './serials.js';

export const serialHandlers: Handlers = {
  'serials.list': ({ trx, person }) => listSerials(trx, person),
  'serials.add': ({ trx, person, body }) => addSerial(trx, person, body),
  'serials.change': ({ id, body, ...change }) => changeSerial(change, id, body),
  'serials.remove': ({ id, ...change }) => removeSerial(change, id),
  'serials.seenAs': ({ trx, person, id, body, services }) => seenAs(trx, person, id, body, services.settings),
};
