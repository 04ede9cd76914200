import type { Handlers } from '../http/handlers.js';
import { blogView } from './blog-view.js';
import { addSlot, changeSlot, removeSlot, weighSlot } from './slots.js';

export const slotHandlers: Handlers = {
  'slots.add': async ({ trx, person, body }) => {
    await addSlot(trx, person, body);
    return blogView(trx, person.blogId);
  },
  'slots.change': async ({ trx, person, id, body }) => {
    await changeSlot(trx, person, id, body);
    return blogView(trx, person.blogId);
  },
  'slots.remove': async ({ trx, person, id }) => {
    await removeSlot(trx, person, id);
    return blogView(trx, person.blogId);
  },
  'slots.weigh': ({ trx, person, body }) => weighSlot(trx, person, body),
};
