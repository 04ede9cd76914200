import { parse, parseFragment, serialize, type DefaultTreeAdapterTypes as P5 } from 'parse5';
import { mapSrcset } from '@keyroster/core';

/** Attributes that hold an address, by element. */
const HOLDING: Record<string, readonly string[]> = {
  a: ['href'],
  area: ['href'],
  audio: ['src'],
  img: ['src', 'srcset'],
  link: ['href'],
  source: ['src', 'srcset'],
  track: ['src'],
  video: ['src', 'poster'],
};

/**
 * A page, or a part of one, with its addresses as `map` has them. `link` says whether it leads somewhere, other than a
 * picture, a style sheet or a film, which the page shows. An address that is told to search engines is left.
 */
export function mapAddresses(
  html: string,
  of: 'page' | 'part',
  map: (address: string, link: boolean) => string,
): string {
  const tree = of === 'page' ? parse(html) : parseFragment(html);
  const waiting: P5.ParentNode[] = [tree];
  for (let node = waiting.pop(); node; node = waiting.pop())
    for (const child of node.childNodes) {
      if (!('attrs' in child)) continue;
      waiting.push(child);
      if (child.attrs.some((a) => a.name === 'rel' && a.value === 'canonical')) continue;
      const held = HOLDING[child.tagName] ?? [];
      const link = child.tagName === 'a' || child.tagName === 'area';
      for (const attr of child.attrs)
        if (attr.name === 'srcset' && held.includes('srcset'))
          attr.value = mapSrcset(attr.value, (address) => map(address, false));
        else if (held.includes(attr.name)) attr.value = map(attr.value, link);
    }
  return serialize(tree);
}
