import type {
  ArchiveCounts,
  ArchiveIds,
  ArchiveNames,
  ArchiveQuery,
  ArchiveRows,
  BatchItemView,
  BatchItemsQuery,
  BatchPreview,
  BatchView,
  BinAsked,
  BinDone,
  ItemChanges,
  KeptFilter,
  NewBatch,
  NewKeptFilter,
  PickQuery,
  PickedRows,
  RevertAsked,
} from './types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface ArchiveRoutes {
  'archive.rows': { query: ArchiveQuery; reply: ArchiveRows };
  'archive.ids': { query: ArchiveQuery; reply: ArchiveIds };
  'archive.counts': { query: ArchiveQuery; reply: ArchiveCounts };
  'archive.pick': { query: PickQuery; reply: PickedRows };
  'archive.names': { reply: ArchiveNames };
  'archive.csv': { query: ArchiveQuery; reply: never };
  'filters.list': { reply: KeptFilter[] };
  'filters.add': { body: NewKeptFilter; reply: KeptFilter[] };
  'filters.remove': { id: true; reply: KeptFilter[] };
  'batches.list': { reply: BatchView[] };
  'batches.preview': { body: NewBatch; reply: BatchPreview };
  'batches.see': { id: true; reply: BatchPreview };
  'batches.items': { id: true; query: BatchItemsQuery; reply: BatchItemView[] };
  'batches.choose': { id: true; body: ItemChanges; reply: BatchPreview };
  'batches.apply': { id: true; body: object; reply: BatchView };
  'batches.cancel': { id: true; body: object; reply: null };
  'batches.revert': { id: true; body: RevertAsked; reply: BatchPreview };
  'batches.undo': { id: true; body: object; reply: BatchView };
  'bin.restore': { body: BinAsked; reply: BinDone };
  'bin.weigh': { body: BinAsked; reply: BinDone };
  'bin.erase': { body: BinAsked; reply: BinDone };
}

/** Who may call what, and where. */
export const ARCHIVE_ROUTES = {
  'archive.rows': {
    method: 'GET',
    path: '/api/archive',
    who: 'enterNewsroom',
    summary: 'The first posts that match a filter line',
  },
  'archive.ids': {
    method: 'GET',
    path: '/api/archive/ids',
    who: 'enterNewsroom',
    summary: 'The numbers of all posts that match, in order',
  },
  'archive.counts': {
    method: 'GET',
    path: '/api/archive/counts',
    who: 'enterNewsroom',
    summary: 'How many posts match, by stage',
  },
  'archive.pick': {
    method: 'GET',
    path: '/api/archive/picked',
    who: 'enterNewsroom',
    summary: 'Rows of the table by number, with the places where words were found',
  },
  'archive.names': {
    method: 'GET',
    path: '/api/archive/names',
    who: 'enterNewsroom',
    summary: 'Names that filter lines and batches use',
  },
  'archive.csv': {
    method: 'GET',
    path: '/api/archive.csv',
    who: 'enterNewsroom',
    summary: 'The table as CSV',
  },
  'filters.list': {
    method: 'GET',
    path: '/api/filters',
    who: 'enterNewsroom',
    summary: 'Filters kept under a name: one’s own and shared ones',
  },
  'filters.add': {
    method: 'POST',
    path: '/api/filters',
    who: 'enterNewsroom',
    summary: 'Keep a filter',
    status: 201,
  },
  'filters.remove': {
    method: 'DELETE',
    path: '/api/filters/:id',
    who: 'enterNewsroom',
    summary: 'Let a kept filter go',
  },
  'batches.list': { method: 'GET', path: '/api/batches', who: 'changeMany', summary: 'The last 100 batches' },
  'batches.preview': {
    method: 'POST',
    path: '/api/batches',
    who: 'changeMany',
    summary: 'Preview a change to many posts; nothing is written',
    status: 201,
  },
  'batches.see': {
    method: 'GET',
    path: '/api/batches/:id',
    who: 'changeMany',
    summary: 'One batch and how far it is',
  },
  'batches.items': {
    method: 'GET',
    path: '/api/batches/:id/items',
    who: 'changeMany',
    summary: 'What a batch does, post by post',
  },
  'batches.choose': {
    method: 'PATCH',
    path: '/api/batches/:id',
    who: 'changeMany',
    summary: 'Leave posts out of a previewed batch, or take them in again',
  },
  'batches.apply': {
    method: 'POST',
    path: '/api/batches/:id/apply',
    who: 'changeMany',
    summary: 'Apply a previewed batch, all of it or nothing',
    status: 201,
  },
  'batches.cancel': {
    method: 'POST',
    path: '/api/batches/:id/cancel',
    who: 'changeMany',
    summary: 'Stop looking through posts, or let a preview go; nothing is written',
  },
  'batches.revert': {
    method: 'POST',
    path: '/api/batches/:id/back',
    who: 'changeMany',
    summary: 'Preview what taking a batch back does',
    status: 201,
  },
  'batches.undo': {
    method: 'POST',
    path: '/api/batches/:id/undo',
    who: 'changeMany',
    summary: 'Take a batch of not too many posts back at once',
    status: 201,
  },
  'bin.restore': {
    method: 'POST',
    path: '/api/bin/restored',
    who: 'changeMany',
    summary: 'Take posts out of the bin, as drafts',
  },
  'bin.weigh': {
    method: 'POST',
    path: '/api/bin/erasing',
    who: 'manageBlog',
    summary: 'What is erased together with posts, in a sentence',
  },
  'bin.erase': {
    method: 'POST',
    path: '/api/bin/erased',
    who: 'manageBlog',
    summary: 'Erase binned posts permanently',
  },
} as const satisfies RoutesOf<ArchiveRoutes>;
