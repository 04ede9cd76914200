import { element, isElement, styleOf, textOf, type HtmlElement, type HtmlNode } from './tree.js';

interface WordItem {
  level: number;
  ordered: boolean;
  start: number;
  item: HtmlElement;
}

/**
 * Word processors put list items on the clipboard as paragraphs that only look like a list
 * (`mso-list:l0 level2 lfo1`, with the marker in a span `mso-list:Ignore`). This makes real, nested lists of
 * them.
 */
export function gatherWordLists(children: HtmlNode[]): HtmlNode[] {
  const out: HtmlNode[] = [];
  let run: WordItem[] = [];
  const flush = () => {
    if (run.length > 0) out.push(...nest(run));
    run = [];
  };
  for (const child of children) {
    const item = isElement(child) ? wordItem(child) : null;
    if (item) run.push(item);
    else if (run.length === 0 || isElement(child) || child.trim() !== '') {
      // White space between the items of a list is layout; elsewhere it may part two words.
      flush();
      out.push(child);
    }
  }
  flush();
  return out;
}

function wordItem(node: HtmlElement): WordItem | null {
  if (node.tag !== 'p') return null;
  const level = /level(\d)/.exec(styleOf(node, 'mso-list'));
  if (!level) return null;
  let marker = '';
  const strip = (nodes: HtmlNode[]): HtmlNode[] =>
    nodes.flatMap((child): HtmlNode[] => {
      if (!isElement(child)) return [child];
      if (styleOf(child, 'mso-list') === 'ignore') {
        marker = textOf(child).trim();
        return [];
      }
      return [{ ...child, children: strip(child.children) }];
    });
  const children = strip(node.children);
  const number = /^\(?(\d+|[a-z]+)[.)]/i.exec(marker);
  return {
    level: Number(level[1]),
    ordered: number !== null,
    start: number && /^\d+$/.test(number[1]!) ? Number(number[1]) : 1,
    item: element('li', [element('p', children)]),
  };
}

function nest(items: WordItem[]): HtmlElement[] {
  const lists: HtmlElement[] = [];
  for (let i = 0; i < items.length;) {
    const first = items[i]!;
    const list = element(
      first.ordered ? 'ol' : 'ul',
      [],
      first.ordered && first.start !== 1 ? { start: String(first.start) } : {},
    );
    while (
      i < items.length &&
      items[i]!.level >= first.level &&
      (items[i]!.level > first.level || items[i]!.ordered === first.ordered)
    ) {
      if (items[i]!.level === first.level) {
        list.children.push(items[i]!.item);
        i++;
        continue;
      }
      const deeper: WordItem[] = [];
      while (i < items.length && items[i]!.level > first.level) deeper.push(items[i++]!);
      const last = list.children[list.children.length - 1] as HtmlElement;
      last.children.push(...nest(deeper));
    }
    lists.push(list);
  }
  return lists;
}
