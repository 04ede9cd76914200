// npm run demo:reset: the demo blog as new, dated around today. Everything else in the database goes.
import { join } from 'node:path';
import { build } from './build.mjs';
import { ourDatabase } from './env.mjs';
import { checkNode, installPackages, must, root, say } from './machine.mjs';

checkNode();
installPackages();
build();
const { databaseUrl } = await ourDatabase();
must(process.execPath, [join(root, 'demo', 'dist', 'load.js'), '--reset'], {
  env: { ...process.env, DATABASE_URL: databaseUrl },
});
say('The demo blog is as new.');
