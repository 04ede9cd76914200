import type { Handlers } from '../http/handlers.js';
import { log } from '../log.js';
import { pageContext, type Context } from '../pages/context.js';
import { readerBlog } from '../pages/reader-blog.js';
import { coverPage, openSpecial, partPage } from '../pages/special-pages.js';
import type { Queryable } from '../db/connect.js';
import type { Settings } from '../settings.js';
import { notFound } from '../http/problem.js';
import { writeOffline } from './export.js';
import {
  addSpecial,
  changeSpecial,
  draftOf,
  findSpecial,
  listSpecials,
  publishSpecial,
  removeSpecial,
  seeSpecial,
} from './specials.js';

/** The blog as readers who bring nothing have it, without the panels, which a special does not show. */
const blogContext = async (db: Queryable, settings: Settings, blogId: number): Promise<Context> =>
  pageContext(db, (await readerBlog(db, settings, blogId))!, settings, () => Promise.resolve([]));

export const specialHandlers: Handlers = {
  'specials.list': ({ trx, person, services }) => listSpecials(trx, person, services.settings),
  'specials.add': ({ trx, person, body, services }) => addSpecial(trx, person, body, services.settings),
  'specials.see': ({ trx, person, id, services }) => seeSpecial(trx, person, id, services.settings),
  'specials.change': ({ id, body, services, ...change }) =>
    changeSpecial(change, id, body, services.settings),
  'specials.publish': ({ id, body, services, ...change }) =>
    publishSpecial(change, id, body, services.settings),
  'specials.remove': ({ id, ...change }) => removeSpecial(change, id),
  'specials.try': async ({ trx, person, id, body: { page, ...draft }, services }) => {
    const special = await draftOf(trx, person, id, draft);
    const context = { ...(await blogContext(trx, services.settings, person.blogId)), trying: true };
    const open = await openSpecial(context, special);
    const slug = open.parts.find((p) => p?.id === page)?.slug;
    const shown = slug === undefined ? null : await partPage(context, open, slug);
    return { html: (shown ?? (await coverPage(context, open))).body };
  },
  'specials.export': async ({ person, id, services, res }) => {
    const { db, settings } = services;
    const special = await findSpecial(db, person.blogId, id);
    const context = await blogContext(db, settings, person.blogId);
    const open = await openSpecial(context, special);
    if (!open.parts.some((p) => p !== null)) throw notFound('A post of it that everybody may read');
    res.set({
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename="${special.slug}.zip"`,
    });
    // What is cut off half-way must not look whole.
    await writeOffline(context, open, res).catch((error: unknown) => {
      log.warn({ err: error, special: id }, 'a special as files');
      res.destroy();
    });
    return undefined as never;
  },
};
