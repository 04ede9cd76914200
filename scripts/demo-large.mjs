// npm run demo:large: a hundred thousand more posts in the demo blog, to see the archive as an old blog has
// it.
import { join } from 'node:path';
import { build } from './build.mjs';
import { ourDatabase } from './env.mjs';
import { checkNode, installPackages, must, root } from './machine.mjs';

checkNode();
installPackages();
build();
const { databaseUrl } = await ourDatabase();
for (const part of ['load.js', 'load-large.js'])
  must(process.execPath, [join(root, 'demo', 'dist', part)], {
    env: { ...process.env, DATABASE_URL: databaseUrl },
  });
