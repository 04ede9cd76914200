// ESLint rule: the folders of a workspace import each other in one direction only. Two folders that need each other
// are one room, or lack a third.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve, sep } from 'node:path';

const IMPORT = /(?:from|import)\s*\(?\s*'(\.{1,2}\/[^']+)'/g;
const graphs = new Map();

function* sources(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* sources(path);
    else if (/\.ts$/.test(entry.name) && !/\.spec\.ts$|testing\.ts$/.test(entry.name)) yield path;
  }
}

/** Folders directly under the root; files beside them put the others together and count as none. */
const folderOf = (root, path) => {
  const [first, ...rest] = relative(root, path).split(sep);
  return rest.length > 0 && first !== '..' ? first : null;
};

function graphOf(root) {
  const known = graphs.get(root);
  if (known) return known;
  const graph = new Map();
  for (const file of existsSync(root) ? sources(root) : []) {
    const from = folderOf(root, file);
    if (!from) continue;
    for (const [, target] of readFileSync(file, 'utf8').matchAll(IMPORT)) {
      const to = folderOf(root, resolve(dirname(file), target));
      if (to && to !== from) graph.set(from, (graph.get(from) ?? new Set()).add(to));
    }
  }
  graphs.set(root, graph);
  return graph;
}

/** The way from one folder to another, or null. */
function wayBetween(graph, from, to, seen = new Set()) {
  if (from === to) return [to];
  seen.add(from);
  for (const next of graph.get(from) ?? []) {
    const way = seen.has(next) ? null : wayBetween(graph, next, to, seen);
    if (way) return [from, ...way];
  }
  return null;
}

export default {
  meta: { type: 'problem', schema: [{ type: 'string' }] },
  create(context) {
    const root = resolve(context.cwd, context.options[0]);
    const from = folderOf(root, context.filename);
    if (!from) return {};
    return {
      'ImportDeclaration, ExportNamedDeclaration[source], ExportAllDeclaration'(node) {
        const target = node.source?.value;
        if (typeof target !== 'string' || !target.startsWith('.')) return;
        const to = folderOf(root, resolve(dirname(context.filename), target));
        if (!to || to === from) return;
        const back = wayBetween(graphOf(root), to, from);
        if (back)
          context.report({ node, message: `Folders run in a circle: ${[from, ...back].join(' → ')}.` });
      },
    };
  },
};
