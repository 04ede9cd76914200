import type { Handlers } from '../http/routing.js';
import { askToApply } from './apply.js';
import { erasePosts, restorePosts, weighErasing } from './bin.js';
import { archiveNames, dropFilter, keepFilter, listFilters } from './filters.js';
import { archiveCounts, archiveCsv, archiveIds, archiveRows, pickRows } from './find.js';
import { batchItems, chooseItems, listBatches, previewBatch, previewTakingBack, seeBatch } from './preview.js';

export const archiveHandlers: Handlers = {
  'archive.rows': ({ trx, person, query }) => archiveRows(trx, person, query),
  'archive.ids': async ({ trx, person, query, res }) => {
    res.type('json').send(await archiveIds(trx, person, query));
    return undefined as never;
  },
  'archive.counts': ({ trx, person, query }) => archiveCounts(trx, person, query),
  'archive.pick': ({ trx, person, query }) => pickRows(trx, person, query),
  'archive.names': ({ trx, person }) => archiveNames(trx, person.blogId),
  'archive.csv': async ({ trx, person, query, res }) => {
    const csv = await archiveCsv(trx, person, query);
    res.set({ 'Content-Type': 'text/csv; charset=utf-8', 'Content-Disposition': 'attachment; filename="archive.csv"', 'Cache-Control': 'no-store' }).send(csv);
    return undefined as never;
  },
  'filters.list': ({ trx, person }) => listFilters(trx, person),
  'filters.add': ({ trx, person, body }) => keepFilter(trx, person, body),
  'filters.remove': ({ trx, person, id }) => dropFilter(trx, person, id),
  'batches.list': ({ trx, person }) => listBatches(trx, person),
  'batches.preview': ({ trx, person, body }) => previewBatch(trx, person, body),
  'batches.see': ({ trx, person, id }) => seeBatch(trx, person, id),
  'batches.items': ({ trx, person, id, query }) => batchItems(trx, person, id, query),
  'batches.choose': ({ trx, person, id, body }) => chooseItems(trx, person, id, body),
  'batches.apply': ({ trx, person, id }) => askToApply(trx, person, id),
  'batches.takeBack': ({ trx, person, id, body }) => previewTakingBack(trx, person, id, body.force ?? false),
  'bin.restore': ({ trx, person, body }) => restorePosts(trx, person, body.ids),
  'bin.weigh': ({ trx, person, query }) => weighErasing(trx, person, query.ids),
  'bin.erase': ({ trx, person, body }) => erasePosts(trx, person, body.ids),
};
