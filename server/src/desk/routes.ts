import type { Handlers } from '../http/routing.js';
import { visiblePost, visiblePostToChange } from '../posts/routes.js';
import { previewPage } from '../site/pages.js';
import { bringInFile } from './bring-in.js';
import { addNote, listNotes, settleNote } from './notes.js';
import { storeBody } from './store-body.js';

export const deskHandlers: Handlers = {
  'body.store': async ({ trx, person, id, body, ifMatch, res }) => {
    const stored = await storeBody(trx, await visiblePostToChange(trx, person, id), person, body.body, ifMatch);
    res.set('ETag', `"${stored.version}"`);
    return stored;
  },
  'bringIn.convert': ({ trx, person, file }) => bringInFile(trx, person, file),
  'notes.list': async ({ trx, person, id }) => listNotes(trx, (await visiblePost(trx, person, id)).id),
  'notes.add': async ({ trx, person, id, body }) => addNote(trx, await visiblePostToChange(trx, person, id), person, body),
  'notes.change': ({ trx, person, id, body }) => settleNote(trx, person, id, body.settled),
  'preview.see': async ({ trx, person, id, services, res }) => {
    const post = await visiblePost(trx, person, id);
    res.set({ 'Content-Security-Policy': "default-src 'none'; img-src 'self'; style-src 'self'; font-src 'self'; frame-ancestors 'self'", 'X-Frame-Options': 'SAMEORIGIN', 'Cache-Control': 'no-store' });
    return previewPage(trx, services.settings, post);
  },
};
