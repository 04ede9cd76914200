import { runMigrations } from 'graphile-worker';
import type { Knex } from 'knex';
import type { Db } from './connect.js';
import * as first from './migrations/0001-the-thread.js';
import * as second from './migrations/0002-planner.js';
import * as third from './migrations/0003-desk.js';
import * as fourth from './migrations/0004-archive.js';
import * as fifth from './migrations/0005-outlets.js';
import * as sixth from './migrations/0006-edits.js';
import * as seventh from './migrations/0007-who.js';
import * as eighth from './migrations/0008-alike.js';
import * as ninth from './migrations/0009-archive-orders.js';
import * as tenth from './migrations/0010-looking.js';
import * as eleventh from './migrations/0011-titles.js';
import * as twelfth from './migrations/0012-shared-texts.js';
import * as thirteenth from './migrations/0013-versions.js';
import * as fourteenth from './migrations/0014-readers-version.js';
import * as fifteenth from './migrations/0015-suggestions.js';
import * as sixteenth from './migrations/0016-mentions-and-tokens.js';
import * as seventeenth from './migrations/0017-imports.js';
import * as eighteenth from './migrations/0018-people.js';
import * as nineteenth from './migrations/0019-checklists.js';
import * as twentieth from './migrations/0020-batch-chores.js';
import * as twentyFirst from './migrations/0021-site.js';
import * as twentySecond from './migrations/0022-erasing.js';
import * as twentyThird from './migrations/0023-access.js';
import * as twentyFourth from './migrations/0024-comments.js';
import * as twentyFifth from './migrations/0025-captures.js';
import * as twentySixth from './migrations/0026-letters.js';
import * as twentySeventh from './migrations/0027-results.js';
import * as twentyEighth from './migrations/0028-campaigns.js';
import * as twentyNinth from './migrations/0029-specials.js';
import * as thirtieth from './migrations/0030-moved-away.js';
import * as thirtyFirst from './migrations/0031-guarded.js';
import * as thirtySecond from './migrations/0032-seen-versions.js';
import * as thirtyThird from './migrations/0033-tag-ends.js';
import * as thirtyFourth from './migrations/0034-word-pairs.js';
import * as thirtyFifth from './migrations/0035-byline-index.js';
import * as thirtySixth from './migrations/0036-words-beside-pairs.js';
import * as thirtySeventh from './migrations/0037-deferred-letters.js';
import * as thirtyEighth from './migrations/0038-mentions.js';
import * as thirtyNinth from './migrations/0039-text-clients.js';
import * as fortieth from './migrations/0040-running-tasks.js';
import * as fortyFirst from './migrations/0041-changes.js';
import * as fortySecond from './migrations/0042-more-versions.js';
import * as fortyThird from './migrations/0043-reassign.js';

/** Numbered migrations; once landed they are never edited. */
const MIGRATIONS: Record<string, Knex.Migration> = {
  '0001-the-thread': first,
  '0002-planner': second,
  '0003-desk': third,
  '0004-archive': fourth,
  '0005-outlets': fifth,
  '0006-edits': sixth,
  '0007-who': seventh,
  '0008-alike': eighth,
  '0009-archive-orders': ninth,
  '0010-looking': tenth,
  '0011-titles': eleventh,
  '0012-shared-texts': twelfth,
  '0013-versions': thirteenth,
  '0014-readers-version': fourteenth,
  '0015-suggestions': fifteenth,
  '0016-mentions-and-tokens': sixteenth,
  '0017-imports': seventeenth,
  '0018-people': eighteenth,
  '0019-checklists': nineteenth,
  '0020-batch-chores': twentieth,
  '0021-site': twentyFirst,
  '0022-erasing': twentySecond,
  '0023-access': twentyThird,
  '0024-comments': twentyFourth,
  '0025-captures': twentyFifth,
  '0026-letters': twentySixth,
  '0027-results': twentySeventh,
  '0028-campaigns': twentyEighth,
  '0029-specials': twentyNinth,
  '0030-moved-away': thirtieth,
  '0031-guarded': thirtyFirst,
  '0032-seen-versions': thirtySecond,
  '0033-tag-ends': thirtyThird,
  '0034-word-pairs': thirtyFourth,
  '0035-byline-index': thirtyFifth,
  '0036-words-beside-pairs': thirtySixth,
  '0037-deferred-letters': thirtySeventh,
  '0038-mentions': thirtyEighth,
  '0039-text-clients': thirtyNinth,
  '0040-running-tasks': fortieth,
  '0041-changes': fortyFirst,
  '0042-more-versions': fortySecond,
  '0043-reassign': fortyThird,
};

const source: Knex.MigrationSource<string> = {
  getMigrations: () => Promise.resolve(Object.keys(MIGRATIONS).sort()),
  getMigrationName: (name) => name,
  getMigration: (name) => Promise.resolve(MIGRATIONS[name]!),
};

/** Brings the database to the newest shape. Safe to run from several processes at once. */
export async function migrate(db: Db, databaseUrl: string): Promise<void> {
  await db.migrate.latest({ migrationSource: source, tableName: 'migrations' });
  await runMigrations({ connectionString: databaseUrl });
}
