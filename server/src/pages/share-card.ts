import type { RequestHandler } from 'express';
import { idOfShortCode, shortCode, type CardAsk } from '@keyroster/core';
import { readable } from '../access/readable.js';
import type { Queryable } from '../db/connect.js';
import { sendTagged } from '../http/etag.js';
import type { Services } from '../http/services.js';
import { drawnCard } from '../work/cards.js';
import { originOf } from './linked-data.js';
import type { Places } from './places.js';
import type { ReaderBlog } from './reader-blog.js';
import type { RenderedPost } from './readers.js';

const PATH = /^\/s\/(\w{5})\/card\.png$/;

/** What is shown where a post is shared: its picture, or else its card. */
export interface ShareImage {
  url: string;
  /** What it shows; empty where nothing is said of it. */
  alt: string;
}

/** Null where there is no picture, and not everybody may read the post: its card is for everybody. */
export function shareImageOf(
  blog: Pick<ReaderBlog, 'home' | 'root' | 'rights'>,
  post: Pick<RenderedPost, 'id' | 'title' | 'shareSrc' | 'shareAlt'>,
): ShareImage | null {
  if (post.shareSrc) return { url: `${originOf(blog.home)}${blog.root}${post.shareSrc}`, alt: post.shareAlt };
  return blog.rights === null
    ? { url: `${blog.home}/s/${shortCode(post.id)}/card.png`, alt: post.title }
    : null;
}

/** What is on the card of a post that everybody may read; null where there is none. */
async function askOf(db: Queryable, blogId: number, postId: number): Promise<CardAsk | null> {
  const post = await readable(db, { id: blogId })
    .leftJoin('categories as c', 'c.id', 'posts.category_id')
    .join('blogs as b', 'b.id', 'posts.blog_id')
    .where('posts.id', postId)
    .first<{ title: string; hue: number | null; blog: string } | undefined>(
      'posts.title',
      'c.hue',
      'b.title as blog',
    );
  return post
    ? {
        words: post.title,
        foot: post.blog.toUpperCase(),
        style: 'wedge',
        shape: 'landscape',
        palette: post.hue ?? 0,
      }
    : null;
}

/** Serves the cards of posts, by their short addresses, to everybody. */
export function shareCards({ db, places }: Services & { places: Places }): RequestHandler {
  return async (req, res, next) => {
    if (!req.path.endsWith('/card.png') || (req.method !== 'GET' && req.method !== 'HEAD')) return next();
    const at = await places.find(req.headers.host, req.path);
    const code = at && PATH.exec(at.path)?.[1];
    const id = code ? idOfShortCode(code) : null;
    const ask = at && id !== null ? await askOf(db, at.place.id, id) : null;
    if (!ask) return next();
    res.set({ 'Cache-Control': 'public, max-age=3600', 'Cross-Origin-Resource-Policy': 'cross-origin' });
    sendTagged(req, res.type('png'), await drawnCard(ask));
  };
}
