import { keyOf, makerOf } from '../body/suggestion-key.js';
import type { Mark } from './inline.js';
import type { HtmlElement } from './tree.js';

/** Who suggests in a text that comes from outside, before it is known who they are here. */
export class SuggestedMarks {
  readonly authors: string[] = [];

  /** `<ins data-suggestion="k3" data-by="Ann Lee" datetime="2026-11-27T07:30Z">`, as we write it; else null. */
  read({ tag, attrs }: HtmlElement): Mark | null {
    const { datetime: at = '', 'data-suggestion': id = '', 'data-by': by = '' } = attrs;
    if ((tag !== 'ins' && tag !== 'del') || id === '') return null;
    const key = keyOf({ personId: this.numberOf(by.trim().slice(0, 120)), at, id });
    return makerOf(key) ? { type: tag === 'ins' ? 'inserted' : 'deleted', attrs: { key } } : null;
  }

  private numberOf(name: string): number {
    const known = this.authors.indexOf(name);
    return known >= 0 ? known + 1 : this.authors.push(name);
  }
}
