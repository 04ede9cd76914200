import type { Handlers } from '../http/handlers.js';
import { listChanges } from './list.js';

export const changeHandlers: Handlers = {
  'changes.list': ({ trx, person, query }) => listChanges(trx, person, query),
};
