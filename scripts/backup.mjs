// npm run backup FILE: the whole newsroom, pictures included, in one file.
import { resolve, join } from 'node:path';
import { ourDatabase } from './env.mjs';
import { must, say } from './machine.mjs';

const file = process.argv[2];
if (!file) {
  console.error('Say where to: npm run backup FILE');
  process.exit(2);
}
const { databaseUrl, bin } = await ourDatabase();
must(join(bin, 'pg_dump'), [
  '--format=custom',
  '--no-owner',
  `--file=${resolve(process.env.INIT_CWD ?? '.', file)}`,
  databaseUrl,
]);
say(`Kept in ${file}.`);
