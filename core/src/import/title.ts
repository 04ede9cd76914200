import { collapse } from './inline.js';
import { DROPPED_TAGS, SILENT_TAGS } from './tags.js';
import { isElement, textOf, type HtmlElement, type HtmlNode } from './tree.js';

/** A tree without its title, and by how many levels its headings go down. */
export interface Titled {
  tree: HtmlNode;
  title: string | null;
  shift: number;
  remarks: string[];
}

/**
 * A single leading h1 (or a word processor's title paragraph) is the title; otherwise level 1 pushes all
 * levels down.
 */
export function extractTitle(root: HtmlNode): Titled {
  const tops: HtmlElement[] = [];
  const saysTitle = (n: HtmlElement) => /\b(?:MsoTitle|word-title)\b/.test(n.attrs['class'] ?? '');
  const isTitle = (n: HtmlElement) => n.tag === 'h1' || saysTitle(n);
  let firstText: HtmlElement | 'other' | null = null;
  const scan = (node: HtmlNode): void => {
    if (!isElement(node)) {
      if (node.trim() !== '') firstText ??= 'other';
      return;
    }
    if (SILENT_TAGS.has(node.tag) || DROPPED_TAGS[node.tag]) return;
    if (isTitle(node) && textOf(node).trim() !== '') {
      tops.push(node);
      firstText ??= node;
      return;
    }
    for (const child of node.children) scan(child);
  };
  scan(root);
  if (firstText !== null && firstText === tops[0] && (tops.length === 1 || saysTitle(tops[0]!))) {
    const without = (node: HtmlNode): HtmlNode[] =>
      !isElement(node)
        ? [node]
        : node === tops[0]
          ? []
          : [
              node.children.some((c) => c === tops[0] || isElement(c))
                ? { ...node, children: node.children.flatMap(without) }
                : node,
            ];
    return {
      tree: without(root)[0] ?? '',
      title: collapse(textOf(tops[0]!)).trim(),
      // Under a title in a style of its own, headings of level 1 are the sections.
      shift: tops.length > 1 ? 1 : 0,
      remarks: [],
    };
  }
  if (!tops.some((t) => t.tag === 'h1')) return { tree: root, title: null, shift: 0, remarks: [] };
  return {
    tree: root,
    title: null,
    shift: 1,
    remarks: ['Headings moved down a level, since the title is the only level 1.'],
  };
}
