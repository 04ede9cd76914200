import type { Handlers } from '../http/handlers.js';
import { requestApply } from './apply.js';
import { erasePosts, restorePosts, weighErasing } from './bin.js';
import { archiveNames, deleteFilter, saveFilter, listFilters } from './filters.js';
import { archiveCounts, archiveIds, archiveRows, rowsByIds } from './find.js';
import { sendCsv } from '../http/send-csv.js';
import { ARCHIVE_CSV_COLUMNS, csvRows } from './export.js';
import { batchItems, chooseItems, listBatches, seeBatch } from './batch-views.js';
import { undoBatch } from './at-once.js';
import { cancelPreview } from './look.js';
import { previewBatch, previewRevert } from './preview.js';

export const archiveHandlers: Handlers = {
  'archive.rows': ({ trx, person, query }) => archiveRows(trx, person, query),
  'archive.ids': async ({ trx, person, query, res }) => {
    res.type('json').send(await archiveIds(trx, person, query));
    return undefined as never;
  },
  'archive.counts': ({ trx, person, query }) => archiveCounts(trx, person, query),
  'archive.pick': ({ trx, person, query }) => rowsByIds(trx, person, query),
  'archive.names': ({ trx, person }) => archiveNames(trx, person),
  'archive.csv': async ({ services, person, query, res }) => {
    res.set('Cache-Control', 'no-store');
    await sendCsv(res, 'archive.csv', ARCHIVE_CSV_COLUMNS, csvRows(services.db, person, query));
    return undefined as never;
  },
  'filters.list': ({ trx, person }) => listFilters(trx, person),
  'filters.add': ({ trx, person, body }) => saveFilter(trx, person, body),
  'filters.remove': ({ trx, person, id }) => deleteFilter(trx, person, id),
  'batches.list': ({ trx, person }) => listBatches(trx, person),
  'batches.preview': ({ trx, person, body }) => previewBatch(trx, person, body),
  'batches.see': ({ trx, person, id }) => seeBatch(trx, person, id),
  'batches.items': ({ trx, person, id, query }) => batchItems(trx, person, id, query),
  'batches.choose': ({ trx, person, id, body }) => chooseItems(trx, person, id, body),
  'batches.apply': ({ trx, person, id }) => requestApply(trx, person, id),
  'batches.cancel': ({ trx, person, id }) => cancelPreview(trx, person, id),
  'batches.revert': ({ trx, person, id, body }) => previewRevert(trx, person, id, body.force ?? false),
  'batches.undo': ({ trx, person, id }) => undoBatch(trx, person, id),
  'bin.restore': ({ trx, person, body }) => restorePosts(trx, person, body.ids),
  'bin.weigh': ({ trx, person, body }) => weighErasing(trx, person, body.ids),
  'bin.erase': ({ trx, person, body }) => erasePosts(trx, person, body.ids),
};
