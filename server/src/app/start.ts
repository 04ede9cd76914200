import { closeComputing } from '../work/computing.js';
import { closeAddresses } from '../work/addresses.js';
import { closeDocuments } from '../work/documents.js';
import { Identities } from '../access/identity.js';
import { VisitCounter } from '../access/visits.js';
import { sessionSecret } from '../accounts/session.js';
import { findPerson } from '../accounts/who.js';
import { seenOf } from '../posts/visible.js';
import { createServer } from 'node:http';
import { connect } from '../db/connect.js';
import { migrate } from '../db/migrate.js';
import { makeApp } from './app.js';
import { startWorker } from './worker.js';
import { Notifier } from '../live/live.js';
import { log } from '../log.js';
import type { Process } from './process.js';
import type { Settings } from '../settings.js';
import { PageCache } from '../pages/cache.js';
import { Places, storeHomes } from '../pages/places.js';
import { ReadCounter } from '../pages/reads.js';
import { SharedTexts } from '../texts/shared-texts.js';
import './wiring.js';

/** How long an idle connection stays open. */
const KEEP_OPEN_MS = 65_000;

export interface Running {
  services: Process;
  port: number;
  stop(): Promise<void>;
}

/**
 * Starts one server process: database at its newest shape, live events, pages, API, and (unless told
 * otherwise) jobs.
 */
export async function startServer(settings: Settings, options: { jobs?: boolean } = {}): Promise<Running> {
  const db = connect(settings.databaseUrl);
  await migrate(db, settings.databaseUrl);
  // Where the blog lives, so that links to itself in full are known as its own wherever a post is checked.
  await storeHomes(db, settings.publicUrl);
  const live = new Notifier(settings.databaseUrl, db, {
    personById: (id, blogId) => findPerson(db, id, blogId),
    seenOf: (person, ids) => seenOf(db, person, ids),
  });
  const texts = new SharedTexts(db, live);
  const services: Process = {
    db,
    settings,
    live,
    texts,
    pages: new PageCache({ maxBytes: 64 * 1024 * 1024, lifeMs: 60_000 }),
    places: new Places(db),
    reads: new ReadCounter(db),
    identities: new Identities(db, await sessionSecret(db, settings)),
    visits: new VisitCounter(db),
  };
  await services.identities.refresh();
  const app = await makeApp(services);
  await live.start();
  const isSecure = settings.publicUrl.startsWith('https:');
  const server = createServer((req, res) => {
    // Every answer, of readers' pages too (RFC 6797); over plain http it would be ignored.
    if (isSecure) res.setHeader('Strict-Transport-Security', 'max-age=31536000; includeSubDomains');
    app.answer(req, res);
  });
  const endTexts = app.serveTexts(server);
  texts.start();
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(settings.port, settings.host, () => {
      server.off('error', reject);
      resolve();
    });
  });
  // Longer than callers keep a connection open (a proxy, a client), so that none is closed under a request.
  server.keepAliveTimeout = KEEP_OPEN_MS;
  server.headersTimeout = KEEP_OPEN_MS + 1000;
  // Requests are answered before waiting work is checked.
  const jobs = options.jobs === false ? null : await startWorker(db, settings.databaseUrl, settings);
  const mailIn =
    settings.mailIn && (await (await import('../letters/incoming.js')).openMailIn(db, settings.mailIn));
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : settings.port;

  let stopping: Promise<void> | null = null;
  const stop = () =>
    (stopping ??= (async () => {
      server.close();
      await mailIn?.close();
      await texts.stop();
      endTexts();
      await live.stop();
      server.closeAllConnections();
      if (jobs) {
        clearInterval(jobs.watch);
        await Promise.all(
          jobs.runners.map((runner) =>
            runner.stop().catch((error: unknown) => log.warn({ err: error }, 'jobs')),
          ),
        );
        await jobs.pool.end();
      }
      await closeDocuments();
      await closeAddresses();
      await closeComputing();
      await app.close();
      await services.reads.stop();
      await services.visits.stop();
      await db.destroy();
    })());
  return { services, port, stop };
}
