import type { Db } from '../db/connect.js';
import type { Settings } from '../settings.js';

/** What use cases may need beside their transaction; made once per process. */
export interface Services {
  db: Db;
  settings: Settings;
  texts: {
    /** Has a post take in what is typed into its text just now, so that what is done next is done to all of it. */
    settle(postId: number): Promise<void>;
  };
}
