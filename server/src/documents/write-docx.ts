import { Document, Packer, Paragraph, TextRun } from 'docx';
import type { BodyNode } from '@keyroster/core';
import { Manuscript, type Picture } from './manuscript.js';
import { STYLES } from './word-styles.js';

/** What a Word document is made of, as it goes to another thread. */
export interface DocxAsk {
  title: string;
  underTitle: readonly string[];
  excerpt: string;
  byline: string;
  body: BodyNode;
  lead: { media: number; alt: string } | null;
  pictures: ReadonlyMap<number, Picture>;
  /** Names of those who suggest something, by person; null where suggestions do not go along. */
  names: ReadonlyMap<number, string> | null;
}

/**
 * A post as a Word document: its structure in the processor's own styles, so that it can be brought in
 * again.
 */
export async function writeDocx({ pictures, names, ...post }: DocxAsk): Promise<Buffer> {
  const manuscript = new Manuscript(pictures, names && ((id) => names.get(id) ?? 'Somebody'));
  const children = [
    new Paragraph({ style: 'Title', children: [new TextRun(post.title)] }),
    ...post.underTitle.map((line) => new Paragraph({ style: 'Subtitle', children: [new TextRun(line)] })),
    ...(post.lead ? manuscript.picture({ type: 'picture', attrs: post.lead }) : []),
    ...manuscript.blocks(post.body.content),
  ];
  const document = new Document({
    title: post.title,
    creator: post.byline,
    description: post.excerpt,
    styles: STYLES,
    numbering: { config: manuscript.numbering },
    sections: [{ children }],
  });
  return Packer.toBuffer(document);
}
