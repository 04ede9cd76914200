import type { PostView } from '@keyroster/contract';
import { keyOf, suggestionsIn, type BodyNode } from '@keyroster/core';
import { bodyOfShared, TEXT_FIELD } from '@keyroster/core/texts';
import * as Y from 'yjs';
import { eventually, Newsroom, type Who } from '../testing/newsroom.js';
import { Writer } from '../testing/writer.js';

describe('suggestions in a text', () => {
  let room: Newsroom;
  const open: Writer[] = [];
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterEach(() => open.splice(0).forEach((w) => w.close()));
  afterAll(() => room.close());

  async function come(who: Who, post: { id: number }): Promise<Writer> {
    const writer = await Writer.open(room.url, post.id, await room.cookieOf(who));
    open.push(writer);
    return writer;
  }
  /** In review, with a proofreader put on it: "Open the paddle slowly." */
  async function inReview(): Promise<PostView> {
    const post = await room.pitch('chief', 'To be read', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', post.id, { to: 'commissioned' });
    await room.write('writer', post.id);
    await room.move('writer', post.id, { to: 'in review' });
    await room.change('chief', post.id, { proofreaderId: room.ids.proofreader });
    return room.see('chief', post.id);
  }
  const key = (who: Who, id = 'a') => keyOf({ personId: room.ids[who], at: '2026-11-27T07:30Z', id });
  const suggest = (writer: Writer, who: Who, at: number, words: string) =>
    writer.block(0).insert(at, words, { inserted: { key: key(who) } });
  const suggested = (writer: Writer) => {
    const answer = bodyOfShared(writer.doc);
    return answer.ok ? suggestionsIn(answer.body) : [];
  };
  const textOf = async (id: number) => (await room.see('chief', id)).body.content![0]!.content![0]!.text;
  const rowOf = (id: number) =>
    room
      .db('posts')
      .where({ id })
      .first<{ suggested: BodyNode | null; words: number; body_text: string }>(
        'suggested',
        'words',
        'body_text',
      );

  it('are kept with the post, whose text stays as it was for everybody who reads it', async () => {
    const post = await inReview();
    const [proofreader, editor] = [await come('proofreader', post), await come('editor', post)];
    suggest(proofreader, 'proofreader', 9, 'top ');
    proofreader.block(0).format(0, 4, { deleted: { key: key('proofreader', 'b') } });
    await eventually(proofreader.isStored);
    expect(proofreader.refusals).toEqual([]);
    await eventually(async () => suggested(editor).length === 2);
    expect(await textOf(post.id)).toBe('Open the paddle slowly.');
    const row = await rowOf(post.id);
    expect(row).toMatchObject({ words: 4, body_text: 'Open the paddle slowly.' });
    expect(suggestionsIn(row!.suggested!).map((s) => [s.kind, s.personId])).toEqual([
      ['delete', room.ids.proofreader],
      ['insert', room.ids.proofreader],
    ]);
    expect(proofreader.stored!.words).toBe(4);
    const out = await (await room.as('editor')).get(`/api/posts/${post.id}/export?format=markdown`);
    expect(out.text).not.toContain('top');

    // Whoever writes accepts one and refuses the other, in the text itself.
    editor.block(0).format(0, 4, { deleted: null });
    editor.block(0).format(9, 4, { inserted: null });
    await eventually(editor.isStored);
    expect(await textOf(post.id)).toBe('Open the top paddle slowly.');
    expect((await rowOf(post.id))!.suggested).toBeNull();
  });

  it('are all that a proofreader may type, whatever their program sends', async () => {
    const post = await inReview();
    const chief = await come('chief', post);
    suggest(chief, 'chief', 0, 'Please. ');
    await eventually(chief.isStored);
    const forge: [string, (writer: Writer) => void][] = [
      ['plain words', (w) => w.type(' Forged.')],
      ['words taken out', (w) => w.block(0).delete(10, 4)],
      ['another look', (w) => w.block(0).format(10, 4, { bold: {} })],
      ['another’s name', (w) => suggest(w, 'chief', 12, 'forged')],
      ['no name', (w) => w.block(0).insert(12, 'forged', { inserted: { key: 'x' } })],
      ['accepting', (w) => w.block(0).format(0, 8, { inserted: null })],
      ['refusing', (w) => w.block(0).delete(0, 8)],
      ['a block', (w) => w.doc.getXmlFragment(TEXT_FIELD).insert(1, [new Y.XmlElement('paragraph')])],
      ['no text at all', (w) => w.doc.getXmlFragment(TEXT_FIELD).insert(0, [new Y.XmlElement('script')])],
      [
        'another’s name at a block',
        (w) => {
          const block = w.doc.getXmlFragment(TEXT_FIELD).get(0) as Y.XmlElement;
          block.setAttribute('suggested', `deleted ${key('chief')}`);
        },
      ],
    ];
    for (const [name, does] of forge) {
      const proofreader = await come('proofreader', post);
      does(proofreader);
      await eventually(async () => proofreader.refusals.length > 0 || (await proofreader.isKept()));
      expect([name, proofreader.refusals.length]).toEqual([name, 1]);
      expect(proofreader.refusals[0]).toMatch(/by suggestion/);
      proofreader.close();
    }
    expect(suggested(chief).map((s) => [s.personId, s.becomes])).toEqual([[room.ids.chief, 'Please. ']]);
    expect(await textOf(post.id)).toBe('Open the paddle slowly.');
    // Their own they may take back; and write, where the post allows it.
    const proofreader = await come('proofreader', post);
    suggest(proofreader, 'proofreader', 12, 'big ');
    proofreader.block(0).delete(12, 4);
    await eventually(proofreader.isStored);
    expect(proofreader.refusals).toEqual([]);
    await room.change('chief', post.id, { proofreaderWrites: true });
    proofreader.type(' Allowed.');
    await eventually(proofreader.isStored);
    expect(await textOf(post.id)).toBe('Open the paddle slowly. Allowed.');
  });

  it('are there when a text is opened that nobody had open before', async () => {
    const post = await room.pitch('chief', 'Brought along', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', post.id, { to: 'commissioned' });
    const marks = [{ type: 'inserted', attrs: { key: key('writer') } }];
    const content = [
      { type: 'text', text: 'Open it ' },
      { type: 'text', text: 'slowly', marks },
    ];
    const stored = await (
      await room.as('writer')
    )
      .put(`/api/posts/${post.id}/body`)
      .set('If-Match', `"${(await room.see('chief', post.id)).version}"`)
      .send({ body: { type: 'doc', content: [{ type: 'paragraph', content }] } });
    expect(stored.status).toBe(200);
    const writer = await come('writer', post);
    expect(suggested(writer).map((s) => s.becomes)).toEqual(['slowly']);
    expect(await textOf(post.id)).toBe('Open it ');
  });

  it('outlive a restore, and come back with the version that had them', async () => {
    const post = await inReview();
    const editor = await come('editor', post);
    suggest(editor, 'editor', 0, 'Please. ');
    await eventually(editor.isStored);
    const { version } = editor.stored!;
    editor.block(0).delete(0, editor.block(0).length);
    editor.type('Rubbish.');
    await eventually(editor.isStored);
    expect(await textOf(post.id)).toBe('Rubbish.');
    const back = await (
      await room.as('editor')
    )
      .post(`/api/posts/${post.id}/restorings`)
      .set('If-Match', `"${(await room.see('chief', post.id)).version}"`)
      .send({ version, what: 'text' });
    expect(back.status).toBe(200);
    expect(await textOf(post.id)).toBe('Open the paddle slowly.');
    await eventually(async () => suggested(editor).length === 1);
    expect((await rowOf(post.id))!.suggested).not.toBeNull();
  });

  it('stay where a batch replaces words around them', async () => {
    const post = await inReview();
    const editor = await come('editor', post);
    suggest(editor, 'editor', 0, 'Please. ');
    await eventually(editor.isStored);
    const chief = await room.as('chief');
    const changes = [
      {
        kind: 'replace',
        places: ['text'],
        find: 'paddle',
        with: 'gate paddle',
        pattern: false,
        capitals: true,
      },
    ];
    const preview = await chief.post('/api/batches').send({ changes, ids: [post.id] });
    expect([preview.status, preview.body.detail]).toEqual([201, undefined]);
    await chief.post(`/api/batches/${preview.body.id}/apply`).send({});
    const { applyBatch } = await import('../archive/apply.js');
    await applyBatch(room.db, preview.body.id as number);
    expect(await textOf(post.id)).toBe('Open the gate paddle slowly.');
    await eventually(async () => editor.text.includes('gate paddle'));
    expect(suggested(editor).map((s) => s.becomes)).toEqual(['Please. ']);
    // Taking it back would take somebody's later suggestion along.
    suggest(editor, 'editor', 8, 'Now. ');
    await eventually(editor.isStored);
    const undo = await chief.post(`/api/batches/${preview.body.id}/back`).send({});
    expect(undo.body.counts?.changes ?? 0).toBe(0);
    expect(await textOf(post.id)).toBe('Open the gate paddle slowly.');
  });
});
