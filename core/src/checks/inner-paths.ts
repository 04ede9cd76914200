import type { BodyNode } from '../body/schema.js';
import { linksOf } from '../body/text.js';

/** The path of this blog that a link leads to, without query and fragment; null when it leads elsewhere. */
export function pathOf(href: string, home?: string): string | null {
  const path = home && href.startsWith(`${home}/`) ? href.slice(home.length) : href;
  return path.startsWith('/') ? path.replace(/[?#].*$/, '').replace(/(.)\/$/, '$1') : null;
}

/** The body with links in full to this blog's own pages as paths. */
export function withInnerPaths(body: BodyNode, home: string): BodyNode {
  return home === '' ? body : mapHrefs(body, (href) => pathOf(href, home) ?? href);
}

/** The body with every address that it leads to changed. */
function mapHrefs(body: BodyNode, to: (href: string) => string): BodyNode {
  return JSON.parse(JSON.stringify(body), (key, value: unknown) =>
    key === 'href' && typeof value === 'string' ? to(value) : value,
  ) as BodyNode;
}

/** Paths of this blog that a body links to. */
export function innerPaths(body: BodyNode): string[] {
  return [
    ...new Set(
      linksOf(body)
        .map((l) => pathOf(l.href))
        .filter((p): p is string => p !== null && p !== '/'),
    ),
  ];
}

/**
 * Links to pages of the blog, and to places within the text, as addresses that begin with its home: for readers
 * elsewhere, or of a blog that stands under a path. `self` is the address of the post's own page.
 */
export function withHome(body: BodyNode, home: string, self: string): BodyNode {
  return mapHrefs(body, (href) =>
    href.startsWith('/') && !href.startsWith('//')
      ? `${home}${href}`
      : href.startsWith('#')
        ? `${self}${href}`
        : href,
  );
}
