import { prepared, type Handlers } from '../http/handlers.js';
import { emit } from '../live/live.js';
import { storeFile } from './files.js';
import { storeDrawn, redraw } from './store-picture.js';
import { changeMedia, listMedia, seeMedia } from './library.js';
import { replaceMedia } from './replace.js';
import { crop, lighter } from './redraw.js';

export const mediaHandlers: Handlers = {
  'media.add': prepared(
    ({ file }) => redraw(file.bytes),
    async ({ trx, person, file }, drawn) => {
      const kept = await storeDrawn(trx, person, drawn, { name: file.name });
      await emit(trx, { blogId: person.blogId, kind: 'media', personId: person.id });
      return kept;
    },
  ),
  'media.list': ({ trx, person, query }) => listMedia(trx, person.blogId, query),
  'media.see': ({ trx, person, id }) => seeMedia(trx, person, id),
  'media.change': ({ id, body, ...change }) => changeMedia(change, id, body),
  'media.weigh': async ({ trx, person, id, query, res }) => {
    const { data, info, quality } = await lighter(trx, person.blogId, id, query.bytes);
    res
      .set({
        'Content-Type': `image/${info.format}`,
        'X-Picture': JSON.stringify({ bytes: data.length, width: info.width, height: info.height, quality }),
        'X-Content-Type-Options': 'nosniff',
      })
      .send(data);
    return undefined as never;
  },
  'media.lighten': prepared(
    ({ services, person, id, body }) => lighter(services.db, person.blogId, id, body.bytes),
    ({ trx, person, id }, drawn) => storeDrawn(trx, person, drawn, { madeFromId: id }),
  ),
  'media.crop': prepared(
    ({ services, person, id, body }) => crop(services.db, person.blogId, id, body),
    ({ trx, person, id }, drawn) => storeDrawn(trx, person, drawn, { madeFromId: id }),
  ),
  'media.replace': ({ trx, person, id, body }) => replaceMedia(trx, person, id, body.with),
  'files.add': ({ trx, person, file }) => storeFile(trx, person, file),
};
