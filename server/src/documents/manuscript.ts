import {
  AlignmentType,
  BorderStyle,
  DeletedTextRun,
  ExternalHyperlink,
  HeadingLevel,
  ImageRun,
  InsertedTextRun,
  LevelFormat,
  Paragraph,
  ShadingType,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
  type FileChild,
  type IParagraphOptions,
  type IRunOptions,
  type ParagraphChild,
} from 'docx';
import { inlineText, makerOf, type BodyNode } from '@keyroster/core';

const HEADINGS: Record<number, (typeof HeadingLevel)[keyof typeof HeadingLevel]> = {
  2: HeadingLevel.HEADING_2,
  3: HeadingLevel.HEADING_3,
  4: HeadingLevel.HEADING_4,
};
const LEVELS = 9;
/** A paragraph without a letter is none to many word processors. */
const DIVIDER = '* * *';

/** A picture as it is set, in pixels. */
export interface Picture {
  data: Uint8Array;
  width: number;
  height: number;
}

/** The blocks of a body as those of a Word document; fills `numbering` on the way. */
export class Manuscript {
  private lists = 0;
  readonly numbering: {
    reference: string;
    levels: {
      level: number;
      format: (typeof LevelFormat)[keyof typeof LevelFormat];
      text: string;
      start?: number;
      alignment: (typeof AlignmentType)[keyof typeof AlignmentType];
      style: object;
    }[];
  }[] = [];

  private changes = 0;

  /** With the names of the people who suggest, suggestions are tracked changes. */
  constructor(
    private readonly pictures: ReadonlyMap<number, Picture>,
    private readonly makers: ((personId: number) => string) | null,
  ) {}

  inline(nodes: readonly BodyNode[] = []): ParagraphChild[] {
    return nodes.map((node): ParagraphChild => {
      if (node.type === 'hardBreak') return new TextRun({ break: 1 });
      const has = (type: string) => node.marks?.find((m) => m.type === type);
      const run = this.run(node, {
        text: node.text ?? '',
        bold: has('bold') !== undefined,
        italics: has('italic') !== undefined,
        ...(has('code') ? { style: 'CodeRun' } : has('link') ? { style: 'Hyperlink' } : {}),
      });
      const href = String(has('link')?.attrs?.['href'] ?? '');
      return /^(https?|mailto):/i.test(href) ? new ExternalHyperlink({ children: [run], link: href }) : run;
    });
  }

  /** Words, tracked as put in or taken out where somebody suggests that. */
  private run({ marks = [] }: BodyNode, options: IRunOptions): TextRun | InsertedTextRun | DeletedTextRun {
    const mark = marks.find(({ type }) => type === 'inserted' || type === 'deleted');
    const maker = makerOf(mark?.attrs?.['key']);
    if (!mark || !maker || !this.makers) return new TextRun(options);
    const change = {
      id: ++this.changes,
      author: this.makers(maker.personId),
      date: maker.at.replace(/Z$/, ':00Z'),
    };
    return mark.type === 'inserted'
      ? new InsertedTextRun({ ...options, ...change })
      : new DeletedTextRun({ ...options, ...change });
  }

  blocks(nodes: readonly BodyNode[] = [], more: IParagraphOptions = {}, depth = 0): FileChild[] {
    return nodes.flatMap((node) => this.block(node, more, depth));
  }

  private block(node: BodyNode, more: IParagraphOptions, depth: number): FileChild[] {
    const text = (children: ParagraphChild[], options: IParagraphOptions = {}) =>
      new Paragraph({ ...more, ...options, children });
    switch (node.type) {
      case 'heading':
        return [
          text(this.inline(node.content), {
            heading: HEADINGS[Number(node.attrs?.['level'])] ?? HeadingLevel.HEADING_2,
          }),
        ];
      case 'blockquote':
        return this.blocks(node.content, { ...more, style: 'Quote' }, depth);
      case 'pullQuote':
        return [text(this.inline(node.content), { style: 'IntenseQuote' })];
      case 'noteBox':
        return this.blocks(
          node.content,
          {
            ...more,
            border: { left: { style: BorderStyle.SINGLE, size: 18, color: '17604F', space: 8 } },
            shading: { type: ShadingType.CLEAR, fill: 'DCEBE4' },
          },
          depth,
        );
      case 'bulletList':
      case 'orderedList':
      case 'checkList':
        return this.list(node, more, depth);
      case 'codeBlock':
        return inlineText(node)
          .split('\n')
          .map((line) => text([new TextRun({ text: line })], { style: 'CodeBlock' }));
      case 'horizontalRule':
        return [text([new TextRun(DIVIDER)], { style: 'Divider' })];
      case 'table':
        return [this.table(node), new Paragraph({})];
      case 'gallery':
        return this.blocks(node.content, more, depth);
      case 'picture':
        return this.picture(node);
      case 'video':
      case 'button': {
        const href = String(node.attrs?.['href'] ?? '');
        const words = inlineText(node) || href;
        return words === ''
          ? []
          : [
              text(
                /^https?:/.test(href)
                  ? [
                      new ExternalHyperlink({
                        link: href,
                        children: [new TextRun({ text: words, style: 'Hyperlink' })],
                      }),
                    ]
                  : [new TextRun(words)],
              ),
            ];
      }
      case 'foldLine':
      case 'contents':
      case 'signUp':
        return [];
      default:
        return [text(this.inline(node.content))];
    }
  }

  private list(node: BodyNode, more: IParagraphOptions, depth: number): FileChild[] {
    const level = Math.min(depth, LEVELS - 1);
    const reference = `list-${++this.lists}`;
    const style = { paragraph: { indent: { left: 520 * (level + 1), hanging: 320 } } };
    const ordered = node.type === 'orderedList';
    this.numbering.push({
      reference,
      levels: [
        {
          level,
          format: ordered ? LevelFormat.DECIMAL : LevelFormat.BULLET,
          text: ordered ? `%${level + 1}.` : '•',
          start: ordered ? Number(node.attrs?.['start'] ?? 1) : 1,
          alignment: AlignmentType.LEFT,
          style,
        },
      ],
    });
    return (node.content ?? []).flatMap((item) =>
      (item.content ?? []).flatMap((child, i): FileChild[] => {
        if (i > 0 || child.type !== 'paragraph') return this.block(child, more, depth + 1);
        const tick = item.type === 'checkItem' ? [new TextRun(item.attrs?.['checked'] ? '☑ ' : '☐ ')] : [];
        return [
          new Paragraph({
            ...more,
            numbering: { reference, level },
            children: [...tick, ...this.inline(child.content)],
          }),
        ];
      }),
    );
  }

  private table(node: BodyNode): Table {
    return new Table({
      width: { size: 100, type: WidthType.PERCENTAGE },
      rows: (node.content ?? [])
        .filter((r) => (r.content ?? []).length > 0)
        .map(
          (row, i) =>
            new TableRow({
              // Said only where it is so: some readers take the mere word for a head.
              ...(i === 0 && (row.content ?? []).every((c) => c.type === 'tableHeader')
                ? { tableHeader: true }
                : {}),
              children: (row.content ?? []).map(
                (cell) =>
                  new TableCell({
                    columnSpan: Number(cell.attrs?.['colspan'] ?? 1),
                    rowSpan: Number(cell.attrs?.['rowspan'] ?? 1),
                    children: this.blocks(cell.content).filter(
                      (c): c is Paragraph | Table => c instanceof Paragraph || c instanceof Table,
                    ),
                  }),
              ),
            }),
        ),
    });
  }

  picture(node: BodyNode): FileChild[] {
    const picture = this.pictures.get(Number(node.attrs?.['media']));
    const words = [String(node.attrs?.['caption'] ?? ''), String(node.attrs?.['credit'] ?? '')]
      .filter(Boolean)
      .join(' · ');
    const alt = String(node.attrs?.['alt'] ?? '');
    return [
      ...(picture
        ? [
            new Paragraph({
              children: [
                new ImageRun({
                  type: 'jpg',
                  data: picture.data,
                  transformation: { width: picture.width, height: picture.height },
                  altText: { name: alt.slice(0, 60), title: '', description: alt },
                }),
              ],
            }),
          ]
        : []),
      ...(words
        ? [new Paragraph({ children: [new TextRun({ text: words, italics: true, size: 19 })] })]
        : []),
    ];
  }
}
