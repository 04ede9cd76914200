import mammoth from 'mammoth';
import {
  asItWas,
  asItWouldBe,
  bodyHtml,
  bodyText,
  checkBody,
  suggestedBy,
  suggestedInWords,
  suggestionsIn,
  type BodyNode,
} from '@keyroster/core';
import { readDocument } from '../documents/read-document.js';
import { release } from '../posts/release.js';
import { fromNow, Newsroom } from '../testing/newsroom.js';
import { p, t } from '../testing/round-trips.js';
import { writeDocx } from '../documents/write-docx.js';

const NAMES: Record<number, string> = { 7: 'Ann Lee', 8: 'Bo & Co' };
const nameOf = (id: number) => NAMES[id]!;
const key = (personId: number, id: string) => `${personId}/2026-11-27T07:30Z/${id}`;
const put = (text: string, k: string, ...more: NonNullable<BodyNode['marks']>): BodyNode => ({
  type: 'text',
  text,
  marks: [...more, { type: 'inserted', attrs: { key: k } }],
});
const take = (text: string, k: string): BodyNode => ({
  type: 'text',
  text,
  marks: [{ type: 'deleted', attrs: { key: k } }],
});
const whole = (does: string, k: string, block: BodyNode): BodyNode => ({
  ...block,
  attrs: { ...block.attrs, suggested: `${does} ${k}` },
});

/** Words replaced, put in by two people and made bold; blocks that come and that go. */
const TEXT: BodyNode = {
  type: 'doc',
  content: [
    p(t('Open the '), take('top', key(7, 'a')), put('bottom', key(7, 'a')), t(' gate.')),
    p(
      t('Wait'),
      put(' for the level', key(8, 'b')),
      t(' and '),
      put('then', key(7, 'c'), { type: 'bold' }),
      t(' go.'),
    ),
    whole('deleted', key(7, 'd'), { type: 'heading', attrs: { level: 2 }, content: [t('After')] }),
    whole('inserted', key(8, 'e'), p(t('Close it again.'))),
    p(t('Untouched.')),
  ],
};

const ways: [string, (body: BodyNode) => Promise<{ name: string; bytes: Uint8Array }>][] = [
  [
    'HTML',
    async (body) => ({
      name: 'a.html',
      bytes: Buffer.from(
        `<!doctype html><h1>A title</h1>${bodyHtml(suggestedInWords(body), () => undefined, { suggestedBy: nameOf })}`,
      ),
    }),
  ],
  [
    'Word',
    async (body) => ({
      name: 'a.docx',
      bytes: await writeDocx({
        ...{ title: 'A title', underTitle: [], excerpt: '', byline: 'Dot', lead: null },
        ...{ body: suggestedInWords(body), pictures: new Map() },
        names: new Map(Object.entries(NAMES).map(([id, name]) => [Number(id), name])),
      }),
    }),
  ],
];

describe('suggestions outside the newsroom', () => {
  it.each(ways)('come back from %s as they were, of whom they were', async (_, way) => {
    expect(checkBody(TEXT)).toMatchObject({ ok: true });
    const { bytes, name } = await way(TEXT);
    const read = await readDocument(bytes, name);
    expect(read.report.dropped).toEqual({});
    const body = suggestedBy(read.body, ({ personId }) =>
      Number(Object.keys(NAMES).find((id) => NAMES[Number(id)] === read.authors[personId - 1])),
    );
    expect(checkBody(body)).toMatchObject({ ok: true });
    expect([asItWas(body), asItWouldBe(body)]).toEqual([asItWas(TEXT), asItWouldBe(TEXT)]);
    const told = (of: BodyNode) =>
      suggestionsIn(of).map(({ personId, at, kind, was, becomes }) => [personId, at, kind, was, becomes]);
    expect(told(body)).toEqual(told(TEXT));
  });

  it('are tracked changes to others: mammoth reads the text with all of them accepted', async () => {
    const { bytes } = await ways[1]![1](TEXT);
    const { value } = await mammoth.extractRawText({ buffer: Buffer.from(bytes) });
    // A paragraph whose words all go is an empty one to it.
    expect(value.split('\n').filter(Boolean)).toEqual([
      'A title',
      ...bodyText(asItWouldBe(TEXT)).split('\n').filter(Boolean),
    ]);
  });

  it('that are no suggestions stay out: a name or a date that is none, another’s page', async () => {
    for (const html of [
      '<p>One <ins>two</ins> <del>three</del></p>',
      '<p>One <ins data-suggestion="a" datetime="yesterday" data-by="X">two</ins></p>',
      '<p>One <ins data-suggestion="A B" datetime="2026-11-27T07:30Z" data-by="X">two</ins></p>',
    ])
      expect(suggestionsIn((await readDocument(Buffer.from(html), 'a.html')).body)).toEqual([]);
  });
});

describe('a post with suggestions', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  it('goes out with them only when asked, and to whom its versions are open; and comes in as theirs or one’s own', async () => {
    const post = await room.pitch('chief', 'Out with it', { categoryId: 1 });
    const mine = key(room.ids.editor, 'a');
    const suggested = { type: 'doc', content: [p(t('Open'), put(' slowly', mine), t('.'))] };
    const stored = await (
      await room.as('chief')
    )
      .put(`/api/posts/${post.id}/body`)
      .set('If-Match', `"${post.version}"`)
      .send({ body: suggested });
    expect(stored.status).toBe(200);
    const out = async (who: 'chief' | 'proofreader', query: string, id = post.id) => {
      const answer = await (await room.as(who)).get(`/api/posts/${id}/out?as=${query}`).buffer(true);
      return answer.status === 200 ? answer.text : answer.status;
    };
    expect(await out('chief', 'html')).toContain('<p>Open.</p>');
    const html = await out('chief', 'html&suggestions=true');
    expect(html).toContain('data-by="editor Test" data-suggestion="a"> slowly</ins>');
    expect(await out('chief', 'markdown&suggestions=true')).toBe(400);
    expect(await out('proofreader', 'html&suggestions=true')).toBe(404);
    const published = await room.scheduled(fromNow(-1), 'Out already');
    await release(room.db, published.id);
    expect(await out('proofreader', 'html', published.id)).toContain('<p>Open the paddle slowly.</p>');
    expect(await out('proofreader', 'html&suggestions=true', published.id)).toBe(403);

    const bring = async (text: string) =>
      (
        (await (await room.as('writer')).post('/api/bring-in').attach('file', Buffer.from(text), 'a.html'))
          .body as { body: BodyNode }
      ).body;
    const makers = async (text: string) => suggestionsIn(await bring(text)).map((s) => s.personId);
    expect(await makers(String(html))).toEqual([room.ids.editor]);
    expect(await makers(String(html).replace('editor Test', 'A stranger'))).toEqual([room.ids.writer]);
  });
});
