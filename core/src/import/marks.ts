import { safeHref } from '../body/schema.js';
import type { Mark } from './inline.js';
import type { Dropped } from './report.js';
import { MARK_TAGS } from './tags.js';
import { styleOf, textOf, type HtmlElement } from './tree.js';

const OTHER_MARKS: ReadonlySet<string> = new Set(['u', 's', 'strike', 'del', 'ins']);

/** The marks within an element that stands within others; what has no mark here is handed to `drop`. */
export function marksOf(
  node: HtmlElement,
  marks: Mark[],
  drop: (kind: Dropped) => void,
  suggested: (node: HtmlElement) => Mark | null,
): Mark[] {
  let inner = marks;
  const add = (mark: Mark) => {
    inner = [...inner.filter((m) => m.type !== mark.type), mark];
  };
  const weight = styleOf(node, 'font-weight');
  const named = MARK_TAGS[node.tag];
  if (
    named &&
    !(named === 'bold' && /^(normal|[1-5]00)$/.test(weight)) &&
    !(named === 'italic' && styleOf(node, 'font-style') === 'normal')
  )
    add({ type: named });
  if (/^(bold|bolder|[6-9]00)$/.test(weight)) add({ type: 'bold' });
  if (/^(italic|oblique)/.test(styleOf(node, 'font-style'))) add({ type: 'italic' });
  const suggestion = suggested(node);
  if (suggestion) add(suggestion);
  else if (OTHER_MARKS.has(node.tag)) drop('other mark');
  if (node.tag === 'a' && node.attrs['href'] !== undefined) {
    const href = safeHref(node.attrs['href']);
    if (href) add({ type: 'link', attrs: { href } });
    else if (textOf(node).trim() !== '') drop('unsafe link');
  }
  return inner;
}
