import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { RequestHandler } from 'express';

const BASE = /<base href="[^"]*"/;

/** The newsroom's page as it was built, for where it stands. */
async function pageFor(folder: string, root: string): Promise<string> {
  const built = await readFile(join(folder, 'index.html'), 'utf8');
  return built.replace(BASE, `<base href="${root}/desk/"`);
}

interface OfflineList {
  index: string;
  assetGroups: { urls: string[] }[];
  hashTable: Record<string, string>;
}

/** What the newsroom keeps for being offline: by its addresses there, and with the page as it is sent. */
async function offlineListFor(folder: string, root: string): Promise<string> {
  const list = JSON.parse(await readFile(join(folder, 'ngsw.json'), 'utf8')) as OfflineList;
  const at = (path: string) => root + path;
  const page = createHash('sha1')
    .update(await pageFor(folder, root))
    .digest('hex');
  return JSON.stringify({
    ...list,
    index: at(list.index),
    assetGroups: list.assetGroups.map((g) => ({ ...g, urls: g.urls.map(at) })),
    hashTable: {
      ...Object.fromEntries(Object.entries(list.hashTable).map(([path, hash]) => [at(path), hash])),
      [at(list.index)]: page,
    },
  });
}

/**
 * The newsroom's page where it stands under a path of another site (`root`): it is built for the top of a host, and
 * finds all that it loads by its base. What it loads is served as it is.
 */
export function newsroomPage(folder: string, root: string): RequestHandler {
  return async (req, res, next) => {
    const name = req.path.slice(req.path.lastIndexOf('/') + 1);
    const isPage = name === 'index.html' || !name.includes('.');
    if ((req.method !== 'GET' && req.method !== 'HEAD') || !(isPage || req.path === '/ngsw.json'))
      return next();
    res.set('Cache-Control', 'no-cache');
    if (isPage) res.type('html').send(await pageFor(folder, root));
    else res.type('json').send(await offlineListFor(folder, root));
  };
}
