import type { Handlers } from '../http/handlers.js';
import { findAll } from './find.js';

export const findHandlers: Handlers = {
  'find.all': ({ trx, person, query }) => findAll(trx, person, query.words),
};
