// ESLint rule: no two files need each other, directly or through others. Types count too: what both need is a third
// file.
import { existsSync } from 'node:fs';
import { dirname, relative, resolve } from 'node:path';
import { importsOf, sources, wayBetween } from './imports.mjs';

const graphs = new Map();

/** The file that an import leads to: written as `.js` or without an ending, or a folder's index. */
const fileOf = (target) =>
  [target.replace(/\.js$/, '.ts'), `${target}.ts`, `${target}/index.ts`].find((path) => existsSync(path)) ??
  null;

function graphOf(root) {
  const known = graphs.get(root);
  if (known) return known;
  const graph = new Map();
  for (const file of existsSync(root) ? sources(root) : [])
    graph.set(file, new Set(importsOf(file, { lazy: false }).map(fileOf).filter(Boolean)));
  graphs.set(root, graph);
  return graph;
}

export default {
  meta: { type: 'problem', schema: [{ type: 'string' }] },
  create(context) {
    const root = resolve(context.cwd, context.options[0]);
    return {
      'ImportDeclaration, ExportNamedDeclaration[source], ExportAllDeclaration'(node) {
        const target = node.source?.value;
        if (typeof target !== 'string' || !target.startsWith('.')) return;
        const to = fileOf(resolve(dirname(context.filename), target));
        const back = to && wayBetween(graphOf(root), to, context.filename);
        if (!back) return;
        const names = [context.filename, ...back].map((path) => relative(root, path));
        context.report({ node, message: `Files import each other in a circle: ${names.join(' → ')}.` });
      },
    };
  },
};
