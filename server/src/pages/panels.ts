import { formatMonth, panelTitle, paragraphsOf, type Panel } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { newestComments } from './comments.js';
import { newestMonths } from './month-counts.js';
import { newestTitles, spotlitTitles } from './titles.js';
import type { ReaderBlog } from './reader-blog.js';

/** A panel with what stands in it. */
export interface ShownPanel {
  kind: Panel['kind'];
  title: string;
  paragraphs: string[];
  links: { label: string; href: string; note: string }[];
}

const plain = (links: readonly { label: string; url: string }[]) =>
  links.map(({ label, url }) => ({ label: label || url, href: url, note: '' }));

/** The panels of a blog, filled; those that would be empty are left out. */
export async function shownPanels(db: Queryable, blog: ReaderBlog): Promise<ShownPanel[]> {
  const shown: ShownPanel[] = [];
  for (const panel of blog.panels) {
    const links = await linksIn(db, blog, panel);
    const paragraphs = paragraphsOf(panel.text);
    const fills = panel.kind === 'search' || panel.kind === 'letter';
    if (links.length === 0 && paragraphs.length === 0 && !fills) continue;
    shown.push({ kind: panel.kind, title: panelTitle(panel), paragraphs, links });
  }
  return shown;
}

async function linksIn(db: Queryable, blog: ReaderBlog, panel: Panel): Promise<ShownPanel['links']> {
  switch (panel.kind) {
    case 'recent posts':
      return newestTitles(db, blog, panel.count);
    case 'recent comments':
      return newestComments(db, blog, panel.count);
    case 'spotlight':
      return spotlitTitles(db, blog);
    case 'categories':
      return blog.categories.map((c) => ({
        label: c.name,
        href: `${blog.prefix}/category/${c.slug}`,
        note: '',
      }));
    case 'months':
      return (await newestMonths(db, blog, panel.count)).map(({ month, posts }) => ({
        label: formatMonth(month),
        href: `${blog.prefix}/${month.replace('-', '/')}`,
        note: `${posts}`,
      }));
    case 'about':
    case 'links':
    case 'free text':
      return plain(panel.links);
    case 'search':
    case 'letter':
      return [];
  }
}
