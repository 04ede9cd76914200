import { fileURLToPath } from 'node:url';
import { Eta } from 'eta';
import {
  LOOKS,
  escapeHtml,
  formatDate,
  formatList,
  lookCss,
  pictureHtml,
  readingMinutes,
  type LookTokens,
} from '@keyroster/core';
import type { ReaderBlog } from './reader-blog.js';
import type { RenderedPost } from './readers.js';

export const eta = new Eta({
  views: fileURLToPath(new URL('../../templates', import.meta.url)),
  cache: true,
  autoEscape: true,
});

export const HTML = 'text/html; charset=utf-8';

const longDate = (local: string) => `${formatDate(local)} ${local.slice(0, 4)}`;

/** One fact shown with a post, in the order of the registry of facts. */
interface Fact {
  kind: string;
  text?: string;
  before?: string;
  datetime?: string;
  links?: { label: string; href: string }[];
}

/** What the look tells of a post beside title and text. */
function factsOf(blog: ReaderBlog, post: RenderedPost, minutes: number, modified?: string): Fact[] {
  const categories = [
    { label: post.category, slug: post.categorySlug },
    { label: post.secondCategory, slug: post.secondCategorySlug },
  ].flatMap(({ label, slug }) =>
    label === null ? [] : [{ label, href: `${blog.prefix}/category/${slug}` }],
  );
  const updated = modified !== undefined && modified.slice(0, 10) > post.runAt.slice(0, 10) ? modified : null;
  const facts: Record<Look['facts'][number], Fact | null> = {
    byline: { kind: 'byline' },
    date: { kind: 'date', before: '', datetime: post.runAt, text: longDate(post.runLocal) },
    updated: updated
      ? { kind: 'updated', before: 'updated ', datetime: updated, text: longDate(updated) }
      : null,
    category: categories.length > 0 ? { kind: 'category', links: categories } : null,
    'reading time': minutes > 0 ? { kind: 'reading time', text: `${minutes} min` } : null,
    place: post.place ? { kind: 'place', text: post.place } : null,
  };
  return blog.look.facts.flatMap((fact) => facts[fact] ?? []);
}
type Look = ReaderBlog['look'];

/** Writers as links to their own pages, as a sentence lists them. */
const writersHtml = (blog: ReaderBlog, writers: RenderedPost['writers']): string =>
  formatList(
    writers.map(({ name, slug }) =>
      slug === null
        ? escapeHtml(name)
        : `<a rel="author" href="${blog.prefix}/writer/${slug}">${escapeHtml(name)}</a>`,
    ),
  );

/** A path of the blog where it stands; a whole address as it is. */
const within = (blog: ReaderBlog, href: string): string =>
  href.startsWith('/') ? `${blog.prefix}${href}` : href;

/** A picture that is the largest thing seen first is asked for before faces and other pictures. */
const FIRST_SEEN = ' fetchpriority="high"';

export const helpers = {
  FIRST_SEEN,
  pictureHtml,
  formatDate: longDate,
  readingMinutes,
  names: formatList,
  lookCss,
  tokens: (blog: ReaderBlog): LookTokens => LOOKS[blog.look.look],
  told: factsOf,
  writersHtml,
  within,
};
