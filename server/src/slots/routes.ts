import type { Handlers } from '../http/handlers.js';
import { blogView } from './blog-view.js';
import { addSlot, changeSlot, removeSlot, weighSlot } from './slots.js';

export const slotHandlers: Handlers = {
  'slots.add': async ({ trx, person, body }) => {
    await addSlot(trx, person, body);
    return blogView(trx, person.blogId);
  },
  'slots.change': async ({ id, body, ...change }) => {
    await changeSlot(change, id, body);
    return blogView(change.trx, change.person.blogId);
  },
  'slots.remove': async ({ id, ...change }) => {
    await removeSlot(change, id);
    return blogView(change.trx, change.person.blogId);
  },
  'slots.weigh': ({ trx, person, body }) => weighSlot(trx, person, body),
};
