import { posix } from 'node:path';
import { files, read } from './files.js';

const DOCS = files.filter((file) => file.endsWith('.md') && !file.startsWith('demo/'));
const { scripts } = JSON.parse(read('package.json')) as { scripts: Record<string, string> };
const ROOMS = /^(?:core|contract|server|web|demo|standins|e2e|scripts|docs)\//;

/** Made on the machine that runs it, and so in no checkout. */
const MADE = ['postgres.json'];

/** Is there a file or folder of that name, from the root or, as a short name, anywhere? */
function isThere(path: string): boolean {
  const plain = path.replace(/\/$/, '');
  return files.some((f) => f === plain || f.startsWith(`${plain}/`) || f.endsWith(`/${plain}`));
}

/** Paths and commands that a page of the docs names and that do not exist. */
function missing(doc: string, text: string): string[] {
  const spans = [...text.matchAll(/`([^`\n]+)`/g)].map((m) => m[1]!.trim());
  const paths = spans.filter(
    (span) =>
      /^[\w.@-]+(?:\/[\w.@-]+)*\/?$/.test(span) &&
      !/\bNNNN\b/.test(span) &&
      !MADE.includes(span) &&
      (/\.(?:ts|mjs|html|eta|scss|md|sql|json|png|yml)$/.test(span) || ROOMS.test(span)),
  );
  const links = [...text.matchAll(/\]\((?!https?:|mailto:|#)([^)#\s]+)/g)].map((m) =>
    posix.join(posix.dirname(doc), m[1]!),
  );
  const commands = [...text.matchAll(/npm run ([\w:-]+)/g)].map((m) => m[1]!);
  return [
    ...[...paths, ...links].filter((path) => !isThere(path)),
    ...commands.filter((name) => !(name in scripts)).map((name) => `npm run ${name}`),
  ];
}

describe('what the docs name', () => {
  it.each(DOCS)('exists: %s', (doc) => {
    expect(missing(doc, read(doc))).toEqual([]);
  });

  it('would be missed', () => {
    const text = 'See `server/src/nowhere/at-all.ts`, `nothing.ts`, [it](gone.md) and `npm run dance`.';
    expect(missing('docs/a.md', text)).toEqual([
      'server/src/nowhere/at-all.ts',
      'nothing.ts',
      'docs/gone.md',
      'npm run dance',
    ]);
  });
});
