import { MarkdownSerializer, type MarkdownSerializerState } from 'prosemirror-markdown';
import { Node as PmNode } from 'prosemirror-model';
import { bodyHtml, bodySchema, inlineText, type BodyNode } from '@keyroster/core';

/** The library’s type leaves out what has been written so far. */
type State = MarkdownSerializerState & { out: string };
type Write = (state: State, node: PmNode, parent: PmNode, index: number) => void;

const own = (id: number) => (id === 0 ? undefined : { src: `/media/${id}`, width: 0, height: 0 });
const file = (id: number) => (id === 0 ? undefined : { src: `/files/${id}`, type: 'video/mp4' });

/** Blocks that CommonMark has no mark for stand as HTML, on one line so that no blank line ends them. */
const asHtml: Write = (state, node) => {
  const html = bodyHtml(node.toJSON() as BodyNode, own, {
    files: file,
    signUpAction: '/letter',
    headingIds: node.type.name === 'contents',
    foldMark: true,
  })
    .replace(/ width="0" height="0"/g, '')
    .replace(/\n/g, '&#10;');
  state.write(node.type.name === 'contents' ? '<nav class="contents"></nav>' : html);
  state.closeBlock(node);
};

/** Two lists of one kind in a row would be read as one: the second gets another bullet. */
const bulletOf = (parent: PmNode, index: number): string => {
  let before = 0;
  for (let i = index - 1; i >= 0 && ['bulletList', 'checkList'].includes(parent.child(i).type.name); i--)
    before++;
  return before % 2 === 0 ? '-' : '*';
};

const WRITERS: Record<string, Write> = {
  doc: (state, node) => state.renderContent(node),
  paragraph: (state, node, parent, index) => {
    if (node.childCount > 0) state.renderInline(node);
    // An item that begins with another block has an empty paragraph before it, which Markdown does not write.
    if (node.childCount > 0 || index > 0 || parent.childCount === 1 || !/Item$/.test(parent.type.name))
      state.closeBlock(node);
  },
  heading: (state, node) => {
    // A line break cannot stand in a heading of one line.
    if (inlineText(node.toJSON() as BodyNode).includes('\n')) {
      state.write(bodyHtml({ type: 'doc', content: [node.toJSON() as BodyNode] }, own));
    } else {
      state.write(`${'#'.repeat(Number(node.attrs['level']))} `);
      state.renderInline(node, false);
      // Number signs at the end would be read as the heading's own.
      state.out = state.out.replace(/#(?=#*$)/, '\\#');
    }
    state.closeBlock(node);
  },
  blockquote: (state, node) => state.wrapBlock('> ', null, node, () => state.renderContent(node)),
  bulletList: (state, node, parent, index) => list(state, node, () => `${bulletOf(parent, index)} `),
  orderedList: (state, node, parent, index) => {
    const start = Number(node.attrs['start']);
    const sign = index > 0 && parent.child(index - 1).type.name === 'orderedList' ? ')' : '.';
    list(state, node, (i) => `${start + i}${sign} `);
  },
  checkList: (state, node, parent, index) =>
    list(
      state,
      node,
      (i) => `${bulletOf(parent, index)} [${node.child(i).attrs['checked'] ? 'x' : ' '}] `,
      2,
    ),
  listItem: (state, node) => state.renderContent(node),
  checkItem: (state, node) => state.renderContent(node),
  codeBlock: (state, node) => {
    const longest = Math.max(2, ...(node.textContent.match(/`{3,}/g) ?? []).map((run) => run.length));
    const fence = '`'.repeat(longest + 1);
    state.write(`${fence}${String(node.attrs['language'] ?? '')}\n`);
    state.text(node.textContent, false);
    state.write('\n');
    state.write(fence);
    state.closeBlock(node);
  },
  horizontalRule: (state, node) => {
    state.write('***');
    state.closeBlock(node);
  },
  picture: (state, node, parent, index) => {
    const plain =
      ['caption', 'credit'].every((name) => node.attrs[name] === '') &&
      node.attrs['size'] === 'column' &&
      node.attrs['side'] === 'none';
    // markdown-it loses escaped characters of alternative texts, and perhaps others do.
    if (!plain || /[\\`*_[\]<&!\n]/.test(String(node.attrs['alt'])))
      return asHtml(state, node, parent, index);
    state.write(`![${String(node.attrs['alt'])}](/media/${Number(node.attrs['media'])})`);
    state.closeBlock(node);
  },
  table: (state, node, parent, index) => {
    const plain: boolean[] = [];
    node.descendants((n) => {
      if (n.type.name.startsWith('table') && n.type.name !== 'tableRow')
        plain.push(
          n.attrs['colspan'] === 1 &&
            n.attrs['rowspan'] === 1 &&
            n.childCount === 1 &&
            n.firstChild!.type.name === 'paragraph' &&
            !inlineText(n.firstChild!.toJSON() as BodyNode).includes('\n'),
        );
    });
    let ragged = false;
    node.forEach((row, _, i) => {
      row.forEach((cell) => {
        if ((cell.type.name === 'tableHeader') !== (i === 0)) ragged = true;
      });
      if (row.childCount !== node.firstChild!.childCount) ragged = true;
    });
    if (ragged || plain.includes(false)) return asHtml(state, node, parent, index);
    node.forEach((row, _, i) => {
      row.forEach((cell, __, c) => {
        state.write(c === 0 ? '| ' : ' | ');
        const from = state.out.length;
        state.renderInline(cell.firstChild!, false);
        state.out = state.out.slice(0, from) + state.out.slice(from).replace(/\|/g, '\\|');
      });
      state.write(' |\n');
      if (i === 0) state.write(`|${' --- |'.repeat(row.childCount)}\n`);
    });
    state.closeBlock(node);
  },
  gallery: asHtml,
  video: asHtml,
  button: asHtml,
  signUp: asHtml,
  contents: asHtml,
  pullQuote: asHtml,
  noteBox: asHtml,
  foldLine: asHtml,
  tableRow: asHtml,
  tableCell: asHtml,
  tableHeader: asHtml,
  hardBreak: (state, node, parent, index) => {
    for (let i = index + 1; i < parent.childCount; i++)
      if (parent.child(i).type !== node.type) return state.write('\\\n');
  },
  text: (state, node) => state.text(node.text ?? ''),
};

/** Items with their marks; a list whose items are single paragraphs or nested lists is tight. */
function list(state: State, node: PmNode, mark: (index: number) => string, indent?: number): void {
  state.renderList(node, ' '.repeat(indent ?? mark(0).length), mark);
}

const serializer = new MarkdownSerializer(
  WRITERS as ConstructorParameters<typeof MarkdownSerializer>[0],
  {
    bold: { open: '**', close: '**', mixable: true, expelEnclosingWhitespace: true },
    italic: { open: '*', close: '*', mixable: true, expelEnclosingWhitespace: true },
    link: { open: '[', close: (_state, mark) => `](${hrefText(String(mark.attrs['href']))})`, mixable: true },
    code: {
      open: (_state, _mark, parent, index) => fence(parent.child(index).text ?? '', true),
      close: (_state, _mark, parent, index) => fence(parent.child(index - 1).text ?? '', false),
      escape: false,
    },
  },
  { escapeExtraCharacters: /[<&|]/g, hardBreakNodeName: 'hardBreak' },
);

/** Backticks around code that may hold some itself. */
function fence(text: string, opening: boolean): string {
  const ticks = '`'.repeat(Math.max(0, ...(text.match(/`+/g) ?? []).map((run) => run.length)) + 1);
  const pad = /^`|`$|^ .* $/s.test(text) && text.trim() !== '' ? ' ' : '';
  return opening ? ticks + pad : pad + ticks;
}

const hrefText = (href: string) => `<${href.replace(/[<>\\]/g, '\\$&').replace(/&/g, '&amp;')}>`;

/**
 * A body as CommonMark, with tables and task lists as GitHub writes them; brought in again it is the same
 * body.
 */
export function bodyMarkdown(body: BodyNode): string {
  return serializer.serialize(PmNode.fromJSON(bodySchema, body), { tightLists: true });
}

/** A value of YAML front matter. */
export function yamlText(value: string): string {
  return /^[\w][\w ,.'’–-]*$/.test(value) && !/^(true|false|null|yes|no|on|off|\d[\d.:-]*)$/i.test(value)
    ? value
    : JSON.stringify(value);
}
