import { zipSync } from 'fflate';
import { bodyText, countWords, TEXT_FIELD_NAMES, type BodyNode, type TextFieldName } from '@keyroster/core';
import { Newsroom } from '../testing/newsroom.js';
import {
  cardOf,
  checkText,
  checksOf,
  closeComputing,
  likenessOf,
  piecesOf,
  sharesOf,
  termsOfPosts,
  sentencesIn,
} from './computing.js';
import { closeDocuments, readInWorker } from './documents.js';
import { cardPng } from './draw.js';
import { WorkPool } from './pool.js';
import * as tasks from './tasks.js';

const text = (n: number): string =>
  Array.from(
    { length: n },
    (_, i) => `The boater’s ${i}th paddle is raised slowly, “as ever”, at lock ${i % 40}.`,
  ).join(' ');
const doc = (words: string): BodyNode => ({
  type: 'doc',
  content: words.match(/[\s\S]{1,4000}/g)!.map((part) => ({
    type: 'paragraph',
    content: [{ type: 'text', text: part }],
  })),
});

describe('work in other threads', () => {
  afterAll(async () => {
    await closeComputing();
    await closeDocuments();
  });

  it('gives for long texts what it gives for short ones', async () => {
    const long = doc(text(4000));
    const read = await checkText(long);
    expect(read).toEqual(tasks.text(long));
    expect(read.words).toBe(countWords(bodyText(long)));
    expect(await likenessOf(long)).toEqual(tasks.likeness(long));
    const [same, other] = await sharesOf(text(3000), [text(3000), 'nothing of this']);
    expect([same, other]).toEqual([1, 0]);
    const facts = {
      ...(Object.fromEntries(TEXT_FIELD_NAMES.map((f) => [f, ''])) as Record<TextFieldName, string>),
      title: 'A title of five words',
      slug: null,
      excerpt: '',
      categoryId: null,
      tagIds: [],
      leadPicture: null,
      leadBytes: null,
      sharePicture: null,
      body: long,
      brief: { angle: '', length: null, copyDate: null },
      formatId: null,
      formatValues: {},
      format: null,
      leftovers: null,
      alike: null,
      pages: {},
    };
    expect(await checksOf(facts, {})).toEqual(tasks.checks({ facts, settings: {} }));
    expect(await checkText({ type: 'doc', content: [{ type: 'nonsense', text: text(2000) }] })).toMatchObject(
      {
        answer: { ok: false },
      },
    );
  });

  it('makes of posts there what it makes here: pieces, terms and cards', async () => {
    const about = {
      title: 'The last paddle',
      excerpt: 'How it is drawn.',
      url: 'https://blog.example/last-paddle',
      byline: 'Anna Weber',
      blog: 'A blog',
      category: '',
      tags: [],
      phrases: ['paddle'],
    };
    const post = { about, body: doc(text(200)) };
    const asks = (['short post', 'question', 'digest'] as const).map((kind) => ({
      kind,
      outlet: {
        name: 'Anywhere',
        limits: {
          length: null,
          links: true,
          tags: 5,
          shapes: ['square' as const],
          pictureBytes: null,
          perHour: null,
          perDay: null,
          quiet: null,
        },
      },
      instruction: '',
      shape: 'square' as const,
      others: kind === 'digest' ? [post, post] : [],
    }));
    const made = await piecesOf(post, asks);
    expect(made).toEqual(tasks.pieces({ post, asks }));
    expect(made[0]).toMatchObject({ ok: true });
    const told = await sentencesIn(post);
    expect(told).toEqual(tasks.sentences(post));
    expect(told.usable.length).toBeGreaterThan(100);
    const of = [{ text: 'Paddles', body: post.body, names: ['The last paddle'] }];
    const [terms] = await termsOfPosts(of);
    expect(terms).toEqual(tasks.terms(of)[0]);
    expect(terms!.size).toBeGreaterThan(3);
    const card = {
      words: 'Draw it slowly.',
      foot: 'A BLOG',
      style: 'wedge',
      shape: 'square',
      palette: 1,
    } as const;
    expect(await cardOf(card)).toEqual(await cardPng(card));
  });

  it('ends with a sentence where it takes too long or too much, and goes on with the next', async () => {
    const small = new WorkPool({
      threads: 1,
      waiting: 2,
      megabytes: 64,
      ms: 30_000,
      tooMuch: 'Too much of it.',
      tooLong: 'Too long.',
    });
    const hasty = new WorkPool({
      ...{ threads: 1, waiting: 2, megabytes: 256, ms: 1 },
      ...{ tooMuch: 'Too much of it.', tooLong: 'Too long.' },
    });
    try {
      await expect(hasty.run('text', doc(text(20_000)))).rejects.toMatchObject({
        code: 'busy',
        message: 'Too long.',
      });
      const bomb = {
        bytes: new Uint8Array(zipSync(word(`<w:p><w:r><w:t>x</w:t></w:r></w:p>`.repeat(400_000)))),
      };
      await expect(small.run('document', { ...bomb, name: 'big.docx' })).rejects.toMatchObject({
        code: 'too-large',
        message: 'Too much of it.',
      });
      expect(await small.run('text', doc('Short.'))).toMatchObject({ words: 1 });
      const asked = await Promise.allSettled(
        Array.from({ length: 8 }, () => small.run('text', doc(text(3000)))),
      );
      const busy = asked
        .filter((a) => a.status === 'rejected')
        .map((a) => (a.reason as { code: string }).code);
      expect(busy.length).toBeGreaterThan(0);
      expect(new Set(busy)).toEqual(new Set(['busy']));
      expect(asked.some((a) => a.status === 'fulfilled')).toBe(true);
    } finally {
      await small.close();
      await hasty.close();
    }
  });

  it('does not believe what a file says of its size, nor follow what is nested without end', async () => {
    const packed = zipSync(word(' '.repeat(90 * 1024 * 1024)), { level: 9 });
    // Both places that say how large the part is (PKWARE APPNOTE, sections 4.3.7 and 4.3.12) say 1 kB.
    const lying = Buffer.from(packed);
    for (const [signature, at] of [
      [0x04034b50, 22],
      [0x02014b50, 24],
    ] as const)
      for (let i = 0; i < lying.length - 46; i++)
        if (lying.readUInt32LE(i) === signature) lying.writeUInt32LE(1024, i + at);
    const refused = async (bytes: Buffer, name: string) =>
      readInWorker({ bytes, name }).then(
        () => 'read',
        (error: { code: string }) => error.code,
      );
    expect(lying.length).toBeLessThan(200_000);
    expect(await refused(lying, 'x.docx')).toBe('too-large');
    const deep = Buffer.from(`${'<div><b>'.repeat(250_000)}Deep down${'</b></div>'.repeat(250_000)}`);
    expect(['read', 'too-large']).toContain(await refused(deep, 'deep.html'));
    expect((await readInWorker({ bytes: Buffer.from('# Still here\n\nYes.'), name: 'a.md' })).title).toBe(
      'Still here',
    );
  });

  it('leaves the others of the process be: a bomb is refused while a page is read', async () => {
    const room = await Newsroom.make();
    try {
      const bomb = Buffer.from(zipSync(word(' '.repeat(60 * 1024 * 1024)), { level: 9 }));
      const agent = await room.as('writer');
      const [refused, page] = await Promise.all([
        agent.post('/api/bring-in').attach('file', bomb, { filename: 'x.docx' }),
        room.nobody().get('/healthz'),
      ]);
      expect([refused.status, refused.body.code, page.status]).toEqual([413, 'too-large', 200]);
      expect(refused.body.detail).toContain('“x.docx”');
    } finally {
      await room.close();
    }
  });
});

function word(body: string): Record<string, Uint8Array> {
  const bytes = (content: string) => new TextEncoder().encode(content);
  return {
    '[Content_Types].xml': bytes(
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/></Types>',
    ),
    '_rels/.rels': bytes(
      '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>',
    ),
    'word/document.xml': bytes(
      `<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>${body}</w:body></w:document>`,
    ),
  };
}
