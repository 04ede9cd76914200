import type { Handlers } from '../http/routing.js';
import { addCategory, addSlot, changeBlog, changeCategory, removeSlot } from './blog.js';

export const siteHandlers: Handlers = {
  'blog.change': ({ trx, person, body }) => changeBlog(trx, person, body),
  'categories.add': ({ trx, person, body }) => addCategory(trx, person, body),
  'categories.change': ({ trx, person, id, body }) => changeCategory(trx, person, id, body),
  'slots.add': ({ trx, person, body }) => addSlot(trx, person, body),
  'slots.remove': ({ trx, person, id }) => removeSlot(trx, person, id),
};
