import type { IncomingMessage, ServerResponse } from 'node:http';
import { addressOf } from '../http/address-of.js';
import type { Request, RequestHandler, Response } from 'express';
import { MAX_DELAY, anybody } from '@keyroster/core';
import { visitCookie, type Identities, type ReaderIdentity } from '../access/identity.js';
import type { VisitCounter } from '../access/visits.js';
import { log } from '../log.js';
import type { Services } from '../http/services.js';
import type { Notifier } from '../live/live.js';
import { isReader, type ReadCounter } from './reads.js';
import { PageCache, type KeptPage, type Page } from './cache.js';
import { sendPage } from './answer.js';
import { hasSession, type RequesterOf } from './requester.js';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { sendOwn } from './forms.js';
import { Kept } from './kept.js';
import { pageAt } from './pages.js';
import type { ShownPanel } from './panels.js';
import { cookiePath, type Place, type Places } from './places.js';
import { doneDeedIn, type DoneDeed } from './staff-deeds.js';
import { SPECIAL_TAG } from './special-pages.js';
import { HTML } from './templates.js';
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

const didOf = (req: Request): DoneDeed | null =>
  doneDeedIn(new URLSearchParams(req.url.slice(pathOf(req.url).length)));

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
const keyOf = ({ id, mounted, special }: Place, path: string): string =>
  `${id}${mounted ? '~' : ''}${special ? '!' : ''}${path}`;
const pageOf = ({ id, mounted, special }: Place) => ({
  blogId: id,
  mounted,
  ofSpecial: special !== undefined,
});
/** Searches that are kept; on shelves of their own, so that questions never push pages out. */
const MAX_SEARCH_BYTES = 4 * 1024 * 1024;
/** Pages of readers who may read more than everybody, or other parts of serials. */
const MAX_OWN_BYTES = 32 * 1024 * 1024;
/** Searches of one address in a minute; more is a machine. */
const MAX_SEARCHES = 60;

/** What is the same for every reader: nothing of members, passwords or parts that come later is ever in it. */
const SAME_FOR_ALL = /\/feed\.(?:atom|rss|json)$|^\/(?:sitemap\.xml|robots\.txt|look\.css)$|^\/special\//;
/** Made by what is asked, and not kept by their path. */
const SEARCHES = /^\/search(?:\/feed\.(?:atom|rss|json))?$/;
const STAFF: ReaderIdentity = {
  rights: { ...anybody(), staff: true },
  key: 'staff',
  firstVisit: null,
  memberId: null,
};

/** A first visit is remembered for as long as any part can be late. */
const VISIT_SECONDS = (MAX_DELAY.days + 365) * 24 * 3600;
const visitLine = (place: Place, value: string, publicUrl: string): string =>
  `${visitCookie(place.id)}=${value}; Path=${cookiePath(place, publicUrl)}; Max-Age=${VISIT_SECONDS}; HttpOnly; ` +
  `SameSite=Lax${publicUrl.startsWith('https:') ? '; Secure' : ''}`;

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
  services: Services & {
    live: Notifier;
    pages: PageCache;
    places: Places;
    reads: ReadCounter;
    identities: Identities;
    visits: VisitCounter;
  },
  requesterOf: RequesterOf,
): ReadersSide {
  const { db, settings, pages, places, live, reads, identities, visits } = services;
  const searches = new PageCache({ maxBytes: MAX_SEARCH_BYTES, lifeMs: 60_000 });
  /** Pages for readers who may read more than everybody, or other parts: shared by who may read the same. */
  const own = new PageCache({ maxBytes: MAX_OWN_BYTES, lifeMs: 60_000, shared: false });
  const panels = new Kept<ShownPanel[]>({ lifeMs: 60_000, most: 200 });
  const limiter = new RateLimiterMemory({ points: MAX_SEARCHES, duration: 60 });
  live.onEvent((event) => {
    // Nothing that readers see.
    if (event !== 'gap' && event.kind === 'letter') return;
    if (event !== 'gap' && event.kind === 'special') {
      pages.forget([SPECIAL_TAG]);
      // And what was asked for where a special stood until now, or does not stand yet.
      void places.refresh().then(() => pages.forget([SPECIAL_TAG]));
      return;
    }
    if (event === 'gap' || event.kind === 'blog') {
      void places.refresh();
      void identities.refresh().then(() => {
        panels.forget();
        own.forget();
      });
    }
    panels.forget();
    searches.forget();
    own.forget();
    // A batch that changes what readers see says so itself, see `notifyPages`.
    if (event === 'gap' || event.kind === 'blog' || event.kind === 'people') pages.forget();
    else if (event.kind === 'release') pages.forget(['lists', `post:${event.postId}`]);
  });

  const sendRead = (
    req: IncomingMessage,
    res: ServerResponse,
    page: KeptPage,
    place: Place,
    isNew: boolean,
  ): void => {
    if (page.postId !== null && req.method === 'GET') reads.count(page.postId, req.headers['user-agent']);
    const begins =
      isNew && req.method === 'GET' && page.status === 200 && page.headers['Content-Type'] === HTML;
    if (!begins) return sendPage(req, res, page);
    const now = Date.now();
    if (isReader(req.headers['user-agent'])) visits.count(place.id, now);
    sendPage(req, res, page, visitLine(place, identities.newVisit(place.id, now), settings.publicUrl));
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
    const query = SEARCHES.test(path) ? plainQuery(queryOf(req)) : '';
    const sameForAll = SAME_FOR_ALL.test(path);
    const person = sameForAll ? null : await requesterOf(req, res, place.id);
    const { reader, isNew } = person
      ? { reader: STAFF, isNew: false }
      : await identities.of(sameForAll ? undefined : req.headers.cookie, place.id);
    const make = (asked?: string) => async () => ({
      sameForAll,
      ...((await pageAt(db, settings, path, {
        ...pageOf(place),
        query: asked,
        rights: reader.rights,
        person,
        did: person && didOf(req),
        panels: (made) => panels.get(keyOf(place, ` ${reader.key}`), Date.now(), made),
      })) ?? NOT_SET_UP),
    });
    if (query !== '' && !(await maySearch(req, keyOf(place, `${reader.key}${path}?${query}`)))) {
      res.status(429).set('Retry-After', '60').type('text').send(TOO_MANY_SEARCHES);
      return;
    }
    if (person) return sendOwn(res, await make(query === '' ? undefined : query)());
    if (query !== '') {
      const shelf = reader.key === '' ? searches : own;
      const key = keyOf(place, `${reader.key}${path}?${query}`);
      sendPage(req, res, await shelf.get(key, Date.now(), make(query)));
      return;
    }
    const shelf = reader.key === '' ? pages : own;
    const page = await shelf.get(keyOf(place, reader.key + path), Date.now(), make());
    sendRead(req, res, page, place, isNew && !sameForAll);
  };

  /** A search that is kept costs nothing; others are counted by who asks. */
  const maySearch = async (req: Request, key: string): Promise<boolean> => {
    if (searches.peek(key, Date.now()) ?? own.peek(key, Date.now())) return true;
    return limiter.consume(addressOf(req)).then(
      () => true,
      () => false,
    );
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
      if (!at || (whole !== url && SEARCHES.test(at.path))) return false;
      const sameForAll = SAME_FOR_ALL.test(at.path);
      if (!sameForAll && hasSession(req.headers.cookie)) return false;
      const now = Date.now();
      const known = identities.atOnce(sameForAll ? undefined : req.headers.cookie, at.place.id, now);
      if (!known) return false;
      const shelf = known.reader.key === '' ? pages : own;
      const page = shelf.peek(keyOf(at.place, known.reader.key + at.path), now);
      if (!page) return false;
      sendRead(req, res, page, at.place, known.isNew && !sameForAll);
      return true;
    },
    handler,
  };
}
