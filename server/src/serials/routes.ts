import type { Handlers } from '../http/handlers.js';
import { seenAs } from './seen-as.js';
import { addSerial, changeSerial, listSerials, removeSerial } from './serials.js';

export const serialHandlers: Handlers = {
  'serials.list': ({ trx, person }) => listSerials(trx, person),
  'serials.add': ({ trx, person, body }) => addSerial(trx, person, body),
  'serials.change': ({ trx, person, id, body }) => changeSerial(trx, person, id, body),
  'serials.remove': ({ trx, person, id }) => removeSerial(trx, person, id),
  'serials.seenAs': ({ trx, person, id, body, services }) => seenAs(trx, person, id, body, services.settings),
};
