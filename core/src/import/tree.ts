/** A parsed HTML document, parsed by the browser on paste or by the server on import. */
export type HtmlNode = string | HtmlElement;
export interface HtmlElement {
  /** Lower-case tag name. */
  tag: string;
  attrs: Readonly<Record<string, string>>;
  children: HtmlNode[];
}

export const isElement = (node: HtmlNode): node is HtmlElement => typeof node !== 'string';

export function element(
  tag: string,
  children: HtmlNode[] = [],
  attrs: Record<string, string> = {},
): HtmlElement {
  return { tag, attrs, children };
}

/** All text below a node. Walks without recursion: the tree may be deeper than the call stack. */
export function textOf(node: HtmlNode): string {
  let text = '';
  const stack: HtmlNode[] = [node];
  for (let top = stack.pop(); top !== undefined; top = stack.pop()) {
    if (!isElement(top)) text += top;
    else for (let i = top.children.length - 1; i >= 0; i--) stack.push(top.children[i]!);
  }
  return text;
}

/** The tree with everything below `most` levels turned into its text, so that recursion over it is safe. */
export function prune(root: HtmlNode, max: number): HtmlNode {
  if (!isElement(root)) return root;
  return max === 0
    ? textOf(root)
    : { ...root, children: root.children.map((child) => prune(child, max - 1)) };
}

/** One declaration of an inline style, lower-case, or ''. */
export function styleOf(node: HtmlElement, property: string): string {
  const style = node.attrs['style'] ?? '';
  const match = new RegExp(`(?:^|;)\\s*${property}\\s*:\\s*([^;]*)`, 'i').exec(style.slice(0, 4000));
  return (match?.[1] ?? '').trim().toLowerCase();
}
