import express, { type Request, type RequestHandler, type Response } from 'express';
import type { ReaderRights } from '@keyroster/core';
import type { Services } from '../http/services.js';
import { SECURITY, type Page } from './cache.js';
import { pageContext, type Context } from './context.js';
import type { Place, Places } from './places.js';
import { readerBlog } from './reader-blog.js';

/** A request at an address of a blog: what was found in it, and what was sent by a form. */
export interface Asking {
  req: Request;
  res: Response;
  place: Place;
  found: RegExpExecArray;
  /** Fields of the form, each a text; one that was sent several times counts as not sent. */
  field(name: string): string;
}

const MAX_FORM = '32kb';
const parsed = express.urlencoded({ extended: false, limit: MAX_FORM, parameterLimit: 30 });

/**
 * Answers requests for the addresses of a blog that match; whatever blog, wherever it stands. What is for other
 * addresses passes by; what is for these goes through the guards first.
 */
export function atAddress(
  places: Places,
  method: 'GET' | 'POST',
  pattern: RegExp,
  answer: (asking: Asking) => Promise<void>,
  ...guards: RequestHandler[]
): RequestHandler[] {
  const found: RequestHandler = async (req, res, next) => {
    // What can be got can be asked for without its body (RFC 9110, section 9.3.2).
    if (req.method !== method && !(method === 'GET' && req.method === 'HEAD')) return next('router');
    const at = await places.find(req.headers.host, req.path);
    const match = at && pattern.exec(at.path);
    if (!match) return next('router');
    res.locals['asking'] = { place: at.place, found: match };
    next();
  };
  const handle: RequestHandler = async (req, res) => {
    const { place, found: match } = res.locals['asking'] as Pick<Asking, 'place' | 'found'>;
    const body = (req.body ?? {}) as Record<string, unknown>;
    const field = (name: string) => {
      const value = Object.hasOwn(body, name) ? body[name] : undefined;
      return typeof value === 'string' ? value : '';
    };
    await answer({ req, res, place, found: match, field });
  };
  return [found, ...guards, ...(method === 'POST' ? [parsed] : []), handle];
}

/** Sends a page that was made for this request alone. */
export function sendOwn(
  res: Response,
  { status, type, body }: Page,
  headers: Record<string, string> = {},
): void {
  res
    .status(status)
    .set({ ...SECURITY, 'Content-Type': type, 'Cache-Control': 'private, no-store', ...headers })
    .send(body);
}

/** What a page is made from for who asks at a place. */
export async function contextAt(
  { db, settings }: Services,
  { id, mounted }: Place,
  rights: ReaderRights | null = null,
): Promise<Context> {
  return pageContext(db, (await readerBlog(db, settings, id, { mounted, rights }))!, settings);
}

/** A path of the blog that a form says to lead back to; anything else is the front page. */
export const backPath = (text: string): string =>
  /^\/[a-z0-9-]+(?:\/[a-z0-9-]+){0,3}$/.test(text) ? text : '/';
