import type { Handlers } from '../http/handlers.js';
import { letterCsv } from './letter.js';
import { addCategory, changeBlog, changeCategory } from './blog.js';

export const siteHandlers: Handlers = {
  'letter.list': async ({ trx, person, res }) => {
    res
      .set({
        'Content-Type': 'text/csv; charset=utf-8',
        'Content-Disposition': 'attachment; filename="letter.csv"',
      })
      .send(await letterCsv(trx, person.blogId));
    return undefined as never;
  },
  'blog.change': ({ trx, person, body }) => changeBlog(trx, person, body),
  'categories.add': ({ trx, person, body }) => addCategory(trx, person, body),
  'categories.change': ({ trx, person, id, body }) => changeCategory(trx, person, id, body),
};
