import {
  NIL_KEY,
  bodyText,
  countedLinks,
  formatList,
  letterHtml,
  letterText,
  type LetterContent,
  type LetterPost,
  type SiteSettings,
} from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import type { Settings } from '../settings.js';
import { originOf } from '../pages/linked-data.js';
import { readerBlog, type ReaderBlog } from '../pages/reader-blog.js';
import { readerPosts, renderPosts, type ReaderPost, type RenderedPost } from '../pages/readers.js';

/** A letter as it is kept while it goes out, with the nil key where each recipient's own comes. */
export interface BuiltLetter {
  subject: string;
  html: string;
  text: string;
  /** Addresses whose clicks are counted, by their numbers. */
  urls: string[];
  /** What List-Id and the sender's name say. */
  blog: { title: string; home: string };
}

export interface LetterSource {
  id: number;
  blogId: number;
  subject: string;
  intro: string;
  whole: boolean;
}

/** The width of pictures in letters, twice for sharp screens. */
const PICTURE = 'landscape.jpg';

const postOf = (blog: ReaderBlog, found: ReaderPost, post: RenderedPost, whole: boolean): LetterPost => {
  const origin = originOf(blog.home);
  const by = formatList(post.writers.map((w) => w.name));
  return {
    title: post.title,
    url: `${origin}${post.path}`,
    facts: [by && `by ${by}`, post.category].filter(Boolean).join(', '),
    excerpt: post.excerpt,
    whole: whole ? { html: post.html, text: bodyText(found.body) } : null,
    picture:
      post.leadMedia === null
        ? null
        : { url: `${origin}${blog.root}/media/${post.leadMedia}/${PICTURE}`, alt: post.leadAlt },
  };
};

/** Posts in the order of a letter, as everybody may read them; others are left out. */
export async function lettersPosts(
  db: Queryable,
  blog: ReaderBlog,
  ids: readonly number[],
): Promise<ReaderPost[]> {
  if (ids.length === 0) return [];
  const found = await readerPosts(db, blog, { limit: ids.length, ids });
  return ids.flatMap((id) => found.filter((p) => p.id === id));
}

/** Builds a letter from what everybody may read of its posts. Nothing of who gets it is in it yet. */
export async function buildLetter(
  db: Queryable,
  letter: LetterSource,
  postIds: readonly number[],
  settings: Pick<Settings, 'publicUrl'>,
): Promise<BuiltLetter> {
  const blog = (await readerBlog(db, settings, letter.blogId))!;
  const found = await lettersPosts(db, blog, postIds);
  const rendered = await renderPosts(db, blog, found, 'whole, for elsewhere');
  const at = (path: string) => `${blog.home}/letter/${path}`;
  const content: LetterContent = {
    blog: { title: blog.title, home: blog.home },
    subject: letter.subject,
    intro: letter.intro,
    posts: rendered.map((post, i) => postOf(blog, found[i]!, post, letter.whole)),
    leaveUrl: at(`leave/${NIL_KEY}`),
  };
  const counts: Pick<SiteSettings, 'letterOpens' | 'letterClicks'> = blog.settings;
  const html = letterHtml(content, counts.letterOpens ? at(`seen/${NIL_KEY}.gif`) : null);
  const counted = counts.letterClicks
    ? countedLinks(html, content.leaveUrl, (n) => at(`to/${NIL_KEY}/${n}`))
    : { html, urls: [] };
  return { subject: letter.subject, text: letterText(content), ...counted, blog: content.blog };
}
