import type { Extensions } from '@tiptap/core';
import { Code } from '@tiptap/extension-code';
import { CodeBlock } from '@tiptap/extension-code-block';
import { Heading } from '@tiptap/extension-heading';
import { Link } from '@tiptap/extension-link';
import { OrderedList } from '@tiptap/extension-list';
import { Table, TableCell, TableHeader, TableRow } from '@tiptap/extension-table';
import StarterKit from '@tiptap/starter-kit';
import { bodySchema, safeHref } from '@keyroster/core';
import {
  CheckItem,
  CheckList,
  Contents,
  FoldLine,
  Gallery,
  GoButton,
  NoteBox,
  Picture,
  PullQuote,
  SignUp,
  Video,
} from './editor-blocks';
import { Deleted, Inserted, suggestedBlocks } from './suggestions/marks';

/** Every block that a text may have; each may be suggested. */
const BLOCKS = Object.entries(bodySchema.nodes)
  .filter(([, type]) => type.isInGroup('block'))
  .map(([name]) => name);

/** Extensions whose attributes are narrowed to what the schema keeps. */
const kit = {
  heading: () => [
    Heading.extend({ addAttributes: () => ({ level: { default: 2, rendered: false } }) }).configure({
      levels: [2, 3, 4],
    }),
  ],
  orderedList: () => [
    OrderedList.extend({
      addAttributes: () => ({
        start: { default: 1, parseHTML: (el) => Number(el.getAttribute('start') ?? 1) },
      }),
    }),
  ],
  codeBlock: () => [CodeBlock],
  link: () => [
    Link.extend({
      inclusive: false,
      addAttributes: () => ({
        href: { default: null, parseHTML: (el) => safeHref(el.getAttribute('href') ?? '') },
      }),
    }).configure({
      openOnClick: false,
      autolink: false,
      linkOnPaste: true,
      HTMLAttributes: { target: null, rel: null, class: null },
      isAllowedUri: (url) => safeHref(url) === url,
    }),
  ],
};

/**
 * The editor's nodes and marks. Names, contents and attributes are those of core's bodySchema, and a test
 * holds the two together; what is added here is how they are typed, drawn and kept in order.
 */
export function bodyExtensions(): Extensions {
  const spans = { colspan: { default: 1 }, rowspan: { default: 1 }, colwidth: { default: null } };
  return [
    StarterKit.configure({
      heading: false,
      orderedList: false,
      link: false,
      code: false,
      codeBlock: false,
      strike: false,
      underline: false,
      trailingNode: false,
      // Undo is that of the shared text: of one's own changes alone.
      undoRedo: false,
      listKeymap: {},
    }),
    ...kit.heading(),
    ...kit.orderedList(),
    ...kit.codeBlock(),
    ...kit.link(),
    // Code can be a link, and bold.
    Code.extend({ excludes: 'code' }),
    Table.extend({ content: 'tableRow+' }).configure({ resizable: false }),
    TableRow,
    TableCell.extend({ addAttributes: () => spans }),
    TableHeader.extend({ addAttributes: () => spans }),
    Picture,
    Gallery,
    Video,
    GoButton,
    SignUp,
    Contents,
    PullQuote,
    NoteBox,
    CheckList,
    CheckItem,
    FoldLine,
    Inserted,
    Deleted,
    suggestedBlocks(BLOCKS),
  ];
}
