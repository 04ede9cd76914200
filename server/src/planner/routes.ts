import type { Handlers } from '../http/routing.js';
import { findAll } from './find.js';
import { sweep } from './sweep.js';
import { plannerView, runwayView, todayView } from './store.js';

export const plannerHandlers: Handlers = {
  'planner.see': ({ trx, person, query }) => plannerView(trx, person, query),
  'planner.sweep': ({ trx, person, body }) => sweep(trx, person, body.postIds),
  'runway.see': ({ trx, person }) => runwayView(trx, person),
  'today.see': ({ trx, person }) => todayView(trx, person),
  'find.all': ({ trx, person, query }) => findAll(trx, person, query.words),
};
