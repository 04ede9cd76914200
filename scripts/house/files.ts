import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

export const root = join(import.meta.dirname, '..', '..');

/** The files of the project, by their paths from its root. */
export const files = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard'], {
  cwd: root,
  encoding: 'utf8',
  maxBuffer: 1 << 26,
})
  .split('\n')
  .filter(Boolean);

export const read = (file: string) => readFileSync(join(root, file), 'utf8');
