import type { Handlers } from '../http/routing.js';
import { tell } from '../live/live.js';
import { keepFile } from './files.js';
import { keepPicture } from './keep-picture.js';
import { changeMedia, listMedia, replaceMedia, seeMedia } from './library.js';
import { crop, keepLighter, lighter } from './redraw.js';

export const mediaHandlers: Handlers = {
  'media.add': async ({ trx, person, file }) => {
    const kept = await keepPicture(trx, person, file.bytes, { name: file.name });
    await tell(trx, { blogId: person.blogId, kind: 'media', personId: person.id });
    return kept;
  },
  'media.list': ({ trx, person, query }) => listMedia(trx, person.blogId, query),
  'media.see': ({ trx, person, id }) => seeMedia(trx, person, id),
  'media.change': ({ trx, person, id, body }) => changeMedia(trx, person, id, body),
  'media.weigh': async ({ trx, person, id, query, res }) => {
    const { data, info, quality } = await lighter(trx, person.blogId, id, query.bytes);
    res.set({ 'Content-Type': `image/${info.format}`, 'X-Picture': JSON.stringify({ bytes: data.length, width: info.width, height: info.height, quality }), 'X-Content-Type-Options': 'nosniff' }).send(data);
    return undefined as never;
  },
  'media.lighten': ({ trx, person, id, body }) => keepLighter(trx, person, id, body.bytes),
  'media.crop': ({ trx, person, id, body }) => crop(trx, person, id, body),
  'media.replace': ({ trx, person, id, body }) => replaceMedia(trx, person, id, body.with),
  'files.add': ({ trx, person, file }) => keepFile(trx, person, file),
};
