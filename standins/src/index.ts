import { createServer, type Server } from 'node:http';
import { listenFrom } from './listen.js';
import type { AddressInfo } from 'node:net';
import express, { type RequestHandler } from 'express';
import multer from 'multer';
import { receiveHook } from './hook.js';
import { mailServer } from './mail.js';
import { Micropub } from './micropub.js';
import { STAND_INS, standIn, type StandIn } from './outlets.js';
import { escape, indexPage, mannersPage, outletPage } from './pages.js';
import { figuresOf } from './readers.js';
import { notebook } from './notebook.js';
import { shop } from './shop.js';
import { Store, type Manners } from './store.js';
import { Hub, Subscriber } from './websub.js';

export { STAND_INS } from './outlets.js';
export type { Manners, Received } from './store.js';
export { figuresOf } from './readers.js';

export interface Running {
  /** `http://127.0.0.1:PORT` */
  url: string;
  smtpPort: number;
  store: Store;
  /** What the hub did, in words. */
  hubLog: readonly string[];
  stop: () => Promise<void>;
}

/** Starts all stand-ins in this process, on loopback. A port of 0 takes a free one. */
export async function startStandins({
  port,
  smtpPort,
  folder,
  journal = null,
  bounces = null,
}: {
  port: number;
  smtpPort: number;
  folder: string;
  /** Who makes the journal of the shop; none, when nobody does. */
  journal?: string | null;
  /** `host:port` that takes reports about letters that could not be delivered. */
  bounces?: string | null;
}): Promise<Running> {
  const store = new Store(folder);
  const app = express();
  app.disable('x-powered-by');
  let url = '';
  const base = () => url;
  const hub = new Hub();
  const times = new Map<string, number[]>();

  /** Behaves as it was told before anything else happens. */
  const mannered =
    (outlet: StandIn): RequestHandler =>
    async (_req, res, next) => {
      const manners = store.manners(outlet.slug);
      if (manners.slowMs > 0) await new Promise((done) => setTimeout(done, manners.slowMs));
      const lately = (times.get(outlet.slug) ?? []).filter((t) => t > Date.now() - 60_000);
      if (manners.perMinute > 0 && lately.length >= manners.perMinute)
        return void res
          .status(429)
          .set('Retry-After', String(Math.ceil((lately[0]! + 60_000 - Date.now()) / 1000)))
          .json({ error: 'too_many' });
      times.set(outlet.slug, [...lately, Date.now()]);
      switch (manners.answer) {
        case 'unauthorised':
          return void res.status(401).json({ error: 'unauthorized' });
        case 'refused':
          return void res
            .status(400)
            .json({ error: 'invalid_request', error_description: 'That is not allowed here.' });
        case 'broken':
          return void res.status(503).send('broken');
        case 'nonsense':
          return void res.status(200).type('text').send('¯\\_(ツ)_/¯');
        case 'elsewhere':
          return void res.status(307).location('http://10.0.0.1/inside').end();
        default:
          next();
      }
    };
  const answer = (outlet: StandIn, res: express.Response, made: { url: string } | null) => {
    if (!made) return;
    // Accepted, and nobody hears of it.
    if (store.manners(outlet.slug).losesAnswers) res.socket?.destroy();
    else res.status(201).location(made.url).json({ url: made.url });
  };

  for (const outlet of STAND_INS) {
    if (outlet.speaks === 'micropub') {
      const micropub = new Micropub(store, outlet, base);
      app.get(`/${outlet.slug}/micropub`, mannered(outlet), (req, res) => micropub.config(req, res));
      app.post(
        `/${outlet.slug}/micropub`,
        mannered(outlet),
        express.json({ limit: '1mb' }),
        express.urlencoded({ extended: true }),
        (req, res) => answer(outlet, res, micropub.create(req, res)),
      );
      app.post(
        `/${outlet.slug}/media`,
        mannered(outlet),
        multer({ limits: { fileSize: 12_000_000 } }).single('file'),
        (req, res) => micropub.media(req, res),
      );
    }
    if (outlet.speaks === 'webhook')
      app.post(
        `/${outlet.slug}/hook`,
        mannered(outlet),
        express.raw({ type: '*/*', limit: '1mb' }),
        (req, res) => {
          if (store.manners(outlet.slug).losesAnswers) {
            res.json = () => {
              res.socket?.destroy();
              return res;
            };
          }
          receiveHook(store, outlet, base, req, res);
        },
      );
    if (outlet.speaks === 'websub') {
      const subscriber = new Subscriber(store, outlet, base);
      app.get(`/${outlet.slug}/callback`, (req, res) => subscriber.confirm(req, res));
      app.post(
        `/${outlet.slug}/callback`,
        mannered(outlet),
        express.raw({ type: '*/*', limit: '5mb' }),
        (req, res) => subscriber.receive(req, res),
      );
      app.post(`/${outlet.slug}/subscribe`, express.urlencoded({ extended: false }), async (req, res) => {
        res
          .type('text')
          .send(
            await subscriber
              .subscribe(String((req.body as { topic: string }).topic))
              .catch((e: Error) => `It could not be fetched: ${e.message}`),
          );
      });
    }
  }
  app.use(shop(base, journal));
  app.use('/notebook', notebook(base));
  app.post('/hub', express.urlencoded({ extended: false }), (req, res) => hub.request(req, res));

  app.get('/', (_req, res) => {
    res.send(indexPage(new Map(STAND_INS.map((s) => [s.slug, store.of(s.slug).length]))));
  });
  app.get('/pictures/:name', (req, res) => {
    const bytes = store.picture(req.params.name);
    if (bytes)
      res
        .type(bytes[0] === 0x89 ? 'png' : bytes[0] === 0xff ? 'jpeg' : 'application/octet-stream')
        .send(bytes);
    else res.status(404).end();
  });
  app.get('/:outlet/manners', (req, res, next) => {
    const outlet = standIn(req.params.outlet);
    if (!outlet) next();
    else res.send(mannersPage(outlet, store.manners(outlet.slug)));
  });
  app.post('/:outlet/manners', express.urlencoded({ extended: false }), (req, res, next) => {
    const outlet = standIn(req.params['outlet'] as string);
    if (!outlet) return next();
    const { slowMs, answer: said, perMinute, losesAnswers } = req.body as Record<string, string>;
    store.behave(outlet.slug, {
      slowMs: Math.min(60_000, Math.max(0, Number(slowMs) || 0)),
      answer: (said ?? 'usual') as Manners['answer'],
      perMinute: Math.max(0, Number(perMinute) || 0),
      losesAnswers: losesAnswers === 'on',
    });
    res.redirect(303, `/${outlet.slug}/manners`);
  });
  // What a mail program does when its reader leaves a list by one click (RFC 8058, section 3.2).
  app.post('/:outlet/:id/unsubscribe', async (req, res, next) => {
    const outlet = standIn(req.params.outlet);
    const letter = outlet && store.find(outlet.slug, req.params.id);
    if (!letter?.leave) return next();
    const answered = await fetch(letter.leave, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: 'List-Unsubscribe=One-Click',
    }).then(
      (r) => (r.ok ? 'You are off the list.' : `The list answered ${r.status}.`),
      () => 'The list could not be reached.',
    );
    res.send(`<!doctype html><html lang="en"><title>Unsubscribed</title><p>${escape(answered)}</p></html>`);
  });
  app.get('/:outlet{/:id}', (req, res, next) => {
    const outlet = standIn(req.params['outlet'] as string);
    if (!outlet) return next();
    const id = req.params['id'] as string | undefined;
    const one = id ? (store.find(outlet.slug, id) ?? null) : null;
    if (id && !one) return next();
    if (req.accepts(['html', 'json']) === 'json')
      return void res.json(
        one ? { ...one, figures: figuresOf(one, outlet.followers, new Date()) } : store.of(outlet.slug),
      );
    res.send(outletPage(outlet, store.of(outlet.slug), one, new Date()));
  });
  app.use((_req, res) => {
    res.status(404).send(`<!doctype html><title>${escape('Not here')}</title>Nothing is at this address.`);
  });

  const http: Server = createServer(app);
  await listenFrom(http, port);
  url = `http://127.0.0.1:${(http.address() as AddressInfo).port}`;
  const smtp = mailServer(store, bounces);
  smtp.on('error', () => undefined);
  const listening = await listenFrom(smtp.server, smtpPort);
  return {
    url,
    smtpPort: (listening.address() as AddressInfo).port,
    store,
    hubLog: hub.log,
    stop: async () => {
      http.closeAllConnections();
      await Promise.all([
        new Promise((done) => http.close(done)),
        new Promise<void>((done) => smtp.close(() => done())),
      ]);
    },
  };
}
