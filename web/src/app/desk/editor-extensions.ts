import { Node, mergeAttributes, type Extensions } from '@tiptap/core';
import { CodeBlock } from '@tiptap/extension-code-block';
import { Heading } from '@tiptap/extension-heading';
import { Link } from '@tiptap/extension-link';
import { OrderedList } from '@tiptap/extension-list';
import { Table, TableCell, TableHeader, TableRow } from '@tiptap/extension-table';
import StarterKit from '@tiptap/starter-kit';
import { safeHref } from '@keyroster/core';

/** A picture from the library. */
const Picture = Node.create({
  name: 'picture',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({ media: {}, alt: { default: '' }, caption: { default: '' } }),
  parseHTML: () => [{
    tag: 'figure[data-media]',
    getAttrs: (el) => ({ media: Number(el.dataset['media']), alt: el.querySelector('img')?.alt ?? '', caption: el.querySelector('figcaption')?.textContent ?? '' }),
  }],
  renderHTML: ({ node }) => {
    const { media, alt, caption } = node.attrs as { media: number; alt: string; caption: string };
    return ['figure', { 'data-media': media, class: alt ? '' : 'without-alt' }, ['img', { src: `/media/${media}`, alt }], ['figcaption', {}, caption || (alt ? '' : 'Without alternative text')]];
  },
});

/** Where the front page stops showing the text. */
const FoldLine = Node.create({
  name: 'foldLine',
  group: 'block',
  atom: true,
  parseHTML: () => [{ tag: 'div[data-fold]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', mergeAttributes(HTMLAttributes, { 'data-fold': '', class: 'fold' }), ['span', {}, 'fold: the front page stops here']],
});

/** Extensions whose attributes are narrowed to what the schema keeps. */
const kit = {
  heading: () => [Heading.extend({ addAttributes: () => ({ level: { default: 2, rendered: false } }) }).configure({ levels: [2, 3, 4] })],
  orderedList: () => [OrderedList.extend({
    addAttributes: () => ({ start: { default: 1, parseHTML: (el) => Number(el.getAttribute('start') ?? 1) } }),
  })],
  codeBlock: () => [CodeBlock],
  link: () => [Link.extend({
    inclusive: false,
    addAttributes: () => ({ href: { default: null, parseHTML: (el) => safeHref(el.getAttribute('href') ?? '') } }),
  }).configure({ openOnClick: false, autolink: false, linkOnPaste: true, HTMLAttributes: { target: null, rel: null, class: null }, isAllowedUri: (url) => safeHref(url) === url })],
};

/**
 * The editor's nodes and marks. Names, contents and attributes are those of core's bodySchema, and a test holds the
 * two together; what is added here is how they are typed, drawn and kept in order.
 */
export function bodyExtensions(): Extensions {
  const spans = { colspan: { default: 1 }, rowspan: { default: 1 }, colwidth: { default: null } };
  return [
    StarterKit.configure({
      heading: false, orderedList: false, link: false, codeBlock: false, strike: false, underline: false, trailingNode: false, listKeymap: {},
    }),
    ...kit.heading(), ...kit.orderedList(), ...kit.codeBlock(), ...kit.link(),
    Table.extend({ content: 'tableRow+' }).configure({ resizable: false }),
    TableRow,
    TableCell.extend({ addAttributes: () => spans }),
    TableHeader.extend({ addAttributes: () => spans }),
    Picture, FoldLine,
  ];
}
