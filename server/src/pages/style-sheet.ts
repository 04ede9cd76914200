import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { RequestHandler } from 'express';
import { publicFolder } from '../http/public-files.js';
import { sendPage } from './answer.js';
import { PageCache } from './cache.js';

const LARGEST = 1024 * 1024;

/** The style sheet that all readers' pages wait for, kept in the codings that pages are kept in. */
export function styleSheet(): RequestHandler {
  const kept = new PageCache({ maxBytes: LARGEST, lifeMs: Infinity });
  const read = async () => ({
    status: 200,
    type: 'text/css; charset=utf-8',
    body: await readFile(join(publicFolder, 'site.css'), 'utf8'),
    tags: [],
  });
  return async (req, res) => {
    const sheet = await kept.get('site.css', Date.now(), read);
    const headers = { ...sheet.headers, 'Cache-Control': 'public, max-age=3600', Vary: 'Accept-Encoding' };
    sendPage(req, res, { ...sheet, headers });
  };
}
