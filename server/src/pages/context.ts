import type { Queryable } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Settings } from '../settings.js';
import { HTML, eta, helpers } from './templates.js';
import type { Page } from './cache.js';
import { STAFF_DEEDS, isUndoable, type DoneDeed } from './staff-deeds.js';
import { shownPanels, type ShownPanel } from './panels.js';
import type { ReaderBlog } from './reader-blog.js';

/** What every page is made from. */
export interface Context {
  db: Queryable;
  blog: ReaderBlog;
  settings: Settings;
  /** What stands beside the posts; the same on all pages, so made once. */
  panels: ShownPanel[];
  /** Who of the newsroom looks at it; left out for readers. */
  person?: CurrentPerson | null;
  /** Where on the blog they are, and what was just done from there. */
  here?: string;
  did?: DoneDeed | null;
  /** A look that is only tried: its style sheet stands in the page itself, and links lead nowhere. */
  trying?: boolean;
}

export const pageContext = async (
  db: Queryable,
  blog: ReaderBlog,
  settings: Settings,
  panels = () => shownPanels(db, blog),
): Promise<Context> => ({ db, blog, settings, panels: await panels() });

/** What the frame of a page asks for. */
interface Frame {
  title: string | null;
  /** Kept out of search engines. */
  noindex?: boolean;
  [more: string]: unknown;
}

/** A page in the frame of its blog. */
export function framed(
  { blog, settings, panels, person = null, here = '/', did, trying = false }: Omit<Context, 'db'>,
  template: string,
  { tags = ['lists'], status = 200, ...frame }: Frame & { tags?: readonly string[]; status?: number },
): Page {
  const body = eta.render(template, {
    ...helpers,
    blog,
    settings,
    panels,
    person,
    here,
    did: did ? { ...did, sentence: STAFF_DEEDS[did.deed], undoable: isUndoable(did) } : null,
    trying,
    ...frame,
  });
  return { status, type: HTML, body, tags };
}
