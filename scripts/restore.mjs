// npm run restore FILE: puts a backup back; what was there before goes. Stop the server first.
import { existsSync } from 'node:fs';
import { resolve, join } from 'node:path';
import { ourDatabase } from './env.mjs';
import { must, say } from './machine.mjs';

const file = process.argv[2] && resolve(process.env.INIT_CWD ?? '.', process.argv[2]);
if (!file || !existsSync(file)) {
  console.error('Say from where: npm run restore FILE');
  process.exit(2);
}
const { databaseUrl, bin } = await ourDatabase();
must(join(bin, 'pg_restore'), [
  '--clean',
  '--if-exists',
  '--no-owner',
  '--single-transaction',
  '--exit-on-error',
  `--dbname=${databaseUrl}`,
  file,
]);
say('Restored.');
