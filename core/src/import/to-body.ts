import type { BodyNode } from '../body/schema.js';
import { levelHeadings, mendFragments } from './fragments.js';
import { collapse, sortMarks, textNode, tidyInline, withoutBold, type Mark } from './inline.js';
import { suggestedInBlocks } from '../suggestions/outside.js';
import { countKept } from './kept.js';
import { listOf } from './list.js';
import { marksOf } from './marks.js';
import { linkCard, ownBlock } from './own-blocks.js';
import { Pictures, type EmbeddedPicture } from './pictures.js';
import type { Dropped, ImportReport } from './report.js';
import { inScript } from './script.js';
import { tableOf } from './table.js';
import { BLOCK_TAGS, DROPPED_TAGS, SILENT_TAGS } from './tags.js';
import { extractTitle } from './title.js';
import { isElement, prune, styleOf, textOf, type HtmlElement, type HtmlNode } from './tree.js';
import { SuggestedMarks } from './suggested.js';
import { gatherWordLists } from './word-lists.js';

export interface ImportedText {
  /** A leading level 1 heading, taken out of the text when it is the only one. */
  title: string | null;
  body: BodyNode;
  pictures: EmbeddedPicture[];
  /** Whose suggestions are in the text: those of person 1 in it are of the first of these. */
  authors: string[];
  report: ImportReport;
}

/** Deeper than this, nesting is flattened; well within the limits of a stored body. */
const MAX_DEPTH = 12;

/** Nothing a person wrote is nested deeper; what lies below is read as text. */
const MAX_TREE_DEPTH = 200;

export interface ImportOptions {
  /** It goes into a text that is there. */
  part?: boolean;
  /** What is tracked as changed in it is suggested; else it is taken as it stands. */
  suggestions?: boolean;
}

/**
 * Turns a parsed HTML tree into a body that fits the schema: structure is kept, styling dropped, and
 * everything that was kept or dropped is counted. Never fails; a tree without any text gives a body with one
 * empty paragraph. A `part` of a text (something pasted) keeps levels of headings and links to places that stand
 * elsewhere in the text it goes into.
 */
export function importHtml(root: HtmlNode, options: ImportOptions = {}): ImportedText {
  return new Converter(options).run(prune(root, MAX_TREE_DEPTH));
}

class Converter {
  constructor(private readonly options: ImportOptions) {}

  private readonly report: ImportReport = { kept: {}, dropped: {}, remarks: [] };
  private readonly pictures = new Pictures((kind) => this.drop(kind));
  private readonly suggested = new SuggestedMarks();
  private title: string | null = null;
  /** Names of places in the text that wait for the heading they belong to, and those that have found it. */
  private names: string[] = [];
  private readonly named = new Map<string, BodyNode>();
  private shift = 0;

  run(root: HtmlNode): ImportedText {
    const { tree, title, shift, remarks: titleRemarks } = extractTitle(root);
    this.title = title;
    this.shift = shift;
    this.report.remarks.push(...titleRemarks);
    const blocks = this.blocks(isElement(tree) ? [tree] : [tree], 0);
    const blank = blocks.length > 0 ? blocks : [{ type: 'paragraph' }];
    if (this.options.part) return this.whole({ type: 'doc', content: blank });
    const levelled = levelHeadings(blank);
    // Levelled headings are other nodes than those that were named.
    const named = new Map(
      [...this.named].map(([name, heading]) => [name, levelled.content[blocks.indexOf(heading)] ?? heading]),
    );
    const whole = suggestedInBlocks({ type: 'doc', content: levelled.content });
    const { body, remarks } = mendFragments(whole, named);
    this.report.remarks.push(...levelled.remarks, ...remarks, ...this.pictures.remarks());
    return this.whole(body);
  }

  private whole(body: BodyNode): ImportedText {
    this.report.kept = countKept(body.content!);
    return {
      title: this.title,
      body,
      pictures: this.pictures.embedded,
      authors: this.suggested.authors,
      report: this.report,
    };
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
        const picture = this.pictures.read(node);
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
        const inner = marksOf(
          node,
          marks,
          (kind) => this.drop(kind),
          (element) => (this.options.suggestions ? this.suggested.read(element) : null),
        );
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
      const own = ownBlock(node, { blocks: deeper, picture: (img) => this.pictures.read(img) });
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
        return listOf(node, deeper);
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
        const table = tableOf(node, (cell) => {
          this.countStyling(cell);
          return deeper(cell.children);
        });
        if (table) return [table];
        pass(node.children);
        return [];
      }
      default:
        pass(node.children);
        return [];
    }
  }

  /** Where links of the text may lead: the name belongs to the heading that holds it or comes next. */
  private nameOf(node: HtmlElement): void {
    const name = node.attrs['id'] ?? (node.tag === 'a' ? node.attrs['name'] : undefined);
    if (name !== undefined && name !== '' && this.names.length < 1000) this.names.push(name);
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
}

function preText(node: HtmlNode): string {
  if (!isElement(node)) return node;
  return node.tag === 'br'
    ? '\n'
    : DROPPED_TAGS[node.tag] || SILENT_TAGS.has(node.tag)
      ? ''
      : node.children.map(preText).join('');
}
