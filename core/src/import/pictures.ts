import { safeHref, type BodyNode } from '../body/schema.js';
import { formatList } from '../text/list.js';
import { textNode } from './inline.js';
import type { Dropped } from './report.js';
import type { HtmlElement } from './tree.js';

/** A picture whose data came along with the text; it has to be stored before the body can be. */
export interface EmbeddedPicture {
  /** Stands as `media` in the body until the picture has an id. Negative, so it can never be one. */
  placeholder: number;
  dataUri: string;
  alt: string;
}

const DATA_PICTURE = /^data:image\/(png|jpe?g|gif|webp);base64,[a-z0-9+/=\s]+$/i;

const pictureAttrs = (media: number, alt: string) => ({
  media,
  alt,
  caption: '',
  credit: '',
  size: 'column',
  side: 'none',
});

/** The pictures of one text. */
export class Pictures {
  readonly embedded: EmbeddedPicture[] = [];
  private readonly beside = new Set<string>();

  constructor(private readonly drop: (kind: Dropped) => void) {}

  /** A picture as a block, a link in its place where it stands elsewhere, or nothing. */
  read(node: HtmlElement): BodyNode | null {
    const src = (node.attrs['src'] ?? '').trim();
    const alt = (node.attrs['alt'] ?? '').slice(0, 1000);
    const own = /^(?:https?:\/\/[^/]+)?\/media\/(\d{1,15})(?:[/?#]|$)/.exec(src);
    if (own) return { type: 'picture', attrs: pictureAttrs(Number(own[1]), alt) };
    if (DATA_PICTURE.test(src)) {
      const placeholder = -1 - this.embedded.length;
      this.embedded.push({ placeholder, dataUri: src.replace(/\s+/g, ''), alt });
      return { type: 'picture', attrs: pictureAttrs(placeholder, alt) };
    }
    if (src !== '' && !/^([a-z][a-z0-9+.-]*:|\/)/i.test(src)) this.beside.add(src.slice(0, 200));
    this.drop('picture from elsewhere');
    const href = /^https?:/i.test(src) ? safeHref(src) : null;
    return href ? textNode(alt || 'picture', [{ type: 'link', attrs: { href } }]) : null;
  }

  /** Says which pictures the text counts on that did not come with it. */
  remarks(): string[] {
    const names = [...this.beside];
    return names.length === 0
      ? []
      : [
          `${names.length === 1 ? 'A picture that stands' : `${names.length} pictures that stand`} beside the file ` +
            `${names.length === 1 ? 'is' : 'are'} not in it: ${formatList(names.slice(0, 4))}` +
            `${names.length > 4 ? ' and others' : ''}. Add ${names.length === 1 ? 'it' : 'them'} to the library.`,
        ];
  }
}

/** Gives carried pictures their ids; a picture without one leaves the body. */
export function placePictures(body: BodyNode, ids: ReadonlyMap<number, number>): BodyNode {
  const visit = (node: BodyNode): BodyNode[] => {
    if (node.type === 'picture' && Number(node.attrs?.['media']) < 0) {
      const id = ids.get(Number(node.attrs?.['media']));
      return id === undefined ? [] : [{ ...node, attrs: { ...node.attrs, media: id } }];
    }
    return [node.content ? { ...node, content: node.content.flatMap(visit) } : node];
  };
  const placed = visit(body)[0]!;
  return (placed.content?.length ?? 0) > 0 ? placed : { ...placed, content: [{ type: 'paragraph' }] };
}
