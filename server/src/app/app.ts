import type { IncomingMessage, RequestListener, Server } from 'node:http';
import express, { type RequestHandler } from 'express';
import helmet from 'helmet';
import pg from 'pg';
import sirv, { type Options } from 'sirv';
import { archiveHandlers } from '../archive/routes.js';
import { PasswordTries } from '../access/password-tries.js';
import { accessHandlers } from '../access/routes.js';
import { accountHandlers } from '../accounts/routes.js';
import { commentHandlers } from '../comments/routes.js';
import { changeHandlers } from '../changes/routes.js';
import { checklistHandlers } from '../checklists/routes.js';
import { rosterHandlers } from '../roster/routes.js';
import { sessions, sessionSecret } from '../accounts/session.js';
import { seeTask } from '../work/progress.js';
import { SignInGuard } from '../accounts/sign-in-guard.js';
import { authenticate } from '../accounts/who.js';
import { connectionOf } from '../db/connect.js';
import { deskHandlers } from '../desk/routes.js';
import { mediaHandlers } from '../media/routes.js';
import { mediaFiles } from '../media/serve.js';
import { outletFeeds } from '../pieces/feeds.js';
import { outletHandlers } from '../pieces/routes.js';
import { calendarFiles } from '../planner/calendars.js';
import { plannerHandlers } from '../planner/routes.js';
import { findHandlers } from '../find/routes.js';
import { slotHandlers } from '../slots/routes.js';
import { todayHandlers } from '../today/routes.js';
import { postHandlers } from '../posts/routes.js';
import { micropub } from '../micropub/endpoint.js';
import { log } from '../log.js';
import type { Process } from './process.js';
import { actPages } from '../pages/act-pages.js';
import { requesters } from '../pages/requester.js';
import { commentPages } from '../pages/comment-pages.js';
import { letterHandlers } from '../letters/routes.js';
import { campaignHandlers } from '../campaigns/routes.js';
import { resultHandlers } from '../results/routes.js';
import { letterPages } from '../letters/pages.js';
import { memberPages } from '../pages/member-pages.js';
import { shareCards } from '../pages/share-card.js';
import { nothingHere, readersSide } from '../pages/serve.js';
import { rootOf } from '../pages/places.js';
import { serialHandlers } from '../serials/routes.js';
import { siteHandlers } from '../site/routes.js';
import { openApi } from './openapi.js';
import { undoHandlers } from './undo-change.js';
import { refuseOtherSites } from '../http/origin.js';
import { problemHandler } from '../http/problem.js';
import type { Handlers } from '../http/handlers.js';
import { versionHandlers } from '../versions/routes.js';
import { serveTexts } from '../texts/socket.js';
import { webmention } from '../webmention/endpoint.js';
import { newsroomPage } from '../http/newsroom-page.js';
import { fontFolder, publicFolder } from '../http/public-files.js';
import { styleSheet } from '../pages/style-sheet.js';
import { specialHandlers } from '../specials/routes.js';
import { bindRoutes } from './routing.js';

/** Files of a folder, for who reads; the library would answer any method with them. */
function files(folder: string, options: Options): RequestHandler {
  const serve = sirv(folder, options);
  return (req, res, next) => (req.method === 'GET' || req.method === 'HEAD' ? serve(req, res, next) : next());
}

export interface App {
  /** Readers' pages that are kept are answered at once; all else goes through Express. */
  answer: RequestListener;
  /** Takes connections to texts, too. Returns how they are ended. */
  serveTexts(server: Server): () => void;
  close(): Promise<void>;
}

/**
 * Everything behind one port: the readers' side first, since it is asked most, then pictures, the API and the
 * newsroom.
 */
export async function makeApp(services: Process): Promise<App> {
  const { db, settings, live } = services;
  const sessionPool = new pg.Pool({ ...connectionOf(settings.databaseUrl), max: 5 });
  sessionPool.on('error', (error) => log.warn({ err: error }, 'session pool'));

  const root = rootOf(settings.publicUrl);
  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', settings.trustedProxies.length > 0 ? settings.trustedProxies : false);
  app.set('etag', false);
  app.set('query parser', 'simple');

  app.use((_req, res, next) => {
    // What says nothing of its own may load nothing and is never taken for another kind of file.
    res.setHeader('X-Content-Type-Options', 'nosniff');
    res.setHeader('Content-Security-Policy', "default-src 'none'; frame-ancestors 'none'");
    next();
  });
  // Feeds for outlets stand under the blog that they are of, wherever that stands.
  const feeds = outletFeeds(services);
  app.use(async (req, res, next) => {
    if (!req.path.includes('/outlets/')) return next();
    const at = await services.places.find(req.headers.host, req.path);
    if (!at?.path.startsWith('/outlets/')) return next();
    res.locals['blogId'] = at.place.id;
    req.url = req.url.slice(at.place.path.length + '/outlets'.length);
    feeds(req, res, next);
  });
  app.use('/micropub', micropub(services));
  app.use(webmention(services));
  const secret = await sessionSecret(db, settings);
  const session = sessions(sessionPool, secret, settings);
  const requesterOf = requesters(db, [session, authenticate(db)]);
  const readers = readersSide(services, requesterOf);
  const tries = await PasswordTries.make(sessionPool);
  app.use(
    ...memberPages({ ...services, tries }),
    ...commentPages(services, requesterOf),
    ...letterPages(services),
    ...actPages(services, requesterOf),
  );
  app.use(shareCards(services));
  app.use(readers.handler);
  app.get('/healthz', (_req, res) => {
    res.type('text').send('here');
  });
  app.get('/readyz', async (_req, res) => {
    try {
      await db.raw('select 1 from graphile_worker.jobs limit 1');
      res.type('text').send('ready');
    } catch {
      res.status(503).type('text').send('The database cannot be reached.');
    }
  });
  // A page that is drawn in a frame of its own has no origin, and needs its faces too.
  const open: Options['setHeaders'] = (res) => res.setHeader('Access-Control-Allow-Origin', '*');
  const forever = { maxAge: 31_536_000, immutable: true, dev: false, setHeaders: open };
  app.use(
    '/assets/fonts',
    files(fontFolder('newsreader'), forever),
    files(fontFolder('hanken-grotesk'), forever),
  );
  app.get('/assets/site.css', styleSheet());
  app.use('/assets', files(publicFolder, { maxAge: 3600, dev: false, etag: true }));
  app.use(mediaFiles(db, services.identities, [session, authenticate(db)]));
  app.use('/calendar', calendarFiles(services));
  app.use(refuseOtherSites(settings.publicUrl));

  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          'default-src': ["'none'"],
          'script-src': ["'self'"],
          'style-src': ["'self'", "'unsafe-inline'"],
          'img-src': ["'self'", 'data:', 'blob:'],
          'font-src': ["'self'"],
          'connect-src': ["'self'"],
          'media-src': ["'self'", 'blob:'],
          'frame-src': ["'self'"],
          'worker-src': ["'self'"],
          'manifest-src': ["'self'"],
          'base-uri': ["'self'"],
          'form-action': ["'self'"],
          'frame-ancestors': ["'none'"],
        },
      },
      strictTransportSecurity: settings.publicUrl.startsWith('https:'),
      crossOriginEmbedderPolicy: false,
    }),
  );

  const guard = await SignInGuard.make(sessionPool, secret, {
    secure: settings.publicUrl.startsWith('https:'),
  });
  const handlers: Handlers = {
    ...accessHandlers,
    ...accountHandlers(guard),
    ...rosterHandlers(guard),
    ...checklistHandlers,
    ...changeHandlers,
    ...undoHandlers,
    ...commentHandlers,
    ...postHandlers,
    ...archiveHandlers,
    ...deskHandlers,
    ...versionHandlers,
    ...plannerHandlers,
    ...slotHandlers,
    ...todayHandlers,
    ...findHandlers,
    ...serialHandlers,
    ...letterHandlers,
    ...resultHandlers,
    ...campaignHandlers,
    ...specialHandlers,
    ...siteHandlers,
    ...mediaHandlers,
    ...outletHandlers,
    'events.stream': async ({ req, res, person }) => {
      const last = Number(req.get('last-event-id'));
      await live.join(
        res,
        { person, sessionId: req.sessionID, until: req.session.cookie.expires?.getTime() ?? Infinity },
        Number.isSafeInteger(last) && last > 0 ? last : null,
      );
      return undefined as never;
    },
    'tasks.see': ({ trx, person, query }) => seeTask(trx, person, query.key),
    'openapi.see': () => openApi(settings.publicUrl),
  };
  app.use(
    '/api',
    refuseOtherSites(settings.publicUrl),
    session,
    authenticate(db),
    (_req, res, next) => {
      res.set('Cache-Control', 'no-store');
      next();
    },
    bindRoutes(services, handlers),
  );

  if (settings.webFolder) {
    if (root !== '') app.use('/desk', newsroomPage(settings.webFolder, root));
    app.use(
      '/desk',
      files(settings.webFolder, {
        // `dev` looks each file up when it is asked for: a build made under a running server must not bring
        // it down.
        single: true,
        brotli: true,
        gzip: true,
        dev: true,
        etag: true,
        setHeaders: (res, path) => {
          res.setHeader(
            'Cache-Control',
            /-[A-Z0-9]{8}\.\w+$/.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache',
          );
        },
      }),
    );
  }
  app.use(nothingHere(services));
  app.use(problemHandler);
  const takeRootOff = (req: IncomingMessage): void => {
    if (req.url) req.url = services.places.inner(root, req.headers.host, req.url);
  };
  return {
    answer: (req, res) => {
      takeRootOff(req);
      if (!readers.answerKept(req, res)) app(req, res);
    },
    serveTexts: (server) => {
      server.on('upgrade', takeRootOff);
      return serveTexts(server, app, db, services.texts, [session, authenticate(db)], settings.publicUrl);
    },
    close: () => sessionPool.end(),
  };
}
