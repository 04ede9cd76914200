import { PICTURE_SIDES, PICTURE_SIZES, safeHref, type BodyNode } from '../body/schema.js';
import { isElement, textOf, type HtmlElement, type HtmlNode } from './tree.js';

/** What the converter lends to blocks that are told by more than their tag. */
export interface Lent {
  blocks(children: HtmlNode[]): BodyNode[];
  picture(img: HtmlElement): BodyNode | null;
}

const hasClass = (node: HtmlElement, name: string) => (node.attrs['class'] ?? '').split(/\s+/).includes(name);

export function findTag(node: HtmlElement, tag: string): HtmlElement | null {
  const stack: HtmlElement[] = [node];
  for (let top = stack.shift(); top; top = stack.shift()) {
    for (const child of top.children) {
      if (!isElement(child)) continue;
      if (child.tag === tag) return child;
      stack.push(child);
    }
  }
  return null;
}

const plain = (node: HtmlNode | null) => (node ? textOf(node).replace(/\s+/g, ' ').trim() : '');
const own = (src: string | undefined, folder: string) =>
  Number(new RegExp(`/${folder}/(\\d{1,15})(?:[/?#]|$)`).exec(src ?? '')?.[1] ?? 0);

/** Blocks as we write them ourselves, and figures as anybody does; null when the element is none of them. */
export function ownBlock(node: HtmlElement, lent: Lent): BodyNode[] | null {
  if (node.tag === 'figure') return figure(node, lent);
  if (node.tag === 'aside' && hasClass(node, 'note-box'))
    return filled('noteBox', lent.blocks(node.children));
  if (node.tag === 'aside' && hasClass(node, 'pull-quote')) {
    const content = lent
      .blocks(node.children)
      .flatMap((b, i) => [
        ...(i > 0 ? [{ type: 'hardBreak' }] : []),
        ...(b.type === 'paragraph' ? (b.content ?? []) : []),
      ]);
    return content.length > 0 ? [{ type: 'pullQuote', content }] : [];
  }
  if (node.tag === 'div' && hasClass(node, 'gallery'))
    return filled(
      'gallery',
      lent.blocks(node.children).filter((b) => b.type === 'picture'),
    );
  if (node.tag === 'nav' && hasClass(node, 'contents')) return [{ type: 'contents' }];
  if (node.tag === 'hr' && hasClass(node, 'fold')) return [{ type: 'foldLine' }];
  if (node.tag === 'form' && hasClass(node, 'sign-up'))
    return [{ type: 'signUp', attrs: { invitation: plain(findTag(node, 'p')).slice(0, 300) } }];
  if (node.tag === 'p' && hasClass(node, 'go')) {
    const link = findTag(node, 'a');
    const href = link && safeHref(link.attrs['href'] ?? '');
    return href ? [{ type: 'button', attrs: { label: plain(link).slice(0, 120), href } }] : null;
  }
  return null;
}

/** A card that leads to a video elsewhere, as we write it. */
export function linkCard(node: HtmlElement): BodyNode | null {
  const href = node.tag === 'a' && hasClass(node, 'link-card') ? safeHref(node.attrs['href'] ?? '') : null;
  if (!href) return null;
  const words = findTag(node, 'span');
  const title = words && findTag(words, 'b');
  const description = plain(words).slice(plain(title).length).trim();
  const untold = description === href ? '' : description;
  return {
    type: 'video',
    attrs: {
      ...NO_VIDEO,
      href,
      poster: own(findTag(node, 'img')?.attrs['src'], 'media'),
      title: plain(title),
      description: untold,
    },
  };
}

const NO_VIDEO = { file: 0, poster: 0, captions: 0, href: '', title: '', description: '' };

function filled(type: string, content: BodyNode[]): BodyNode[] {
  return content.length > 0 ? [{ type, content }] : [];
}

function figure(node: HtmlElement, lent: Lent): BodyNode[] | null {
  const caption = findTag(node, 'figcaption');
  const video = findTag(node, 'video');
  if (video) {
    const file = own(findTag(video, 'source')?.attrs['src'] ?? video.attrs['src'], 'files');
    if (file === 0) return null;
    const title = caption && findTag(caption, 'b');
    return [
      {
        type: 'video',
        attrs: {
          ...NO_VIDEO,
          file,
          poster: own(video.attrs['poster'], 'media'),
          captions: own(findTag(video, 'track')?.attrs['src'], 'files'),
          title: plain(title),
          description: plain(caption).slice(plain(title).length).trim(),
        },
      },
    ];
  }
  const img = findTag(node, 'img');
  // A figure of several pictures, or of a table or code, keeps its parts as they are.
  if (!img || findTag(node, 'table') || findTag(node, 'pre')) return null;
  const picture = lent.picture(img);
  if (picture?.type !== 'picture') return picture ? [{ type: 'paragraph', content: [picture] }] : [];
  const classes = (node.attrs['class'] ?? '').split(/\s+/);
  const small = caption && findTag(caption, 'small');
  const credit = plain(small);
  const words = plain(caption);
  return [
    {
      ...picture,
      attrs: {
        ...picture.attrs,
        caption: (credit && words.endsWith(credit) ? words.slice(0, -credit.length).trim() : words).slice(
          0,
          1000,
        ),
        credit: credit.slice(0, 300),
        size: PICTURE_SIZES.find((s) => classes.includes(s)) ?? 'column',
        side: PICTURE_SIDES.find((s) => classes.includes(s)) ?? 'none',
      },
    },
  ];
}

/**
 * The tick of a list item that is to be ticked off: a check box as most write it, or our own letters. Null
 * for other items.
 */
export function tickOf(item: HtmlElement): { checked: boolean; children: HtmlNode[] } | null {
  const first = item.children.find((c) => isElement(c) || c.trim() !== '');
  const box =
    first !== undefined && isElement(first)
      ? first.tag === 'input'
        ? first
        : first.tag === 'label' || first.tag === 'p'
          ? first.children.find((c): c is HtmlElement => isElement(c) && c.tag === 'input')
          : undefined
      : undefined;
  if (box && (box.attrs['type'] ?? '').toLowerCase() === 'checkbox') {
    const without = (nodes: HtmlNode[]): HtmlNode[] =>
      nodes
        .filter((c) => c !== box)
        .map((c) => (isElement(c) && c.children.includes(box) ? { ...c, children: without(c.children) } : c));
    return { checked: box.attrs['checked'] !== undefined, children: without(item.children) };
  }
  if (first !== undefined && isElement(first) && first.tag === 'span' && /^[☑☐]$/.test(textOf(first)))
    return { checked: textOf(first) === '☑', children: item.children.filter((c) => c !== first) };
  return null;
}
