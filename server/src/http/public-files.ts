import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const require = createRequire(import.meta.url);

/** The folder of a face that ships with the application. */
export const fontFolder = (name: string): string =>
  join(dirname(require.resolve(`@fontsource-variable/${name}/package.json`)), 'files');

/** What readers' pages need beside their text: the style sheet and the icon. */
export const publicFolder = fileURLToPath(new URL('../../public', import.meta.url));
