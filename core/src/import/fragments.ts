import { headingIds } from '../body/html.js';
import type { BodyNode } from '../body/schema.js';
import { inlineText, nodesOf } from '../body/text.js';
import { formatList } from '../text/list.js';
import { formatCount } from '../time/format.js';

/** How Markdown's renderers make a fragment of a heading (common practice, no published source). */
const plainFragment = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}\s_-]/gu, '')
    .trim()
    .replace(/\s/g, '-');

const NAMED = 4;
const some = (names: readonly string[]): string =>
  formatList([...names.slice(0, NAMED), ...(names.length > NAMED ? [`${names.length - NAMED} more`] : [])]);

/**
 * Links within a text lead to its headings by the fragments that these have here. `named` says which heading
 * stood under which name where the text comes from. A link that leads to none loses its address, and the remark
 * says so.
 */
export function mendFragments(
  body: BodyNode,
  named: ReadonlyMap<string, BodyNode>,
): { body: BodyNode; remarks: string[] } {
  const ids = headingIds(body);
  const to = new Map<string, string>();
  const seen = new Map<string, number>();
  for (const heading of nodesOf(body)) {
    if (heading.type !== 'heading') continue;
    const id = ids.get(heading)!;
    const plain = plainFragment(inlineText(heading));
    const n = seen.get(plain) ?? 0;
    seen.set(plain, n + 1);
    for (const name of [n === 0 ? plain : `${plain}-${n}`, id]) if (!to.has(name)) to.set(name, id);
  }
  for (const [name, heading] of named) {
    const id = ids.get(heading);
    if (id !== undefined) to.set(name, id);
  }
  const lost = new Set<string>();
  const beside = new Set<string>();
  const visit = (node: BodyNode): BodyNode => {
    const marks = node.marks?.flatMap((mark) => {
      const href = mark.type === 'link' ? String(mark.attrs?.['href'] ?? '') : '';
      if (href !== '' && !/^([a-z][a-z0-9+.-]*:|\/|#)/i.test(href)) beside.add(href);
      if (!href.startsWith('#')) return [mark];
      const id = to.get(decoded(href.slice(1))) ?? to.get(href.slice(1));
      if (id !== undefined) return [{ ...mark, attrs: { ...mark.attrs, href: `#${id}` } }];
      lost.add(href);
      return [];
    });
    const { marks: _, ...rest } = node;
    return {
      ...rest,
      ...(marks && marks.length > 0 ? { marks } : {}),
      ...(node.content ? { content: node.content.map(visit) } : {}),
    };
  };
  const repaired = visit(body);
  return {
    body: repaired,
    remarks: [
      ...(lost.size > 0
        ? [
            `${formatCount(lost.size, 'link')} within the text led to no heading and became plain words: ` +
              `${some([...lost])}.`,
          ]
        : []),
      ...(beside.size > 0
        ? [
            `${formatCount(beside.size, 'link')} lead${beside.size === 1 ? 's' : ''} to files beside the one ` +
              `brought in, which are not here: ${some([...beside])}.`,
          ]
        : []),
    ],
  };
}

function decoded(fragment: string): string {
  try {
    return decodeURIComponent(fragment);
  } catch {
    return fragment;
  }
}

/** Headings at most one level below the one that they stand under, with a remark when that changed any. */
export function levelHeadings(content: readonly BodyNode[]): { content: BodyNode[]; remarks: string[] } {
  let changed = 0;
  // Levels as they were, of the headings that the next one stands under.
  const open: { was: number; is: number }[] = [];
  const levelled = content.map((node) => {
    if (node.type !== 'heading') return node;
    const was = Number(node.attrs?.['level']);
    while (open.length > 0 && open.at(-1)!.was >= was) open.pop();
    const above = open.at(-1);
    const is = above ? Math.min(4, above.is + 1) : was;
    open.push({ was, is });
    if (is !== was) changed++;
    return is === was ? node : { ...node, attrs: { ...node.attrs, level: is } };
  });
  return {
    content: levelled,
    remarks:
      changed > 0
        ? [
            `${formatCount(changed, 'heading')} moved up, since levels were skipped above ${changed === 1 ? 'it' : 'them'}.`,
          ]
        : [],
  };
}
