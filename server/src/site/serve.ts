import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Request, RequestHandler, Response } from 'express';
import { roleMay } from '@keyroster/core';
import { SESSION_COOKIE } from '../accounts/session.js';
import type { CurrentPerson } from '../http/current-person.js';
import { log } from '../log.js';
import type { Services } from '../http/services.js';
import type { Notifier } from '../live/live.js';
import type { PageCache } from './cache.js';
import type { ReadCounter } from './reads.js';
import { SECURITY, type KeptPage, type Page } from './cache.js';
import { sendPage } from './answer.js';
import { pageAt, staffPageAt } from './pages.js';

const READ = 'GET, HEAD';
/** What is only ever read, beside the readers' pages. */
const ONLY_READ = /^\/(?:desk|media|files|assets|calendar|outlets|healthz|readyz)(?:\/|$)/;

/** The last word on a request: 405 with what is allowed where only the method is wrong, else 404. */
export function nothingHere({ db, settings, pages }: Services & { pages: PageCache }): RequestHandler {
  return async (req, res) => {
    const readable =
      req.method !== 'GET' &&
      req.method !== 'HEAD' &&
      (ONLY_READ.test(req.path) ||
        (
          await pages.get(
            req.path,
            Date.now(),
            async () => (await pageAt(db, settings, req.path)) ?? NOT_SET_UP,
          )
        ).status === 200);
    if (readable)
      res.status(405).set('Allow', READ).type('text').send('This address can only be read: GET or HEAD.');
    else res.status(404).type('text').send('There is nothing at this address.');
  };
}

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
  services: Services & { live: Notifier; pages: PageCache; reads: ReadCounter },
  staff: readonly RequestHandler[],
): ReadersSide {
  const { db, settings, pages, live, reads } = services;
  live.onEvent((event) => {
    if (event === 'gap' || event.kind === 'blog' || event.kind === 'people' || event.kind === 'batch')
      pages.forget();
    else if (event.kind === 'release') pages.forget(['lists', `post:${event.postId}`]);
  });

  const askStaff = (req: Request, res: Response, missing: KeptPage): void => {
    const [session, authenticate] = staff;
    const fail = (error: unknown) => {
      log.error({ err: error, path: req.path }, 'staff page');
      if (!res.headersSent) sendPage(req, res, missing);
    };
    const answer = async () => {
      const person = res.locals['person'] as CurrentPerson | null;
      const page =
        person && roleMay(person.role, 'enterNewsroom') ? await staffPageAt(db, settings, req.path) : null;
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

  const handler: RequestHandler = (req, res, next) => {
    const path = pathOf(req.url);
    if ((req.method !== 'GET' && req.method !== 'HEAD') || ELSEWHERE.test(path)) return next();
    const send = (page: KeptPage) => {
      // What nobody may read is perhaps for staff: only who brings a session is asked.
      if (page.status === 404 && req.headers.cookie?.includes(`${SESSION_COOKIE}=`)) askStaff(req, res, page);
      else sendRead(req, res, page);
    };
    if (path.length > 200) {
      res.status(404).type('text').send('There is nothing at this address.');
      return;
    }
    pages
      .get(path, Date.now(), async () => {
        return (await pageAt(db, settings, path)) ?? NOT_SET_UP;
      })
      .then(send)
      .catch((error: unknown) => {
        log.error({ err: error, path }, 'reader page');
        if (!res.headersSent)
          res
            .status(503)
            .type('text')
            .send('The blog cannot be reached just now. Please try again in a moment.');
      });
  };

  return {
    answerKept: (req, res) => {
      if (req.method !== 'GET' && req.method !== 'HEAD') return false;
      const page = pages.peek(pathOf(req.url ?? ''), Date.now());
      if (!page) return false;
      sendRead(req, res, page);
      return true;
    },
    handler,
  };
}
