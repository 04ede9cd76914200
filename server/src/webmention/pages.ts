import LinkHeader from 'http-link-header';
import { parse, defaultTreeAdapter as tree, type DefaultTreeAdapterMap } from 'parse5';

type Node = DefaultTreeAdapterMap['node'];
type Element = DefaultTreeAdapterMap['element'];

/** Every element of a page, in the order in which they stand in it. */
function* elementsOf(node: Node): Generator<Element> {
  if (tree.isElementNode(node)) yield node;
  if ('childNodes' in node) for (const child of node.childNodes) yield* elementsOf(child);
}
const attribute = (element: Element, name: string): string | null =>
  element.attrs.find((a) => a.name === name)?.value ?? null;

const resolved = (href: string, base: string): string | null =>
  URL.canParse(href, base) ? new URL(href, base).href : null;

/**
 * Where a page takes mentions of itself (W3C Recommendation Webmention, 12 January 2017, section 3.1.2): by its HTTP
 * Link header first, then by the first `link` or `a` element in its text, with `rel` webmention among others; a
 * relative address is meant from the page. Null where it takes none.
 */
export function endpointOf(page: { url: string; link: string | null; html: string }): string | null {
  if (page.link !== null) {
    const [first] = linksWithRel(page.link);
    if (first !== undefined) return resolved(first, page.url);
  }
  for (const element of elementsOf(parse(page.html))) {
    if (element.tagName !== 'link' && element.tagName !== 'a') continue;
    const rels = (attribute(element, 'rel') ?? '').toLowerCase().split(/\s+/);
    const href = attribute(element, 'href');
    // Without an address it says nothing; an empty one is the page itself.
    if (rels.includes('webmention') && href !== null) return resolved(href, page.url);
  }
  return null;
}

function linksWithRel(header: string): string[] {
  try {
    return LinkHeader.parse(header)
      .refs.filter((ref) => ref.rel.toLowerCase().split(/\s+/).includes('webmention'))
      .map((ref) => ref.uri);
  } catch {
    return [];
  }
}

/** Attributes by which a page names another one. */
const NAMING = ['href', 'src', 'cite', 'data', 'poster'];

/** Does a page name this very address? What only stands in its text, or in a comment of it, is no link. */
export function linksTo(html: string, url: string, target: string): boolean {
  const wanted = new URL(target).href;
  for (const element of elementsOf(parse(html)))
    for (const name of NAMING) {
      const value = attribute(element, name);
      if (value !== null && resolved(value, url) === wanted) return true;
    }
  return false;
}

const MAX_TITLE = 200;

/** What a page calls itself, as plain words. */
export function titleOf(html: string): string {
  let title = '';
  for (const element of elementsOf(parse(html))) {
    if (element.tagName === 'meta' && attribute(element, 'property') === 'og:title') {
      title = attribute(element, 'content') ?? '';
      break;
    }
    if (element.tagName === 'title' && title === '')
      title = element.childNodes.map((n) => (tree.isTextNode(n) ? n.value : '')).join('');
  }
  return title.replace(/\s+/g, ' ').trim().slice(0, MAX_TITLE);
}
