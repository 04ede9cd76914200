import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import express, { type Express } from 'express';
import helmet from 'helmet';
import pg from 'pg';
import sirv from 'sirv';
import { archiveHandlers } from '../archive/routes.js';
import { accountHandlers } from '../accounts/routes.js';
import { sessions, sessionSecret } from '../accounts/session.js';
import { SignInGuard } from '../accounts/sign-in.js';
import { recognise } from '../accounts/who.js';
import { connectionOf } from '../db/connect.js';
import { deskHandlers } from '../desk/routes.js';
import { mediaHandlers } from '../media/routes.js';
import { mediaFiles } from '../media/serve.js';
import { outletFeeds } from '../outlets/feeds.js';
import { outletHandlers } from '../outlets/routes.js';
import { calendarFiles } from '../planner/calendars.js';
import { plannerHandlers } from '../planner/routes.js';
import { postHandlers } from '../posts/routes.js';
import { log } from '../log.js';
import type { Services } from '../services.js';
import { letterSignUps } from '../site/letter.js';
import { readersSide } from '../site/serve.js';
import { siteHandlers } from '../site/routes.js';
import { openApi } from './openapi.js';
import { refuseOtherSites } from './origin.js';
import { problemHandler } from './problem.js';
import { bindRoutes, type Handlers } from './routing.js';

const require = createRequire(import.meta.url);
const fontFolder = (name: string) => join(dirname(require.resolve(`@fontsource-variable/${name}/package.json`)), 'files');
const publicFolder = fileURLToPath(new URL('../../public', import.meta.url));

export interface App {
  express: Express;
  close(): Promise<void>;
}

/** Everything behind one port: the readers' side first, since it is asked most, then pictures, the API and the newsroom. */
export async function makeApp(services: Services): Promise<App> {
  const { db, settings, live } = services;
  const sessionPool = new pg.Pool({ ...connectionOf(settings.databaseUrl), max: 5 });
  sessionPool.on('error', (error) => log.warn({ err: error }, 'session pool'));

  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', 'loopback');
  app.set('etag', false);
  app.set('query parser', 'simple');

  app.use('/outlets', outletFeeds(services));
  app.use(readersSide(services));
  app.get('/healthz', (_req, res) => { res.type('text').send('here'); });
  app.get('/readyz', async (_req, res) => {
    try {
      await db.raw('select 1 from graphile_worker.jobs limit 1');
      res.type('text').send('ready');
    } catch {
      res.status(503).type('text').send('The database cannot be reached.');
    }
  });
  const forever = { maxAge: 31_536_000, immutable: true, dev: false };
  app.use('/assets/fonts', sirv(fontFolder('newsreader'), forever), sirv(fontFolder('hanken-grotesk'), forever));
  app.use('/assets', sirv(publicFolder, { maxAge: 3600, dev: false }));
  const session = sessions(sessionPool, await sessionSecret(db, settings), settings);
  app.use(mediaFiles(db, [session, recognise(db)]));
  app.use('/calendar', calendarFiles(services));
  app.use(refuseOtherSites(settings.publicUrl), letterSignUps(db, settings));

  app.use(helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        'default-src': ["'none'"], 'script-src': ["'self'"], 'style-src': ["'self'", "'unsafe-inline'"], 'img-src': ["'self'", 'data:', 'blob:'], 'font-src': ["'self'"],
        'connect-src': ["'self'"], 'media-src': ["'self'", 'blob:'], 'frame-src': ["'self'"], 'worker-src': ["'self'"], 'manifest-src': ["'self'"], 'base-uri': ["'self'"], 'form-action': ["'self'"], 'frame-ancestors': ["'none'"],
      },
    },
    strictTransportSecurity: settings.publicUrl.startsWith('https:'),
    crossOriginEmbedderPolicy: false,
  }));

  const guard = await SignInGuard.make(sessionPool);
  const handlers: Handlers = {
    ...accountHandlers(guard), ...postHandlers, ...archiveHandlers, ...deskHandlers, ...plannerHandlers, ...siteHandlers, ...mediaHandlers, ...outletHandlers,
    'events.stream': async ({ req, res, person }) => {
      const last = Number(req.get('last-event-id'));
      await live.join(res, person.blogId, Number.isSafeInteger(last) && last > 0 ? last : null);
      return undefined as never;
    },
    'openapi.see': () => openApi(settings.publicUrl),
  };
  app.use('/api', refuseOtherSites(settings.publicUrl), session, recognise(db),
    (_req, res, next) => { res.set('Cache-Control', 'no-store'); next(); }, bindRoutes(services, handlers));

  if (settings.webFolder) {
    app.use('/desk', sirv(settings.webFolder, {
      // `dev` looks each file up when it is asked for: a build made under a running server must not bring it down.
      single: true, brotli: true, gzip: true, dev: true, etag: true,
      setHeaders: (res, path) => { res.setHeader('Cache-Control', /-[A-Z0-9]{8}\.\w+$/.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache'); },
    }));
  }
  app.use((_req, res) => { res.status(404).type('text').send('There is nothing at this address.'); });
  app.use(problemHandler);
  return { express: app, close: () => sessionPool.end() };
}
