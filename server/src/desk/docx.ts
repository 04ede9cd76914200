import {
  AlignmentType,
  BorderStyle,
  Document,
  ExternalHyperlink,
  HeadingLevel,
  ImageRun,
  LevelFormat,
  Packer,
  Paragraph,
  ShadingType,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
  type FileChild,
  type IParagraphOptions,
  type ParagraphChild,
} from 'docx';
import { inlineText, pictureIds, type BodyNode } from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import { openPicture } from '../media/keep-picture.js';
import type { WholePostRow } from '../posts/store.js';

const HEADINGS: Record<number, (typeof HeadingLevel)[keyof typeof HeadingLevel]> = {
  2: HeadingLevel.HEADING_2,
  3: HeadingLevel.HEADING_3,
  4: HeadingLevel.HEADING_4,
};
/** Pictures are set to the width of the column, in pixels at 96 to the inch. */
const COLUMN = 600;
const LEVELS = 9;
/** A paragraph without a letter is none to many word processors. */
const DIVIDER = '* * *';

interface Picture {
  data: Buffer;
  width: number;
  height: number;
}

/** Pictures small enough for a manuscript. */
async function picturesOf(db: Reader, ids: readonly number[]): Promise<Map<number, Picture>> {
  const found = new Map<number, Picture>();
  for (const id of ids) {
    const row = await db('media').where({ id }).first<{ bytes: Buffer } | undefined>('bytes');
    if (!row) continue;
    const { data, info } = await openPicture(row.bytes)
      .resize({ width: COLUMN * 2, withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .jpeg({ quality: 80 })
      .toBuffer({ resolveWithObject: true });
    const width = Math.min(COLUMN, info.width);
    found.set(id, { data, width, height: Math.max(1, Math.round((info.height * width) / info.width)) });
  }
  return found;
}

class Manuscript {
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

  constructor(private readonly pictures: ReadonlyMap<number, Picture>) {}

  inline(nodes: readonly BodyNode[] = []): ParagraphChild[] {
    return nodes.map((node): ParagraphChild => {
      if (node.type === 'hardBreak') return new TextRun({ break: 1 });
      const has = (type: string) => node.marks?.find((m) => m.type === type);
      const run = new TextRun({
        text: node.text ?? '',
        bold: has('bold') !== undefined,
        italics: has('italic') !== undefined,
        ...(has('code') ? { style: 'CodeRun' } : has('link') ? { style: 'Hyperlink' } : {}),
      });
      const href = String(has('link')?.attrs?.['href'] ?? '');
      return /^(https?|mailto):/i.test(href) ? new ExternalHyperlink({ children: [run], link: href }) : run;
    });
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

/**
 * The post as a Word document: its structure in the processor's own styles, so that it can be brought in
 * again.
 */
export async function makeDocx(db: Reader, row: WholePostRow): Promise<Buffer> {
  const pictures = await picturesOf(db, [
    ...pictureIds(row.body),
    ...(row.lead_media_id === null ? [] : [row.lead_media_id]),
  ]);
  const manuscript = new Manuscript(pictures);
  const children = [
    new Paragraph({ style: 'Title', children: [new TextRun(row.title)] }),
    ...(row.subtitle ? [new Paragraph({ style: 'Subtitle', children: [new TextRun(row.subtitle)] })] : []),
    ...(row.lead_media_id === null
      ? []
      : manuscript.picture({ type: 'picture', attrs: { media: row.lead_media_id, alt: row.lead_alt } })),
    ...manuscript.blocks(row.body.content),
  ];
  const document = new Document({
    title: row.title,
    creator: row.byline_name ?? '',
    description: row.excerpt,
    styles: {
      default: {
        document: { run: { font: 'Georgia', size: 23 }, paragraph: { spacing: { after: 140, line: 290 } } },
      },
      characterStyles: [
        { id: 'CodeRun', name: 'Code', basedOn: 'DefaultParagraphFont', run: { font: 'Courier New' } },
      ],
      paragraphStyles: [
        {
          id: 'CodeBlock',
          name: 'Code Block',
          basedOn: 'Normal',
          run: { font: 'Courier New', size: 19 },
          paragraph: { spacing: { after: 0 } },
        },
        {
          id: 'Divider',
          name: 'Divider',
          basedOn: 'Normal',
          paragraph: { alignment: AlignmentType.CENTER },
        },
        {
          id: 'Quote',
          name: 'Quote',
          basedOn: 'Normal',
          run: { italics: true },
          paragraph: { indent: { left: 500 } },
        },
        {
          id: 'IntenseQuote',
          name: 'Intense Quote',
          basedOn: 'Normal',
          run: { italics: true, size: 30 },
          paragraph: { alignment: AlignmentType.CENTER },
        },
        {
          id: 'Subtitle',
          name: 'Subtitle',
          basedOn: 'Normal',
          run: { italics: true, color: '55625C', size: 27 },
        },
      ],
    },
    numbering: { config: manuscript.numbering },
    sections: [{ children }],
  });
  return Packer.toBuffer(document);
}
