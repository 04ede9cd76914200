import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Request, RequestHandler, Response } from 'express';
import { roleMay } from '@keyroster/core';
import { SESSION_COOKIE } from '../accounts/session.js';
import { findPerson } from '../accounts/who.js';
import type { CurrentPerson } from '../http/current-person.js';
import { log } from '../log.js';
import type { Services } from '../http/services.js';
import type { Notifier } from '../live/live.js';
import type { ReadCounter } from './reads.js';
import { PageCache, SECURITY, type KeptPage, type Page } from './cache.js';
import { sendPage } from './answer.js';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { pageAt, staffPageAt } from './pages.js';
import type { Place, Places } from './places.js';
import { plainQuery } from './search.js';

const READ = 'GET, HEAD';
/** What is only ever read, beside the readers' pages. */
const ONLY_READ = /^\/(?:desk|media|files|assets|calendar|outlets|healthz|readyz)(?:\/|$)/;

/** The last word on a request: 405 with what is allowed where only the method is wrong, else 404. */
export function nothingHere({
  db,
  settings,
  pages,
  places,
}: Services & { pages: PageCache; places: Places }): RequestHandler {
  const statusOf = async (host: string | undefined, path: string): Promise<number> => {
    const at = await places.find(host, path);
    if (!at) return NOT_SET_UP.status;
    const make = async () => (await pageAt(db, settings, at.path, pageOf(at.place))) ?? NOT_SET_UP;
    return (await pages.get(keyOf(at.place, at.path), Date.now(), make)).status;
  };
  return async (req, res) => {
    const readable =
      req.method !== 'GET' &&
      req.method !== 'HEAD' &&
      (ONLY_READ.test(req.path) || (await statusOf(req.headers.host, req.path)) === 200);
    if (readable)
      res.status(405).set('Allow', READ).type('text').send('This address can only be read: GET or HEAD.');
    else res.status(404).type('text').send('There is nothing at this address.');
  };
}

const TOO_MANY_SEARCHES = 'That were many searches in a minute. Please try again in a moment.';
const queryOf = (req: Request): string =>
  new URLSearchParams(req.url.slice(pathOf(req.url).length)).get('q') ?? '';

const NOT_SET_UP: Page = {
  status: 503,
  type: 'text/plain; charset=utf-8',
  body: 'This blog has not been set up yet. Its managing editor can do so at /desk.',
  tags: [],
};

/** First parts of paths that are not the readers'. */
const ELSEWHERE = /^\/(?:desk|api|media|files|assets|calendar|healthz|readyz)(?:\/|$)/;

const pathOf = (url: string): string => {
  const query = url.indexOf('?');
  return query < 0 ? url : url.slice(0, query);
};

/** Pages are kept by blog and path: nothing else that a request says is part of the key, so none can poison another. */
const keyOf = ({ id, mounted }: Place, path: string): string => `${id}${mounted ? '~' : ''}${path}`;
const pageOf = ({ id, mounted }: Place) => ({ blogId: id, mounted });
/** Searches that are kept; on shelves of their own, so that questions never push pages out. */
const MAX_SEARCH_BYTES = 4 * 1024 * 1024;
/** Searches of one address in a minute; more is a machine. */
const MAX_SEARCHES = 60;

export interface ReadersSide {
  /** Answers at once with a page that is kept, before anything else looks at the request. False when there is none. */
  answerKept(req: IncomingMessage, res: ServerResponse): boolean;
  handler: RequestHandler;
}

/**
 * Serves the readers' pages from the cache. Listens for what changes, so that a page is never older than the
 * last notification.
 */
export function readersSide(
  services: Services & { live: Notifier; pages: PageCache; places: Places; reads: ReadCounter },
  staff: readonly RequestHandler[],
): ReadersSide {
  const { db, settings, pages, places, live, reads } = services;
  const searches = new PageCache({ maxBytes: MAX_SEARCH_BYTES, lifeMs: 60_000 });
  const limiter = new RateLimiterMemory({ points: MAX_SEARCHES, duration: 60 });
  live.onEvent((event) => {
    if (event === 'gap' || event.kind === 'blog') void places.refresh();
    searches.forget();
    if (event === 'gap' || event.kind === 'blog' || event.kind === 'people' || event.kind === 'batch')
      pages.forget();
    else if (event.kind === 'release') pages.forget(['lists', `post:${event.postId}`]);
  });

  const askStaff = (req: Request, res: Response, missing: KeptPage, path: string, blogId: number): void => {
    const [session, authenticate] = staff;
    const fail = (error: unknown) => {
      log.error({ err: error, path: req.path }, 'staff page');
      if (!res.headersSent) sendPage(req, res, missing);
    };
    const answer = async () => {
      // As they are on this blog, whichever of theirs they are at.
      const asks = res.locals['person'] as CurrentPerson | null;
      const person = asks && (await findPerson(db, asks.id, blogId));
      const page =
        person && roleMay(person.role, 'enterNewsroom')
          ? await staffPageAt(db, settings, path, blogId)
          : null;
      if (!page) return sendPage(req, res, missing);
      res
        .set({ ...SECURITY, 'Content-Type': page.type, 'Cache-Control': 'private, no-store' })
        .send(req.method === 'HEAD' ? undefined : page.body);
    };
    void session!(req, res, (error: unknown) =>
      error
        ? fail(error)
        : void Promise.resolve(
            authenticate!(
              req,
              res,
              (problem: unknown) => void (problem ? fail(problem) : answer().catch(fail)),
            ),
          ).catch(fail),
    );
  };

  const sendRead = (req: IncomingMessage, res: ServerResponse, page: KeptPage): void => {
    if (page.postId !== null && req.method === 'GET') reads.count(page.postId, req.headers['user-agent']);
    sendPage(req, res, page);
  };

  const unreachable = (res: Response, path: string, error: unknown): void => {
    log.error({ err: error, path }, 'reader page');
    if (!res.headersSent)
      res.status(503).type('text').send('The blog cannot be reached just now. Please try again in a moment.');
  };

  const answer = async (req: Request, res: Response, whole: string): Promise<void> => {
    const at = await places.find(req.headers.host, whole);
    if (!at && !places.none) {
      res.status(404).type('text').send('There is nothing at this address.');
      return;
    }
    if (!at) {
      res.status(NOT_SET_UP.status).type('text').send(NOT_SET_UP.body);
      return;
    }
    const { place, path } = at;
    const query = path === '/search' ? plainQuery(queryOf(req)) : '';
    const make = (asked?: string) => async () =>
      (await pageAt(db, settings, path, { ...pageOf(place), query: asked })) ?? NOT_SET_UP;
    if (query !== '') {
      const key = keyOf(place, `?${query}`);
      if (!searches.peek(key, Date.now())) {
        try {
          await limiter.consume(req.ip ?? '');
        } catch {
          res.status(429).set('Retry-After', '60').type('text').send(TOO_MANY_SEARCHES);
          return;
        }
      }
      sendPage(req, res, await searches.get(key, Date.now(), make(query)));
      return;
    }
    const page = await pages.get(keyOf(place, path), Date.now(), make());
    // What nobody may read is perhaps for staff: only who brings a session is asked.
    if (page.status === 404 && req.headers.cookie?.includes(`${SESSION_COOKIE}=`))
      askStaff(req, res, page, path, place.id);
    else sendRead(req, res, page);
  };

  const handler: RequestHandler = (req, res, next) => {
    const path = pathOf(req.url);
    if ((req.method !== 'GET' && req.method !== 'HEAD') || ELSEWHERE.test(path)) return next();
    if (path.length > 200) {
      res.status(404).type('text').send('There is nothing at this address.');
      return;
    }
    answer(req, res, path).catch((error: unknown) => unreachable(res, path, error));
  };

  return {
    answerKept: (req, res) => {
      if (req.method !== 'GET' && req.method !== 'HEAD') return false;
      const url = req.url ?? '';
      const whole = pathOf(url);
      const at = places.at(req.headers.host, whole);
      // A search is not kept by its path.
      if (!at || (whole !== url && at.path === '/search')) return false;
      const page = pages.peek(keyOf(at.place, at.path), Date.now());
      if (!page) return false;
      sendRead(req, res, page);
      return true;
    },
    handler,
  };
}
