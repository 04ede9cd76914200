import type { Db } from '../db/connect.js';
import type { Settings } from '../settings.js';

/** What use cases may need beside their transaction; made once per process. */
export interface Services {
  db: Db;
  settings: Settings;
}
