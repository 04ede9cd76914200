import type { Handlers } from '../http/handlers.js';
import { visiblePost } from '../posts/visible.js';
import { onBlog } from '../pages/on-blog.js';
import { tryPage } from '../pages/pages.js';
import { setAround } from './around.js';
import { applyLook, changeSite, siteView } from './site-view.js';
import { addBlog, listBlogs, placeBlog } from './blogs.js';
import { addCategory, changeBlog, changeCategory } from './blog.js';

export const siteHandlers: Handlers = {
  'blogs.list': ({ trx, person, services }) => listBlogs(trx, person, services.settings),
  'blogs.add': ({ trx, person, body, services }) => addBlog(trx, person, body, services.settings),
  'blogs.place': ({ body, services, ...change }) => placeBlog(change, body, services.settings),
  'site.see': ({ trx, person, services }) => siteView(trx, person, services.settings),
  'site.change': ({ body, services, ...change }) => changeSite(change, body, services.settings),
  'site.look': ({ body, services, ...change }) => applyLook(change, body.look, services.settings),
  'site.around': ({ body, services, ...change }) => setAround(change, body, services.settings),
  'site.try': async ({ trx, person, body, services }) => ({
    html: await tryPage(trx, services.settings, person.blogId, body),
  }),
  'blog.change': ({ body, ...change }) => changeBlog(change, body),
  'onBlog.see': async ({ trx, person, id }) => onBlog(trx, (await visiblePost(trx, person, id)).id),
  'categories.add': ({ trx, person, body }) => addCategory(trx, person, body),
  'categories.change': ({ id, body, ...change }) => changeCategory(change, id, body),
};
