import { spawn, type ChildProcess } from 'node:child_process';
import { createServer, type AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import type { PostPage, PostView } from '@keyroster/contract';
import * as Y from 'yjs';
import { TEXT_FIELD } from '@keyroster/core/texts';
import { doc, eventually, Newsroom, type Who } from '../testing/newsroom.js';
import { Writer } from '../testing/writer.js';

describe('a text that several people write in', () => {
  let room: Newsroom;
  const open: Writer[] = [];
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterEach(() => open.splice(0).forEach((w) => w.close()));
  afterAll(() => room.close());

  async function come(who: Who, post: { id: number }, url = room.url, headers: object = {}): Promise<Writer> {
    const writer = await Writer.open(url, post.id, await room.cookieOf(who), headers);
    open.push(writer);
    return writer;
  }
  async function drafted(...paragraphs: string[]): Promise<PostView> {
    const post = await room.pitch('chief', 'Several hands', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', post.id, { to: 'commissioned' });
    const { version } = await room.see('chief', post.id);
    await (
      await room.as('writer')
    )
      .put(`/api/posts/${post.id}/body`)
      .set('If-Match', `"${version}"`)
      .send({ body: doc(...paragraphs) });
    return room.see('chief', post.id);
  }
  const textOf = async (id: number) =>
    JSON.stringify((await room.see('chief', id)).body)
      .match(/(?<="text":")[^"]*/g)
      ?.join('|');

  it('shows everybody what each types, and the post takes it in as the work of whoever did', async () => {
    const post = await drafted('Open the gate.', 'Close the gate.');
    const [writer, editor] = [await come('writer', post), await come('editor', post)];
    expect(editor.text).toBe('Open the gate.|Close the gate.');
    writer.type(' Slowly.');
    editor.type(' Twice.', 1);
    await eventually(async () => writer.text === 'Open the gate. Slowly.|Close the gate. Twice.');
    await eventually(async () => editor.text === writer.text);
    await eventually(writer.isStored);
    await eventually(editor.isStored);
    expect(await textOf(post.id)).toBe(writer.text);
    const now = await room.see('chief', post.id);
    expect(now.version).toBe(editor.stored!.version);
    expect([now.words, editor.stored!.words]).toEqual([8, 8]);
    const versions = await room
      .db('post_versions')
      .where({ post_id: post.id })
      .orderBy('version')
      .select('person_id', 'changed');
    expect(versions.at(-1)).toMatchObject({ changed: expect.arrayContaining(['body']) });
    expect([room.ids.writer, room.ids.editor]).toContain(versions.at(-1)!.person_id);
  });

  it('says nothing of the post where nothing was left to take in: a page would take that for news of the text', async () => {
    const post = await drafted('As it stands.');
    const writer = await come('writer', post);
    writer.type(' Once.');
    await eventually(writer.isStored);
    const { version } = writer.stored!;
    await room.change('chief', post.id, { excerpt: 'Told on another page.' });
    writer.store();
    await eventually(async () => writer.hadAlready > 0);
    // Typed and taken back: the text is what it was.
    writer.type('Twice. ', 0, 0);
    writer.block(0).delete(0, 'Twice. '.length);
    await eventually(writer.isStored);
    expect(writer.stored!.version).toBe(version);
    expect((await room.see('chief', post.id)).version).toBe(version + 1);
  });

  it('refuses what somebody may not change, and whoever may not see it does not come in', async () => {
    const post = await drafted('As it stands.');
    const [other, writer] = [await come('otherWriter', post), await come('writer', post)];
    other.type(' Forged.');
    await eventually(async () => other.refusals.length > 0);
    expect(other.refusals[0]).toBe('Changing the text of this post is not yours to do.');
    expect(writer.text).toBe('As it stands.');
    await expect(come('proofreader', post)).rejects.toThrow('404');
    await expect(come('reader', post)).rejects.toThrow('401');
    await expect(Writer.open(room.url, post.id, '')).rejects.toThrow('401');
    await expect(Writer.open(room.url, 987_654, await room.cookieOf('chief'))).rejects.toThrow('404');
    await expect(come('chief', post, room.url, { Origin: 'https://elsewhere.example' })).rejects.toThrow(
      '403',
    );
    expect(await textOf(post.id)).toBe('As it stands.');
    // It is asked of every update: whoever is taken off the post while typing types no further.
    writer.type(' Once.');
    await eventually(writer.isStored);
    await room.change('chief', post.id, { bylineId: room.ids.otherWriter });
    writer.type(' Twice.');
    await eventually(async () => writer.refusals.length > 0);
    expect(await textOf(post.id)).toBe('As it stands. Once.');
  });

  it('ends with the session, with the role, and when the post is no longer to be seen', async () => {
    const post = await drafted('To be seen.');
    await room.change('chief', post.id, { proofreaderId: room.ids.proofreader });
    const [proofreader, other] = [await come('proofreader', post), await come('otherWriter', post)];
    await room.change('chief', post.id, { proofreaderId: null });
    await eventually(async () => proofreader.closed === 4403);
    await (await room.as('otherWriter')).delete('/api/session');
    room.forget('otherWriter');
    await eventually(async () => other.closed === 4403);
  });

  it('hangs up on garbage, and goes on for everybody else', async () => {
    const post = await drafted('Here.');
    const writer = await come('writer', post);
    for (const bytes of [[9], [0, 2, 3, 1, 2, 3], [0, 7, 0], [1, 200], []]) {
      const odd = await come('editor', post);
      odd.raw(new Uint8Array(bytes));
      await eventually(async () => odd.closed === 4400);
    }
    const words = await come('editor', post);
    words.socket.send('{"role":"managing editor"}');
    await eventually(async () => words.closed === 4400);
    writer.type(' There.');
    await eventually(writer.isStored);
    expect(await textOf(post.id)).toBe('Here. There.');
  });

  it('says who is there, under the name they came in with', async () => {
    const post = await drafted('Who?');
    const [writer, editor] = [await come('writer', post), await come('editor', post)];
    writer.here({ user: { id: 1, name: 'chief Test' }, cursor: null });
    await eventually(async () => editor.names().includes('writer Test'));
    expect(editor.names()).not.toContain('chief Test');
    const late = await come('chief', post);
    await eventually(async () => late.names().includes('writer Test'));
    writer.close();
    await eventually(async () => !editor.names().includes('writer Test'));
  });

  it('takes nothing under a client id of somebody else, whether they typed already or are only seen', async () => {
    const post = await drafted('Open the gate.');
    const [writer, editor] = [await come('writer', post), await come('editor', post)];
    const forged = (client: number, words: string) => {
      const copy = new Y.Doc();
      Y.applyUpdate(copy, Y.encodeStateAsUpdate(editor.doc));
      copy.clientID = client;
      const before = Y.encodeStateVector(copy);
      ((copy.getXmlFragment(TEXT_FIELD).get(0) as Y.XmlElement).get(0) as Y.XmlText).insert(0, words);
      editor.update(Y.encodeStateAsUpdate(copy, before));
    };
    // Seen in the text, with nothing typed yet.
    writer.here({ at: 1 });
    await eventually(async () => editor.names().length > 0);
    forged(writer.doc.clientID, 'Swallowed');
    await eventually(async () => editor.refusals.length === 1);
    writer.type(' Slowly.');
    await eventually(writer.isStored);
    await eventually(async () => editor.text.includes('Slowly'));
    // Typed already: the same place said again, with other words, would make the next word count as known.
    forged(writer.doc.clientID, 'Swallowed');
    await eventually(async () => editor.refusals.length === 2);
    writer.type(' Twice.');
    await eventually(writer.isStored);
    expect(await textOf(post.id)).toBe('Open the gate. Slowly. Twice.');
    // What the server wrote, which nobody typed, is nobody's either.
    const [own] = [...(editor.doc.store.clients.keys() as IterableIterator<number>)].filter(
      (c) => c !== writer.doc.clientID,
    );
    forged(own!, 'Swallowed');
    await eventually(async () => editor.refusals.length === 3);
    // Their own client goes on.
    const again = await come('editor', post);
    again.type(' Well.');
    await eventually(again.isStored);
    expect(await textOf(post.id)).toBe('Open the gate. Slowly. Twice. Well.');
  });

  it('is in lists with who has it open, for everybody else', async () => {
    const post = await drafted('Open.');
    const here = async (who: Who) => {
      const page = (await (await room.as(who)).get('/api/posts?stage=drafting&limit=200')).body as PostPage;
      return page.here.filter((h) => h.postId === post.id).map((h) => h.person.name);
    };
    const [writer, again] = [await come('writer', post), await come('writer', post)];
    await eventually(async () => (await here('chief')).join() === 'writer Test');
    expect(await here('writer')).toEqual([]);
    writer.close();
    await eventually(async () => writer.closed !== null);
    expect(await here('chief')).toEqual(['writer Test']);
    again.close();
    await eventually(async () => (await here('chief')).length === 0);
  });

  it('takes a text that a program stores in as a change, and keeps what is typed meanwhile', async () => {
    const post = await drafted('The gait is open.', 'Second.');
    const writer = await come('writer', post);
    // Typed, kept, and not stored yet when the change comes.
    writer.type(' Third.', 1);
    await eventually(writer.isKept);
    const now = await room.see('chief', post.id);
    const answer = await (
      await room.as('chief')
    )
      .put(`/api/posts/${post.id}/body`)
      .set('If-Match', `"${now.version}"`)
      .send({ body: doc('The gate is open.', 'Second.') });
    expect(answer.status).toBe(200);
    await eventually(async () => writer.text === 'The gate is open.|Second. Third.');
    await eventually(writer.isStored);
    expect(await textOf(post.id)).toBe('The gate is open.|Second. Third.');
  });

  it('moves with all that was typed until then', async () => {
    const post = await drafted('Half.');
    const writer = await come('writer', post);
    writer.type(' And the other half.');
    await eventually(writer.isKept);
    expect((await room.move('writer', post.id, { to: 'in review' })).status).toBe(200);
    expect(await textOf(post.id)).toBe('Half. And the other half.');
  });

  it('says why a text cannot be stored, and stores it when it can be', async () => {
    const post = await room.cleared('Not to be emptied');
    await room.move('editor', post.id, { to: 'scheduled', runAt: '2031-03-04T08:00:00' });
    const editor = await come('editor', post);
    const before = await textOf(post.id);
    const fragment = editor.doc.getXmlFragment('text');
    fragment.delete(0, fragment.length);
    await eventually(async () => editor.notStored.length > 0);
    expect(editor.notStored[0]).toMatch(/text/);
    expect(await textOf(post.id)).toBe(before);
    const block = new Y.XmlElement('paragraph');
    block.insert(0, [new Y.XmlText('Better.')]);
    fragment.insert(0, [block]);
    await eventually(editor.isStored);
    expect(await textOf(post.id)).toBe('Better.');
  });

  it('holds as much as a post may, and says when it is more', async () => {
    const post = await drafted('Long.');
    const writer = await come('writer', post);
    const long = 'x'.repeat(990_000);
    writer.type(long);
    await eventually(writer.isStored);
    expect((await textOf(post.id))!.length).toBe(990_005);
    writer.type('y'.repeat(20_000));
    await eventually(async () => writer.notStored.length > 0);
    expect(writer.notStored[0]).toBe('The text is too long for one post (about 150,000 words).');
    const late = await come('chief', post);
    expect(late.block(0).length).toBe(1_010_005);
    late.block(0).delete(5, 1_010_000);
    await eventually(late.isStored);
    expect(await textOf(post.id)).toBe('Long.');
  });

  it('is open so many times for one person, and no more', async () => {
    const post = await drafted('Once more.');
    for (let i = 0; i < 60; i++) await come('editor', post);
    await expect(come('editor', post)).rejects.toThrow('429');
    expect((await come('writer', post)).text).toBe('Once more.');
    open.shift()!.close();
    await eventually(() => come('editor', post).catch(() => null));
  });

  it('is taken away from everybody when it goes to the bin', async () => {
    const post = await drafted('Not for long.');
    const writer = await come('writer', post);
    await room.db('all_posts').where({ id: post.id }).update({ binned_at: room.db.fn.now() });
    await room.db('events').insert({ blog_id: 1, kind: 'post', post_id: post.id });
    await eventually(async () => writer.closed === 4403);
  });

  it('begins the draft with a writer’s first words', async () => {
    const post = await room.pitch('chief', 'First words', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', post.id, { to: 'commissioned' });
    const writer = await come('writer', post);
    writer.type('Words.');
    await eventually(async () => writer.stored?.stage === 'drafting');
    expect((await room.see('chief', post.id)).stage).toBe('drafting');
  });

  it('keeps a long history short, and loses nothing of it', async () => {
    const post = await drafted('From 0: ');
    const writer = await come('writer', post);
    for (let i = 0; i < 90; i++) {
      writer.type(`${i} `);
      if (i % 3 === 0) await eventually(writer.isKept);
    }
    await eventually(writer.isStored);
    const text = writer.text;
    const left = await room.db('shared_text_updates').where({ post_id: post.id });
    expect(left.length).toBeLessThan(90);
    const late = await come('editor', post);
    expect(late.text).toBe(text);
    expect(text).toBe('From 0: ' + Array.from({ length: 90 }, (_, i) => `${i} `).join(''));
  });
});

const MAIN = fileURLToPath(new URL('../../dist/main.js', import.meta.url));

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1');
  await new Promise((done) => server.once('listening', done));
  const { port } = server.address() as AddressInfo;
  await new Promise((done) => server.close(done));
  return port;
}

describe('a text in two server processes', () => {
  let room: Newsroom;
  let port: number;
  let child: ChildProcess | null = null;
  const url = () => `http://127.0.0.1:${port}`;
  const start = async () => {
    child = spawn(process.execPath, [MAIN], {
      env: {
        ...process.env,
        DATABASE_URL: room.databaseUrl,
        PORT: String(port),
        SESSION_SECRET: 'only for tests',
        LOG_LEVEL: 'silent',
        DEMO: '0',
      },
      stdio: 'ignore',
    });
    await eventually(async () => (await fetch(`${url()}/readyz`).catch(() => null))?.status === 200);
  };
  const kill = () =>
    new Promise<void>((done) => {
      child!.once('exit', () => done());
      child!.kill('SIGKILL');
    });
  beforeAll(async () => {
    room = await Newsroom.make();
    port = await freePort();
    await start();
  });
  afterAll(async () => {
    await kill();
    await room.close();
  });

  it('is the same in both, with everybody in it', async () => {
    const post = await room.pitch('chief', 'Two processes', { categoryId: 1, bylineId: room.ids.writer });
    const here = await Writer.open(room.url, post.id, await room.cookieOf('chief'));
    const there = await Writer.open(url(), post.id, await room.cookieOf('editor'));
    here.here({ cursor: null });
    there.here({ cursor: null });
    for (let i = 0; i < 20; i++) {
      here.type(`h${i} `);
      there.type(`t${i} `, 0, 0);
    }
    await eventually(here.isStored);
    await eventually(there.isStored);
    await eventually(async () => here.text === there.text);
    for (let i = 0; i < 20; i++)
      expect([here.text.includes(`h${i} `), here.text.includes(`t${i} `)]).toEqual([true, true]);
    await eventually(
      async () => here.names().includes('editor Test') && there.names().includes('chief Test'),
    );
    const body = (await room.see('chief', post.id)).body;
    expect(body.content![0]!.content![0]!.text).toBe(here.text);
    here.close();
    there.close();
  });

  it('loses nothing that was answered when a process is killed, ten times over', async () => {
    const post = await room.pitch('chief', 'Killed', { categoryId: 1 });
    const cookie = await room.cookieOf('editor');
    const wanted: string[] = [];
    for (let i = 0; i < 10; i++) {
      const writer = await Writer.open(url(), post.id, cookie);
      const word = `word${i} `;
      writer.type(word);
      await eventually(writer.isKept);
      wanted.push(word);
      await kill();
      writer.close();
      await start();
    }
    // What the killed processes had not stored is stored by whoever comes next.
    await eventually(async () => {
      const text = JSON.stringify((await room.see('chief', post.id)).body);
      return wanted.every((word) => text.includes(word));
    });
  });
});
