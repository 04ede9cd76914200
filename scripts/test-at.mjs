// npm run test:at -- "2026-12-31 23:58" [suite …]: the tests as they would run at another time, by the blog's clock.
// Database, server, browser and tests all get their clock from Debian's faketime, moved by the same span.
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { aptInstall, installPackages, root, run, say } from './machine.mjs';

const ZONE = 'Europe/London';
const [when, ...suites] = process.argv.slice(2);
if (!/^\d{4}-\d\d-\d\d \d\d:\d\d$/.test(when ?? '')) {
  console.error('Say when, in the blog’s zone: npm run test:at -- "2026-12-31 23:58"');
  process.exit(1);
}

const libraries = '/usr/lib';
const library = () => {
  for (const folder of existsSync(libraries) ? readdirSync(libraries) : []) {
    const path = join(libraries, folder, 'faketime', 'libfaketime.so.1');
    if (existsSync(path)) return path;
  }
  return null;
};
if (!library()) aptInstall(['faketime'], 'faketime');
installPackages();
// Built by the real clock: compilers look at the times of files.
const { build } = await import('./build.mjs');
build();
const { Temporal } = await import('temporal-polyfill');
const instant = Temporal.PlainDateTime.from(when.replace(' ', 'T')).toZonedDateTime(ZONE);
const seconds = Math.round((instant.epochMilliseconds - Date.now()) / 1000);
say(`The tests, as at ${instant.toString({ timeZoneName: 'never' })} in ${ZONE}`);
process.exit(
  run(process.execPath, [join(root, 'scripts', 'test.mjs'), ...suites], {
    env: { ...process.env, LD_PRELOAD: library(), FAKETIME: `${seconds < 0 ? '' : '+'}${seconds}` },
  }),
);
