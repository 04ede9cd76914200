import type { ComparisonView, VersionsView } from '@keyroster/contract';
import { release } from '../posts/release.js';
import { doc, fromNow, Newsroom, type Who } from '../testing/newsroom.js';

describe('versions of a post', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  const write = async (who: Who, id: number, ...paragraphs: string[]) =>
    (await room.as(who))
      .put(`/api/posts/${id}/body`)
      .set('If-Match', `"${(await room.see('chief', id)).version}"`)
      .send({ body: doc(...paragraphs) });
  const list = async (who: Who, id: number, query = '') =>
    (await (await room.as(who)).get(`/api/posts/${id}/versions${query}`)).body as VersionsView;
  const compare = async (who: Who, id: number, from: number, to: number) =>
    (await (await room.as(who)).get(`/api/posts/${id}/comparison?from=${from}&to=${to}`))
      .body as ComparisonView;
  const restore = async (who: Who, id: number, body: object, version?: number) =>
    (await room.as(who))
      .post(`/api/posts/${id}/restorings`)
      .set('If-Match', `"${version ?? (await room.see('chief', id)).version}"`)
      .send(body);
  const textOf = async (id: number) =>
    (await room.see('chief', id)).body.content!.map((b) => b.content?.[0]?.text ?? '');

  async function written() {
    const post = await room.pitch('chief', 'Frost', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', post.id, { to: 'commissioned' });
    await write('writer', post.id, 'One.', 'Two.');
    await room.change('writer', post.id, { title: 'Frost on the beams', excerpt: 'It is cold.' });
    await write('writer', post.id, 'One.', 'Zwei.');
    await room.move('writer', post.id, { to: 'in review' });
    return post;
  }

  it('tell who did what, and when, the newest first', async () => {
    const { id } = await written();
    const { versions, more } = await list('chief', id);
    expect(more).toBe(false);
    expect(versions.map((v) => [v.version, v.by?.name, v.changed.join(', '), v.moved && v.stage])).toEqual([
      [6, 'writer Test', 'stage', 'in review'],
      [5, 'writer Test', 'text', false],
      [4, 'writer Test', 'title, excerpt', false],
      [3, 'writer Test', 'text, stage', 'drafting'],
      [2, 'chief Test', 'stage', 'commissioned'],
      [1, 'chief Test', '', false],
    ]);
    const page = await list('chief', id, '?limit=2&before=5');
    expect([page.versions.map((v) => v.version), page.more]).toEqual([[4, 3], true]);
  });

  it('are compared in text and details', async () => {
    const { id } = await written();
    const { before, after, details, current } = await compare('editor', id, 3, 6);
    expect([before, after].map((b) => b.content!.map((n) => n.content![0]!.text))).toEqual([
      ['One.', 'Two.'],
      ['One.', 'Zwei.'],
    ]);
    expect(current).toBe(6);
    expect(details).toEqual(
      expect.arrayContaining([
        { name: 'title', was: 'Frost', becomes: 'Frost on the beams' },
        { name: 'excerpt', was: 'empty', becomes: 'It is cold.' },
        { name: 'stage', was: 'drafting', becomes: 'in review' },
      ]),
    );
    expect((await (await room.as('chief')).get(`/api/posts/${id}/comparison?from=3&to=99`)).status).toBe(404);
  });

  it('come back whole, as a text, or as a passage, each as a version of its own', async () => {
    const { id } = await written();
    const passage = { before: { from: 1, to: 2 }, after: { from: 1, to: 2 } };
    const back = await restore('editor', id, { version: 3, what: 'passage', passage });
    expect([back.status, back.body.sentence]).toEqual([200, 'The passage of version 3 is restored.']);
    expect(await textOf(id)).toEqual(['One.', 'Two.']);
    expect((await room.see('chief', id)).title).toBe('Frost on the beams');

    await write('editor', id, 'Rubbish.');
    expect((await restore('editor', id, { version: 5, what: 'text' })).status).toBe(200);
    expect(await textOf(id)).toEqual(['One.', 'Zwei.']);

    const whole = await restore('editor', id, { version: 3, what: 'all' });
    expect(whole.body.post).toMatchObject({ title: 'Frost', excerpt: '', stage: 'in review' });
    expect(await textOf(id)).toEqual(['One.', 'Two.']);
    const [newest] = (await list('chief', id)).versions;
    expect(newest).toMatchObject({ restored: 3, by: { name: 'editor Test' } });
    // What was there before is a version still.
    const versions = (await list('chief', id)).versions.map((v) => v.version);
    expect(versions).toHaveLength(versions[0]!);
    expect((await restore('editor', id, { version: 3, what: 'all' })).body.sentence).toBe(
      'It is like that already.',
    );
  });

  it('come back only for those who may write, upon the post as it stands, and where they fit', async () => {
    const { id } = await written();
    // In review the text is the editor's.
    expect((await restore('writer', id, { version: 3, what: 'all' })).status).toBe(403);
    expect((await restore('editor', id, { version: 3, what: 'all' }, 2)).status).toBe(412);
    expect((await restore('editor', id, { version: 77, what: 'all' })).status).toBe(404);
    expect((await restore('editor', id, { version: 3, what: 'passage' })).status).toBe(400);
    const passage = { before: { from: 0, to: 1 }, after: { from: 7, to: 9 } };
    expect((await restore('editor', id, { version: 3, what: 'passage', passage })).status).toBe(400);
    expect(await textOf(id)).toEqual(['One.', 'Zwei.']);
  });

  it('take a name from those who write', async () => {
    const { id } = await written();
    const name = async (who: Who, body: object) =>
      (await room.as(who)).put(`/api/posts/${id}/version-name`).send(body);
    expect((await name('editor', { version: 3, name: ' Before the edit ' })).body.name).toBe(
      'Before the edit',
    );
    expect((await list('chief', id)).versions.find((v) => v.version === 3)!.name).toBe('Before the edit');
    expect((await name('otherWriter', { version: 3, name: 'Mine' })).status).toBe(403);
    expect((await name('editor', { version: 99, name: 'None' })).status).toBe(404);
    expect((await name('editor', { version: 3, name: 'x'.repeat(81) })).status).toBe(400);
  });

  it('are not for those who may not see the post', async () => {
    const { id } = await written();
    const proofreader = await room.as('proofreader');
    for (const path of ['versions', 'comparison?from=1&to=2'])
      expect((await proofreader.get(`/api/posts/${id}/${path}`)).status).toBe(404);
    expect((await restore('proofreader', id, { version: 1, what: 'all' })).status).toBe(404);
    expect(
      (await proofreader.put(`/api/posts/${id}/version-name`).send({ version: 1, name: 'x' })).status,
    ).toBe(404);
  });

  it('say which file their text came from, and only whoever may write says so', async () => {
    const post = await room.pitch('chief', 'Brought in', { categoryId: 1, bylineId: room.ids.writer });
    await room.write('writer', post.id, 'From a file.');
    const say = async (who: Who) =>
      (await (await room.as(who)).post(`/api/posts/${post.id}/imports`).send({ file: 'frost.docx' })).status;
    expect([await say('proofreader'), await say('otherWriter'), await say('writer')]).toEqual([
      404, 403, 204,
    ]);
    const { versions } = (await (await room.as('chief')).get(`/api/posts/${post.id}/versions`))
      .body as VersionsView;
    expect(versions.map((v) => v.imported)).toEqual(['frost.docx', null]);
  });

  it('of a published post are for its proofreader, and for no other', async () => {
    const post = await room.scheduled(fromNow(-1), 'Out already');
    await release(room.db, post.id);
    const see = async () =>
      (await (await room.as('proofreader')).get(`/api/posts/${post.id}/versions`)).status;
    expect((await (await room.as('proofreader')).get(`/api/posts/${post.id}`)).status).toBe(200);
    expect(await see()).toBe(403);
    await room.db('posts').where({ id: post.id }).update({ proofreader_id: room.ids.proofreader });
    expect(await see()).toBe(200);
  });

  it('know what somebody read the time before', async () => {
    const { id } = await written();
    const open = async () => (await room.as('editor')).put(`/api/posts/${id}/open`).send({});
    await open();
    expect((await list('editor', id)).lastRead).toBeNull();
    await write('editor', id, 'One.', 'Two.', 'Three.');
    await open();
    // Still the same sitting.
    expect((await list('editor', id)).lastRead).toBeNull();
    await room
      .db('read_versions')
      .where({ post_id: id })
      .update({ seen_at: room.db.raw(`now() - interval '1 hour'`) });
    await open();
    expect((await list('editor', id)).lastRead).toBe(7);
  });
});
