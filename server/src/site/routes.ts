import type { Handlers } from '../http/routing.js';
import { addCategory, changeBlog, changeCategory } from './blog.js';

export const siteHandlers: Handlers = {
  'blog.change': ({ trx, person, body }) => changeBlog(trx, person, body),
  'categories.add': ({ trx, person, body }) => addCategory(trx, person, body),
  'categories.change': ({ trx, person, id, body }) => changeCategory(trx, person, id, body),
};
