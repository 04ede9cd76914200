import type { Db } from './db/connect.js';
import type { Live } from './live/live.js';
import type { PageCache } from './site/cache.js';
import type { ReadCounter } from './site/reads.js';
import type { Settings } from './settings.js';

/** What use cases may need beside their transaction; made once per process. */
export interface Services {
  db: Db;
  settings: Settings;
  live: Live;
  pages: PageCache;
  reads: ReadCounter;
}
