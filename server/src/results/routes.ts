import type { Handlers } from '../http/handlers.js';
import { placeFigures, postResults } from './one.js';
import { resultsCsv, seeResults } from './results.js';

export const resultHandlers: Handlers = {
  'results.see': ({ trx, person, query }) => seeResults(trx, person, query),
  'results.export': async ({ trx, person, query, res }) => {
    res
      .set({
        'Content-Type': 'text/csv; charset=utf-8',
        'Content-Disposition': 'attachment; filename="results.csv"',
      })
      .send(await resultsCsv(trx, person.blogId, query));
    return undefined as never;
  },
  'results.post': ({ trx, person, id }) => postResults(trx, person, id),
  'results.place': ({ trx, person, query }) => placeFigures(trx, person, query),
};
