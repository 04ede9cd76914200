// ESLint rule: the folders of a workspace import each other in one direction only. Two folders that need each other
// are one room, or lack a third.
import { existsSync } from 'node:fs';
import { dirname, relative, resolve, sep } from 'node:path';
import { importsOf, sources, wayBetween } from './imports.mjs';

const graphs = new Map();

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
    for (const target of importsOf(file)) {
      const to = folderOf(root, target);
      if (to && to !== from) graph.set(from, (graph.get(from) ?? new Set()).add(to));
    }
  }
  graphs.set(root, graph);
  return graph;
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
