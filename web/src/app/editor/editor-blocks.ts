import { Node, mergeAttributes } from '@tiptap/core';
import { TaskItem, TaskList } from '@tiptap/extension-list';
import { safeHref } from '@keyroster/core';
import { atRoot } from '../api/root';

/**
 * What a node keeps in `data-` attributes while it is on the clipboard, so that a copied block keeps its
 * build.
 */
const kept = (name: string, el: HTMLElement, whole: boolean) => {
  const value = el.dataset[name.toLowerCase()];
  return whole ? Number(value ?? 0) : (value ?? '');
};
const keep = (attrs: Record<string, unknown>) =>
  Object.fromEntries(
    Object.entries(attrs).map(([name, value]) => [`data-${name.toLowerCase()}`, String(value)]),
  );

interface PictureAttrs {
  media: number;
  alt: string;
  caption: string;
  credit: string;
  size: string;
  side: string;
}

/** A picture from the library. */
export const Picture = Node.create({
  name: 'picture',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({
    media: {},
    alt: { default: '' },
    caption: { default: '' },
    credit: { default: '' },
    size: { default: 'column' },
    side: { default: 'none' },
  }),
  parseHTML: () => [
    {
      tag: 'figure[data-media]',
      getAttrs: (el) => ({
        media: Number(el.dataset['media']),
        alt: el.querySelector('img')?.alt ?? '',
        caption: kept('caption', el, false),
        credit: kept('credit', el, false),
        size: el.dataset['size'] ?? 'column',
        side: el.dataset['side'] ?? 'none',
      }),
    },
  ],
  renderHTML: ({ node }) => {
    const { media, alt, caption, credit, size, side } = node.attrs as PictureAttrs;
    return [
      'figure',
      {
        ...keep({ media, caption, credit, size, side }),
        class: `${alt ? '' : 'without-alt'} ${size} ${side}`,
      },
      ['img', { src: atRoot(`/media/${media}`), alt }],
      [
        'figcaption',
        {},
        [caption, credit].filter(Boolean).join(' · ') || (alt ? '' : 'Without alternative text'),
      ],
    ];
  },
});

/** Several pictures side by side. */
export const Gallery = Node.create({
  name: 'gallery',
  group: 'block',
  content: 'picture*',
  draggable: true,
  isolating: true,
  parseHTML: () => [{ tag: 'div[data-gallery]' }],
  renderHTML: () => ['div', { 'data-gallery': '', class: 'gallery' }, 0],
});

/** A film: an uploaded file, or an address shown as a card. */
export const Video = Node.create({
  name: 'video',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({
    file: { default: 0 },
    poster: { default: 0 },
    captions: { default: 0 },
    href: { default: '' },
    title: { default: '' },
    description: { default: '' },
  }),
  parseHTML: () => [
    {
      tag: 'div[data-video]',
      getAttrs: (el) => ({
        file: kept('file', el, true),
        poster: kept('poster', el, true),
        captions: kept('captions', el, true),
        href: safeHref(el.dataset['href'] ?? '') ?? '',
        title: kept('title', el, false),
        description: kept('description', el, false),
      }),
    },
  ],
  renderHTML: ({ node }) => {
    const { file, poster, captions, href, title, description } = node.attrs as Record<
      string,
      string | number
    >;
    const said = file
      ? `Video${captions ? ' with captions' : ' without captions'}`
      : href
        ? `Video at ${String(href).replace(/^https?:\/\//, '')}`
        : 'Video: nothing chosen yet';
    return [
      'div',
      { 'data-video': '', class: 'block-card', ...keep(node.attrs) },
      ...(poster ? [['img', { src: atRoot(`/media/${poster}`), alt: '' }]] : []),
      ['b', {}, String(title) || 'Untitled video'],
      ['span', {}, String(description)],
      ['small', {}, said],
    ];
  },
});

/** A button that leads somewhere. */
export const GoButton = Node.create({
  name: 'button',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({ label: { default: '' }, href: { default: '' } }),
  parseHTML: () => [
    {
      tag: 'div[data-go]',
      getAttrs: (el) => ({ label: kept('label', el, false), href: safeHref(el.dataset['href'] ?? '') ?? '' }),
    },
  ],
  renderHTML: ({ node }) => [
    'div',
    { 'data-go': '', class: 'go', ...keep(node.attrs) },
    ['span', {}, String(node.attrs['label']) || 'Button without words'],
    ['small', {}, `leads to ${String(node.attrs['href']) || 'nothing yet'}`],
  ],
});

/** Where readers sign up for the letter. */
export const SignUp = Node.create({
  name: 'signUp',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({ invitation: { default: '' } }),
  parseHTML: () => [
    { tag: 'div[data-sign-up]', getAttrs: (el) => ({ invitation: kept('invitation', el, false) }) },
  ],
  renderHTML: ({ node }) => [
    'div',
    { 'data-sign-up': '', class: 'block-card', ...keep(node.attrs) },
    ['b', {}, String(node.attrs['invitation']) || 'Get the letter by e-mail.'],
    ['small', {}, 'readers type their e-mail address here'],
  ],
});

/** A table of contents, made from the headings when the post is read. */
export const Contents = Node.create({
  name: 'contents',
  group: 'block',
  atom: true,
  draggable: true,
  parseHTML: () => [{ tag: 'div[data-contents]' }],
  renderHTML: () => [
    'div',
    { 'data-contents': '', class: 'block-card' },
    ['b', {}, 'Table of contents'],
    ['small', {}, 'made from the headings'],
  ],
});

export const PullQuote = Node.create({
  name: 'pullQuote',
  group: 'block',
  content: 'inline*',
  defining: true,
  parseHTML: () => [{ tag: 'aside[data-pull]' }],
  renderHTML: () => ['aside', { 'data-pull': '', class: 'pull-quote' }, 0],
});

export const NoteBox = Node.create({
  name: 'noteBox',
  group: 'block',
  content: 'block+',
  defining: true,
  parseHTML: () => [{ tag: 'aside[data-note-box]' }],
  renderHTML: () => ['aside', { 'data-note-box': '', class: 'note-box' }, 0],
});

/** Where the front page stops showing the text. */
export const FoldLine = Node.create({
  name: 'foldLine',
  group: 'block',
  atom: true,
  draggable: true,
  parseHTML: () => [{ tag: 'div[data-fold]' }],
  renderHTML: ({ HTMLAttributes }) => [
    'div',
    mergeAttributes(HTMLAttributes, { 'data-fold': '', class: 'fold' }),
    ['span', {}, 'fold: the front page stops here'],
  ],
});

export const CheckItem = TaskItem.extend({
  name: 'checkItem',
  addAttributes: () => ({
    checked: {
      default: false,
      keepOnSplit: false,
      parseHTML: (el) => el.dataset['checked'] === 'true',
      renderHTML: (attrs) => ({ 'data-checked': String(attrs['checked']) }),
    },
  }),
}).configure({
  nested: true,
  taskListTypeName: 'checkList',
  a11y: { checkboxLabel: (_node, checked) => (checked ? 'Done' : 'To do') },
});
export const CheckList = TaskList.extend({ name: 'checkList', content: 'checkItem+' }).configure({
  itemTypeName: 'checkItem',
});
