import type { RequestHandler } from 'express';
import { log } from '../log.js';
import type { Services } from '../services.js';
import type { KeptPage } from './cache.js';
import { pageAt } from './pages.js';

/** First parts of paths that are not the readers'. */
const ELSEWHERE = /^\/(?:desk|api|media|files|assets|calendar|healthz|readyz)(?:\/|$)/;

/** Serves the readers' pages from the cache. Listens for what changes, so that a page is never older than the last notification. */
export function readersSide(services: Services): RequestHandler {
  const { db, settings, pages, live, reads } = services;
  live.onEvent((event) => {
    if (event === 'gap' || event.kind === 'blog' || event.kind === 'people' || event.kind === 'batch') pages.forget();
    else if (event.kind === 'release') pages.forget(['lists', `post:${event.postId}`]);
  });

  return (req, res, next) => {
    const query = req.url.indexOf('?');
    const path = query < 0 ? req.url : req.url.slice(0, query);
    if ((req.method !== 'GET' && req.method !== 'HEAD') || ELSEWHERE.test(path)) return next();
    const send = (page: KeptPage) => {
      if (page.postId !== null && req.method === 'GET') reads.count(page.postId, req.headers['user-agent']);
      if (req.headers['if-none-match'] === page.etag) {
        res.writeHead(304, { ETag: page.etag, 'Cache-Control': page.headers['Cache-Control'], Vary: 'Accept-Encoding' });
        return res.end();
      }
      const packed = /\bbr\b/.test(String(req.headers['accept-encoding'] ?? ''));
      const bytes = packed ? page.brotli : page.plain;
      res.writeHead(page.status, { ...page.headers, ...(packed ? { 'Content-Encoding': 'br' } : {}), 'Content-Length': bytes.length });
      return res.end(req.method === 'HEAD' ? undefined : bytes);
    };
    const now = Date.now();
    const kept = pages.peek(path, now);
    if (kept) {
      send(kept);
      return;
    }
    if (path.length > 200) {
      res.status(404).type('text').send('There is nothing at this address.');
      return;
    }
    pages.get(path, now, async () => {
      const page = await pageAt(db, settings, path);
      return page ?? { status: 503, type: 'text/plain; charset=utf-8', body: 'This blog has not been set up yet. Its managing editor can do so at /desk.', tags: [] };
    }).then(send).catch((error: unknown) => {
      log.error({ err: error, path }, 'reader page');
      if (!res.headersSent) res.status(503).type('text').send('The blog cannot be reached just now. Please try again in a moment.');
    });
  };
}
