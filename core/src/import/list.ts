import type { BodyNode } from '../body/schema.js';
import { tickOf } from './own-blocks.js';
import { isElement, type HtmlElement, type HtmlNode } from './tree.js';

/** A list of any kind as a block; none when it has no items. */
export function listOf(node: HtmlElement, blocksOf: (nodes: HtmlNode[]) => BodyNode[]): BodyNode[] {
  const items = itemsOf(node, blocksOf);
  if (items.length === 0) return [];
  // One item with a tick makes it a list to tick off; the others are open.
  if (items.some((i) => i.type === 'checkItem'))
    return [
      {
        type: 'checkList',
        content: items.map((i) =>
          i.type === 'checkItem' ? i : { ...i, type: 'checkItem', attrs: { checked: false } },
        ),
      },
    ];
  const start = Number(node.attrs['start'] ?? 1);
  return node.tag === 'ol'
    ? [
        {
          type: 'orderedList',
          attrs: { start: Number.isInteger(start) && start >= 0 && start <= 999_999_999 ? start : 1 },
          content: items,
        },
      ]
    : [{ type: 'bulletList', content: items }];
}

function itemsOf(list: HtmlElement, blocksOf: (nodes: HtmlNode[]) => BodyNode[]): BodyNode[] {
  const items: BodyNode[] = [];
  const startWithParagraph = (blocks: BodyNode[]) =>
    blocks[0]?.type === 'paragraph' ? blocks : [{ type: 'paragraph' }, ...blocks];
  for (const child of list.children) {
    if (!isElement(child)) {
      if (child.trim() !== '') items.push({ type: 'listItem', content: blocksOf([child]) });
      continue;
    }
    if (child.tag === 'li') {
      const tick = tickOf(child);
      const content = startWithParagraph(blocksOf(tick?.children ?? child.children));
      items.push(
        tick
          ? { type: 'checkItem', attrs: { checked: tick.checked }, content }
          : { type: 'listItem', content },
      );
    } else {
      // A list directly within a list, as some word processors write it, belongs to the item before.
      const blocks = blocksOf([child]);
      const last = items[items.length - 1];
      if (last) last.content!.push(...blocks);
      else if (blocks.length > 0) items.push({ type: 'listItem', content: startWithParagraph(blocks) });
    }
  }
  return items;
}
