import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import type { HtmlElement, HtmlNode } from '@keyroster/core';

type P5Node = DefaultTreeAdapterTypes.ChildNode | DefaultTreeAdapterTypes.Document;

/**
 * HTML as browsers parse it (WHATWG, through parse5), as the plain tree that core reads. Walks without
 * recursion.
 */
export function parseHtml(html: string): HtmlElement {
  const root: HtmlElement = { tag: 'body', attrs: {}, children: [] };
  const stack: { from: P5Node; into: HtmlNode[] }[] = [{ from: parse(html), into: root.children }];
  for (let top = stack.pop(); top; top = stack.pop()) {
    if (!('childNodes' in top.from)) continue;
    const opened: { from: P5Node; into: HtmlNode[] }[] = [];
    for (const child of top.from.childNodes) {
      if (child.nodeName === '#text') top.into.push((child as DefaultTreeAdapterTypes.TextNode).value);
      else if (child.nodeName === '#comment') top.into.push({ tag: '#comment', attrs: {}, children: [] });
      else if ('tagName' in child) {
        const element: HtmlElement = {
          tag: child.tagName.toLowerCase(),
          attrs: Object.fromEntries(child.attrs.map((a) => [a.name.toLowerCase(), a.value])),
          children: [],
        };
        top.into.push(element);
        opened.push({ from: child, into: element.children });
      }
    }
    stack.push(...opened);
  }
  return root;
}
