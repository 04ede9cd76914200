import { safeHref, type BodyNode } from '../body/schema.js';
import { collapse, sortMarks, textNode, tidyInline, withoutBold, type Mark } from './inline.js';
import { gatherWordLists } from './lists.js';
import { levelHeadings, mendFragments } from './fragments.js';
import { inScript } from './script.js';
import { formatList } from '../text/list.js';
import { linkCard, ownBlock, tickOf } from './own-blocks.js';
import type { ImportReport, Dropped, Kept } from './report.js';
import { isElement, prune, styleOf, textOf, type HtmlElement, type HtmlNode } from './tree.js';
import { BLOCK_TAGS, DROPPED_TAGS, MARK_TAGS, SILENT_TAGS } from './tags.js';

/** A picture whose data came along with the text; it has to be stored before the body can be. */
export interface EmbeddedPicture {
  /** Stands as `media` in the body until the picture has an id. Negative, so it can never be one. */
  placeholder: number;
  dataUri: string;
  alt: string;
}

export interface ImportedText {
  /** A leading level 1 heading, taken out of the text when it is the only one. */
  title: string | null;
  body: BodyNode;
  pictures: EmbeddedPicture[];
  report: ImportReport;
}

const DATA_PICTURE = /^data:image\/(png|jpe?g|gif|webp);base64,[a-z0-9+/=\s]+$/i;

/** Deeper than this, nesting is flattened; well within the limits of a stored body. */
const MAX_DEPTH = 12;

/** Nothing a person wrote is nested deeper; what lies below is read as text. */
const MAX_TREE_DEPTH = 200;

/**
 * Turns a parsed HTML tree into a body that fits the schema: structure is kept, styling dropped, and
 * everything that was kept or dropped is counted. Never fails; a tree without any text gives a body with one
 * empty paragraph. A `part` of a text (something pasted) keeps levels of headings and links to places that stand
 * elsewhere in the text it goes into.
 */
export function importHtml(root: HtmlNode, { part = false } = {}): ImportedText {
  return new Converter(part).run(prune(root, MAX_TREE_DEPTH));
}

class Converter {
  constructor(private readonly isPart: boolean) {}

  private readonly report: ImportReport = { kept: {}, dropped: {}, remarks: [] };
  private readonly pictures: EmbeddedPicture[] = [];
  private title: string | null = null;
  /** Names of places in the text that wait for the heading they belong to, and those that have found it. */
  private names: string[] = [];
  private readonly named = new Map<string, BodyNode>();
  private readonly beside = new Set<string>();
  private shift = 0;

  run(root: HtmlNode): ImportedText {
    const tree = this.takeTitle(root);
    const blocks = this.blocks(isElement(tree) ? [tree] : [tree], 0);
    const blank = blocks.length > 0 ? blocks : [{ type: 'paragraph' }];
    if (this.isPart) return this.whole({ type: 'doc', content: blank });
    const levelled = levelHeadings(blank);
    // Levelled headings are other nodes than those that were named.
    const named = new Map(
      [...this.named].map(([name, heading]) => [name, levelled.content[blocks.indexOf(heading)] ?? heading]),
    );
    const { body, remarks } = mendFragments({ type: 'doc', content: levelled.content }, named);
    this.report.remarks.push(...levelled.remarks, ...remarks, ...this.besideRemarks());
    return this.whole(body);
  }

  private whole(body: BodyNode): ImportedText {
    this.count(body.content!);
    return {
      title: this.title,
      body,
      pictures: this.pictures,
      report: this.report,
    };
  }

  /**
   * A single leading h1 (or a word processor's title paragraph) is the title; otherwise level 1 pushes all
   * levels down.
   */
  private takeTitle(root: HtmlNode): HtmlNode {
    const tops: HtmlElement[] = [];
    const saysTitle = (n: HtmlElement) => /\b(?:MsoTitle|word-title)\b/.test(n.attrs['class'] ?? '');
    const isTitle = (n: HtmlElement) => n.tag === 'h1' || saysTitle(n);
    let firstText: HtmlElement | 'other' | null = null;
    const scan = (node: HtmlNode): void => {
      if (!isElement(node)) {
        if (node.trim() !== '') firstText ??= 'other';
        return;
      }
      if (SILENT_TAGS.has(node.tag) || DROPPED_TAGS[node.tag]) return;
      if (isTitle(node) && textOf(node).trim() !== '') {
        tops.push(node);
        firstText ??= node;
        return;
      }
      for (const child of node.children) scan(child);
    };
    scan(root);
    if (firstText !== null && firstText === tops[0] && (tops.length === 1 || saysTitle(tops[0]!))) {
      // Under a title in a style of its own, headings of level 1 are the sections.
      if (tops.length > 1) this.shift = 1;
      this.title = collapse(textOf(tops[0]!)).trim();
      const without = (node: HtmlNode): HtmlNode[] =>
        !isElement(node)
          ? [node]
          : node === tops[0]
            ? []
            : [
                node.children.some((c) => c === tops[0] || isElement(c))
                  ? { ...node, children: node.children.flatMap(without) }
                  : node,
              ];
      return without(root)[0] ?? '';
    }
    if (tops.some((t) => t.tag === 'h1')) {
      this.shift = 1;
      this.report.remarks.push('Headings moved down a level, since the title is the only level 1.');
    }
    return root;
  }

  /** Blocks of a run of nodes; text that stands free between blocks becomes paragraphs. */
  private blocks(nodes: HtmlNode[], depth: number): BodyNode[] {
    const out: BodyNode[] = [];
    let inline: BodyNode[] = [];
    const flush = () => {
      const content = tidyInline(inline);
      if (content.length > 0) out.push({ type: 'paragraph', content });
      inline = [];
    };
    const visit = (node: HtmlNode, marks: Mark[]): void => {
      if (!isElement(node)) {
        const text = marks.some((m) => m.type === 'code') ? node.replace(/[\t\r\n\f]/g, ' ') : collapse(node);
        if (text !== '') inline.push(textNode(text, marks));
        return;
      }
      if (this.isLeftOut(node)) return;
      this.nameOf(node);
      this.countStyling(node);
      const card = linkCard(node);
      if (card) {
        flush();
        out.push(card);
        return;
      }
      if (node.tag === 'br')
        inline.push({ type: 'hardBreak', ...(marks.length > 0 ? { marks: sortMarks(marks) } : {}) });
      else if (node.tag === 'img') {
        const picture = this.picture(node);
        if (picture?.type === 'picture') {
          flush();
          out.push(picture);
        } else if (picture) inline.push(picture);
      } else if (BLOCK_TAGS.has(node.tag)) {
        flush();
        out.push(
          ...this.block(node, depth, (children) => {
            for (const child of gatherWordLists(children)) visit(child, marks);
            flush();
          }),
        );
      } else {
        const inner = this.marksOf(node, marks);
        const script = node.tag === 'sup' || node.tag === 'sub' ? inScript(textOf(node), node.tag) : null;
        if (script !== null && !node.children.some(isElement)) {
          inline.push(textNode(script, inner));
          return;
        }
        if (node.tag === 'sup' || node.tag === 'sub') this.drop('raised or lowered');
        for (const child of node.children) visit(child, inner);
      }
    };
    for (const node of gatherWordLists(nodes)) visit(node, []);
    flush();
    return out;
  }

  /** One block element. Containers without a meaning of their own hand their children back to `pass`. */
  private block(node: HtmlElement, depth: number, pass: (children: HtmlNode[]) => void): BodyNode[] {
    const deeper = (children: HtmlNode[]) => this.blocks(children, depth + 1);
    if (depth < MAX_DEPTH) {
      const own = ownBlock(node, { blocks: deeper, picture: (img) => this.picture(img) });
      if (own) return own;
    }
    const heading = /^h([1-6])$/.exec(node.tag);
    if (heading) {
      const content = tidyInline(
        this.blocks(node.children, depth).flatMap((b, i) => [
          ...(i > 0 ? [{ type: 'hardBreak' }] : []),
          ...(b.content ?? []),
        ]),
      );
      if (content.length === 0) return [];
      const level = Math.min(4, Math.max(2, Number(heading[1]) + this.shift));
      const made: BodyNode = { type: 'heading', attrs: { level }, content: content.map(withoutBold) };
      for (const name of this.names) this.named.set(name, made);
      this.names = [];
      return [made];
    }
    if (depth >= MAX_DEPTH && ['ul', 'ol', 'blockquote', 'table', 'menu', 'dir'].includes(node.tag)) {
      pass(node.children);
      return [];
    }
    switch (node.tag) {
      case 'ul':
      case 'menu':
      case 'dir':
      case 'ol': {
        const items = this.items(node, depth);
        if (items.length === 0) return [];
        // One item with a tick makes it a list to tick off; the others are open.
        if (items.some((i) => i.type === 'checkItem'))
          return [
            {
              type: 'checkList',
              content: items.map((i) =>
                i.type === 'checkItem' ? i : { ...i, type: 'checkItem', attrs: { checked: false } },
              ),
            },
          ];
        const start = Number(node.attrs['start'] ?? 1);
        return node.tag === 'ol'
          ? [
              {
                type: 'orderedList',
                attrs: { start: Number.isInteger(start) && start >= 0 && start <= 999_999_999 ? start : 1 },
                content: items,
              },
            ]
          : [{ type: 'bulletList', content: items }];
      }
      case 'blockquote': {
        const content = deeper(node.children);
        return content.length > 0 ? [{ type: 'blockquote', content }] : [];
      }
      case 'pre': {
        const code = node.children.find((c): c is HtmlElement => isElement(c) && c.tag === 'code');
        const language = /language-(\S{1,40})/.exec(code?.attrs['class'] ?? '')?.[1] ?? null;
        const text = preText(node).replace(/\n$/, '');
        return [
          { type: 'codeBlock', attrs: { language }, ...(text ? { content: [{ type: 'text', text }] } : {}) },
        ];
      }
      case 'hr':
        return [{ type: 'horizontalRule' }];
      case 'table': {
        const table = this.table(node, depth);
        if (table) return [table];
        pass(node.children);
        return [];
      }
      default:
        pass(node.children);
        return [];
    }
  }

  private items(list: HtmlElement, depth: number): BodyNode[] {
    const items: BodyNode[] = [];
    const startWithParagraph = (blocks: BodyNode[]) =>
      blocks[0]?.type === 'paragraph' ? blocks : [{ type: 'paragraph' }, ...blocks];
    for (const child of list.children) {
      if (!isElement(child)) {
        if (child.trim() !== '') items.push({ type: 'listItem', content: this.blocks([child], depth + 1) });
        continue;
      }
      if (child.tag === 'li') {
        const tick = tickOf(child);
        const content = startWithParagraph(this.blocks(tick?.children ?? child.children, depth + 1));
        items.push(
          tick
            ? { type: 'checkItem', attrs: { checked: tick.checked }, content }
            : { type: 'listItem', content },
        );
      } else {
        // A list directly within a list, as some word processors write it, belongs to the item before.
        const blocks = this.blocks([child], depth + 1);
        const last = items[items.length - 1];
        if (last) last.content!.push(...blocks);
        else if (blocks.length > 0) items.push({ type: 'listItem', content: startWithParagraph(blocks) });
      }
    }
    return items;
  }

  private table(node: HtmlElement, depth: number): BodyNode | null {
    const rows: HtmlElement[] = [];
    const collect = (n: HtmlElement): void => {
      for (const child of n.children) {
        if (!isElement(child)) continue;
        if (child.tag === 'tr') rows.push(child);
        else if (child.tag === 'thead' || child.tag === 'tbody' || child.tag === 'tfoot') collect(child);
      }
    };
    collect(node);
    const span = (cell: HtmlElement, name: string, max: number) => {
      const n = Number(cell.attrs[name] ?? 1);
      return Number.isInteger(n) && n >= 1 && n <= max ? n : 1;
    };
    const content = rows
      .map((row): BodyNode => ({
        type: 'tableRow',
        content: row.children
          .filter(isElement)
          .filter((c) => c.tag === 'td' || c.tag === 'th')
          .map((cell) => {
            this.countStyling(cell);
            const blocks = this.blocks(cell.children, depth + 1);
            return {
              type: cell.tag === 'th' ? 'tableHeader' : 'tableCell',
              attrs: {
                colspan: span(cell, 'colspan', 50),
                rowspan: span(cell, 'rowspan', 500),
                colwidth: null,
              },
              content: blocks.length > 0 ? blocks : [{ type: 'paragraph' }],
            };
          }),
      }))
      .filter((row) => (row.content?.length ?? 0) > 0);
    // A table of one cell is a page's layout, not a table.
    if (content.length === 0 || (content.length === 1 && content[0]!.content!.length === 1)) return null;
    return { type: 'table', content };
  }

  private marksOf(node: HtmlElement, marks: Mark[]): Mark[] {
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
    if (
      node.tag === 'u' ||
      node.tag === 's' ||
      node.tag === 'strike' ||
      node.tag === 'del' ||
      node.tag === 'ins'
    )
      this.drop('other mark');
    if (node.tag === 'a' && node.attrs['href'] !== undefined) {
      const href = safeHref(node.attrs['href']);
      if (href) add({ type: 'link', attrs: { href } });
      else if (textOf(node).trim() !== '') this.drop('unsafe link');
    }
    return inner;
  }

  /** Where links of the text may lead: the name belongs to the heading that holds it or comes next. */
  private nameOf(node: HtmlElement): void {
    const name = node.attrs['id'] ?? (node.tag === 'a' ? node.attrs['name'] : undefined);
    if (name !== undefined && name !== '' && this.names.length < 1000) this.names.push(name);
  }

  private besideRemarks(): string[] {
    const names = [...this.beside];
    return names.length === 0
      ? []
      : [
          `${names.length === 1 ? 'A picture that stands' : `${names.length} pictures that stand`} beside the file ` +
            `${names.length === 1 ? 'is' : 'are'} not in it: ${formatList(names.slice(0, 4))}` +
            `${names.length > 4 ? ' and others' : ''}. Add ${names.length === 1 ? 'it' : 'them'} to the library.`,
        ];
  }

  private picture(node: HtmlElement): BodyNode | null {
    const src = (node.attrs['src'] ?? '').trim();
    const alt = (node.attrs['alt'] ?? '').slice(0, 1000);
    const own = /^(?:https?:\/\/[^/]+)?\/media\/(\d{1,15})(?:[/?#]|$)/.exec(src);
    if (own) return { type: 'picture', attrs: pictureAttrs(Number(own[1]), alt) };
    if (DATA_PICTURE.test(src)) {
      const placeholder = -1 - this.pictures.length;
      this.pictures.push({ placeholder, dataUri: src.replace(/\s+/g, ''), alt });
      return { type: 'picture', attrs: pictureAttrs(placeholder, alt) };
    }
    if (src !== '' && !/^([a-z][a-z0-9+.-]*:|\/)/i.test(src)) this.beside.add(src.slice(0, 200));
    this.drop('picture from elsewhere');
    const href = /^https?:/i.test(src) ? safeHref(src) : null;
    return href ? textNode(alt || 'picture', [{ type: 'link', attrs: { href } }]) : null;
  }

  private isLeftOut(node: HtmlElement): boolean {
    if (SILENT_TAGS.has(node.tag)) return true;
    if (node.tag === '#comment') {
      this.drop('comment');
      return true;
    }
    const dropped = DROPPED_TAGS[node.tag];
    if (dropped) this.drop(dropped);
    return (
      dropped !== undefined || styleOf(node, 'display') === 'none' || styleOf(node, 'mso-hide') === 'all'
    );
  }

  private countStyling(node: HtmlElement): void {
    const styled =
      node.attrs['style'] !== undefined ||
      node.tag === 'font' ||
      node.attrs['color'] !== undefined ||
      node.attrs['bgcolor'] !== undefined ||
      node.attrs['align'] !== undefined ||
      (node.attrs['class'] !== undefined && node.tag !== 'code');
    if (styled) this.drop('styling');
  }

  private drop(kind: Dropped): void {
    this.report.dropped[kind] = (this.report.dropped[kind] ?? 0) + 1;
  }

  private count(content: BodyNode[]): void {
    const kinds: Record<string, Kept> = {
      heading: 'heading',
      paragraph: 'paragraph',
      bulletList: 'list',
      orderedList: 'list',
      checkList: 'list',
      blockquote: 'quote',
      pullQuote: 'quote',
      table: 'table',
      picture: 'picture',
      video: 'video',
      noteBox: 'note box',
      button: 'button',
      codeBlock: 'code block',
      horizontalRule: 'divider',
    };
    const add = (kind: Kept) => {
      this.report.kept[kind] = (this.report.kept[kind] ?? 0) + 1;
    };
    const visit = (node: BodyNode, inBlock: boolean): void => {
      const kind = kinds[node.type];
      if (kind && !(kind === 'paragraph' && inBlock)) add(kind);
      let last = '';
      for (const child of node.content ?? []) {
        // A passage that keeps its mark over several runs is one passage.
        const marks = (child.marks ?? []).map((m) => JSON.stringify(m));
        for (const mark of child.marks ?? [])
          if (!last.includes(JSON.stringify(mark))) add(mark.type as Kept);
        last = marks.join();
        visit(child, inBlock || ['listItem', 'blockquote', 'table'].includes(node.type));
      }
    };
    for (const node of content) visit(node, false);
  }
}

const pictureAttrs = (media: number, alt: string) => ({
  media,
  alt,
  caption: '',
  credit: '',
  size: 'column',
  side: 'none',
});

function preText(node: HtmlNode): string {
  if (!isElement(node)) return node;
  return node.tag === 'br'
    ? '\n'
    : DROPPED_TAGS[node.tag] || SILENT_TAGS.has(node.tag)
      ? ''
      : node.children.map(preText).join('');
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
