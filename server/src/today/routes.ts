import type { Handlers } from '../http/handlers.js';
import { reviewView } from './review.js';
import { runwayView } from './runway.js';
import { todayView } from './today.js';

export const todayHandlers: Handlers = {
  'runway.see': ({ trx, person }) => runwayView(trx, person),
  'review.list': ({ trx, person }) => reviewView(trx, person),
  'today.see': ({ trx, person }) => todayView(trx, person),
};
