// What rules about imports share: the files of a workspace, what they import, and ways through a graph.
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';

const IMPORT = /(?:from|import)\s*\(?\s*'(\.{1,2}\/[^']+)'/g;
const AT_ONCE = /(?:from|import)\s+'(\.{1,2}\/[^']+)'/g;

/** Source files under a folder, without tests. */
export function* sources(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* sources(path);
    else if (/\.ts$/.test(entry.name) && !/\.spec\.ts$|testing\.ts$/.test(entry.name)) yield path;
  }
}

/** Paths that a file imports by relative names; with `lazy`, also those that are fetched when needed. */
export const importsOf = (file, { lazy = true } = {}) =>
  [...readFileSync(file, 'utf8').matchAll(lazy ? IMPORT : AT_ONCE)].map(([, target]) =>
    resolve(dirname(file), target),
  );

/** The way from one node of a graph to another, or null. */
export function wayBetween(graph, from, to, seen = new Set()) {
  if (from === to) return [to];
  seen.add(from);
  for (const next of graph.get(from) ?? []) {
    const way = seen.has(next) ? null : wayBetween(graph, next, to, seen);
    if (way) return [from, ...way];
  }
  return null;
}
