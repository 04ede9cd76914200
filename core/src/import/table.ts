import type { BodyNode } from '../body/schema.js';
import { isElement, type HtmlElement } from './tree.js';

/** A table as a block; null when it only lays out a page. `blocksOf` gives the blocks of a cell. */
export function tableOf(node: HtmlElement, blocksOf: (cell: HtmlElement) => BodyNode[]): BodyNode | null {
  const rows: HtmlElement[] = [];
  const collect = (n: HtmlElement): void => {
    for (const child of n.children) {
      if (!isElement(child)) continue;
      if (child.tag === 'tr') rows.push(child);
      else if (child.tag === 'thead' || child.tag === 'tbody' || child.tag === 'tfoot') collect(child);
    }
  };
  collect(node);
  const span = (cell: HtmlElement, name: string, max: number) => {
    const n = Number(cell.attrs[name] ?? 1);
    return Number.isInteger(n) && n >= 1 && n <= max ? n : 1;
  };
  const content = rows
    .map((row): BodyNode => ({
      type: 'tableRow',
      content: row.children
        .filter(isElement)
        .filter((c) => c.tag === 'td' || c.tag === 'th')
        .map((cell) => {
          const blocks = blocksOf(cell);
          return {
            type: cell.tag === 'th' ? 'tableHeader' : 'tableCell',
            attrs: {
              colspan: span(cell, 'colspan', 50),
              rowspan: span(cell, 'rowspan', 500),
              colwidth: null,
            },
            content: blocks.length > 0 ? blocks : [{ type: 'paragraph' }],
          };
        }),
    }))
    .filter((row) => (row.content?.length ?? 0) > 0);
  // A table of one cell is a page's layout, not a table.
  if (content.length === 0 || (content.length === 1 && content[0]!.content!.length === 1)) return null;
  return { type: 'table', content };
}
