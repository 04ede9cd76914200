import type { FormatChanges, FormatView, TagView, TemplateView } from '@keyroster/contract';
import { lockPosts } from '../posts/store.js';
import { Newsroom, doc, someoneWaits } from '../testing/newsroom.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make({ jobs: true });
});
afterAll(() => room.close());

describe('details', () => {
  it('are kept, and seen again', async () => {
    const post = await room.pitch('chief', 'Everything there is', {
      categoryId: 1,
      bylineId: room.ids.writer,
    });
    const media = await room.picture();
    const changes = {
      subtitle: 'And a little more',
      tags: ['Stern gear', 'winter'],
      sharePicture: media.id,
      searchTitle: 'All of it',
      searchDescription: 'What a post can hold.',
      sourceUrl: 'https://waterways.example/a',
      titleLinks: true,
      place: 'Tolver',
      comments: false,
      commentCall: 'Tell us.',
      campaign: 'Winter',
      secondCategoryId: 2,
      coauthorIds: [room.ids.otherWriter],
    };
    expect((await room.change('chief', post.id, changes)).status).toBe(200);
    const { coauthorIds: _, ...kept } = changes;
    expect(await room.see('chief', post.id)).toMatchObject({
      ...kept,
      tags: [{ name: 'Stern gear' }, { name: 'winter' }],
      coauthors: [{ id: room.ids.otherWriter }],
    });
    expect((await room.change('chief', post.id, { tags: ['WINTER'] })).status).toBe(200);
    expect((await room.see('chief', post.id)).tags.map((t) => t.name)).toEqual(['winter']);
  });
  it.each<[string, object, number]>([
    ['a source that is a script', { sourceUrl: 'javascript:alert(1)' }, 400],
    ['the first category twice', { secondCategoryId: 1 }, 400],
    ['a picture that is not there', { sharePicture: 9999 }, 400],
    ['a format that is not there', { formatId: 9999 }, 400],
    ['too many tags', { tags: Array.from({ length: 21 }, (_, i) => `t${i}`) }, 400],
    ['a tag of nothing', { tags: [''] }, 400],
    ['values without a format', { formatValues: { a: 'b' } }, 200],
  ])('%s is answered with a sentence', async (_, changes, status) => {
    const post = await room.pitch('chief');
    const answer = await room.change('chief', post.id, changes);
    expect(answer.status).toBe(status);
    if (status !== 200) expect(answer.body.detail).toMatch(/\.$/);
  });
  it('are the writer’s as far as they belong to writing, and no further', async () => {
    const post = await room.pitch('writer');
    expect(
      (await room.change('writer', post.id, { tags: ['ice'], searchTitle: 'x', place: 'y' })).status,
    ).toBe(200);
    expect((await room.change('writer', post.id, { comments: false })).status).toBe(403);
    expect((await room.change('writer', post.id, { campaign: 'x' })).status).toBe(403);
    expect((await room.change('otherWriter', post.id, { tags: ['x'] })).status).toBe(403);
  });
});

describe('tags', () => {
  it('are renamed and merged by editors, and the posts go along', async () => {
    const post = await room.pitch('chief', 'A merged one');
    await room.change('chief', post.id, { tags: ['lock keeper', 'Lock keepers'] });
    const tags = (await room.call('writer', 'get', '/api/tags')).body as TagView[];
    const [one, many] = [
      tags.find((t) => t.name === 'lock keeper')!,
      tags.find((t) => t.name === 'Lock keepers')!,
    ];
    expect((await room.call('writer', 'patch', `/api/tags/${one.id}`, { mergeInto: many.id })).status).toBe(
      403,
    );
    expect((await room.call('editor', 'patch', `/api/tags/${one.id}`, { name: 'lock keepers' })).status).toBe(
      409,
    );
    expect((await room.call('editor', 'patch', `/api/tags/${one.id}`, { mergeInto: one.id })).status).toBe(
      400,
    );
    expect(
      (
        (await room.call('editor', 'patch', `/api/tags/${one.id}`, { mergeInto: many.id })).body as TagView[]
      ).find((t) => t.id === many.id)!.posts,
    ).toBe(1);
    expect((await room.see('chief', post.id)).tags).toEqual([{ id: many.id, name: 'Lock keepers' }]);
    expect((await room.call('editor', 'patch', `/api/tags/${one.id}`, { name: 'gone' })).status).toBe(404);
  });
  it.each([
    ['renamed', { name: 'Winter flight' }, 'Winter flight'],
    ['merged', { mergeInto: 0 }, 'summit'],
  ])(
    'are %s while somebody gives them to another post, and nobody waits in a circle',
    async (_, changes, now) => {
      const [tagged, given] = [await room.pitch('chief', 'Tagged'), await room.pitch('chief', 'Given')];
      await room.change('chief', tagged.id, { tags: ['flight', 'summit'] });
      await room.change('chief', given.id, { tags: ['mooring'] });
      const idOf = async (name: string) =>
        (await room.db('tags').where({ name }).first<{ id: number }>('id'))!.id;
      const flight = await idOf('flight');
      const into = 'mergeInto' in changes ? { mergeInto: await idOf('summit') } : changes;
      // Somebody holds both posts, and gives one of them the tag while the other waits for them.
      const answer = await room.db.transaction(async (trx) => {
        await lockPosts(trx, [tagged.id, given.id]);
        const waiting = room.call('editor', 'patch', `/api/tags/${flight}`, into);
        await someoneWaits(room);
        await trx('post_tags').insert({ blog_id: 1, post_id: given.id, tag_id: flight });
        return { waiting };
      });
      expect((await answer.waiting).status).toBe(200);
      const { tags } = await room.see('chief', given.id);
      expect(new Set(tags.map((t) => t.name))).toEqual(new Set([now, 'mooring']));
      const first = await room
        .db('all_posts')
        .where({ id: given.id })
        .first<{ tag: number }>('first_tag_id as tag');
      expect(first!.tag).toBe(await idOf('mooring'));
    },
  );
  it('are made once, when two people type the same at once', async () => {
    const [a, b] = [await room.pitch('chief', 'One'), await room.pitch('chief', 'Two')];
    const both = await Promise.all([
      room.change('chief', a.id, { tags: ['same moment'] }),
      room.change('editor', b.id, { tags: ['Same moment'] }),
    ]);
    expect(both.map((r) => r.status)).toEqual([200, 200]);
    expect(
      ((await room.call('chief', 'get', '/api/tags')).body as TagView[]).filter(
        (t) => t.name.toLowerCase() === 'same moment',
      ),
    ).toHaveLength(1);
  });
});

describe('formats and templates', () => {
  const howTo = {
    name: 'Guide',
    hint: 'One task.',
    fields: [
      { key: 'time', label: 'Time', kind: 'minutes', required: true, hint: '', choices: [] },
      { key: 'tools', label: 'Tools', kind: 'lines', required: false, hint: '', choices: [] },
    ],
    starterText: '## What you need\n\n- [ ] kettle',
  };
  it('have fields that are checked, and starter text that comes back as it was typed', async () => {
    const format = (await room.call('chief', 'post', '/api/formats', howTo)).body as FormatView;
    expect(format).toMatchObject({ name: 'Guide', starterText: howTo.starterText, posts: 0 });
    const post = await room.pitch('writer');
    expect(
      (
        await room.change('writer', post.id, {
          formatId: format.id,
          formatValues: { time: 40, tools: ['a spanner'] },
        })
      ).status,
    ).toBe(200);
    expect((await room.change('writer', post.id, { formatValues: { time: 'soon' } })).body.detail).toBe(
      '“Time” takes whole minutes.',
    );
    expect((await room.change('writer', post.id, { formatValues: { height: 3 } })).status).toBe(400);
    expect((await room.see('chief', post.id)).formatValues).toEqual({ time: 40, tools: ['a spanner'] });
    const change = async (body: FormatChanges, seen = '*') =>
      (await room.as('chief')).patch(`/api/formats/${format.id}`).set('If-Match', seen).send(body);
    expect((await change({ retired: true })).status).toBe(200);
    const late = await change({ name: 'Another' }, `"${format.version}"`);
    expect([late.status, late.body.detail]).toEqual([412, expect.stringContaining('changed this format')]);
    expect((await room.change('writer', post.id, { formatValues: { time: 41 } })).status).toBe(200);
    expect(
      (await room.change('writer', (await room.pitch('writer')).id, { formatId: format.id })).status,
    ).toBe(400);
    expect((await room.change('writer', post.id, { formatId: null })).status).toBe(200);
    expect((await room.see('chief', post.id)).formatValues).toEqual({});
  });
  it('are the managing editor’s to change, and want a name of their own', async () => {
    expect((await room.call('editor', 'post', '/api/formats', { ...howTo, name: 'Mine' })).status).toBe(403);
    expect((await room.call('chief', 'post', '/api/formats', { ...howTo, name: 'guide' })).status).toBe(409);
    expect(
      (
        await room.call('chief', 'post', '/api/formats', {
          ...howTo,
          name: 'Twice',
          fields: [howTo.fields[0], howTo.fields[0]],
        })
      ).body.detail,
    ).toMatch(/Two fields/);
  });
  it('keep a post’s text as a template', async () => {
    const post = await room.pitch('writer');
    await room.write('writer', post.id, doc('Begin here.'));
    expect(
      (await room.call('writer', 'post', '/api/templates', { name: 'Opening', postId: post.id })).status,
    ).toBe(403);
    const made = (await room.call('editor', 'post', '/api/templates', { name: 'Opening', postId: post.id }))
      .body as TemplateView;
    expect(made).toMatchObject({ name: 'Opening', text: 'Begin here.' });
    expect(
      (await room.call('editor', 'patch', `/api/templates/${made.id}`, { text: '## Another' })).body.body
        .content[0].type,
    ).toBe('heading');
    expect((await room.call('editor', 'post', '/api/templates', { name: 'Empty', text: ' ' })).status).toBe(
      400,
    );
    expect((await room.call('editor', 'delete', `/api/templates/${made.id}`)).status).toBe(204);
    expect((await room.call('editor', 'delete', `/api/templates/${made.id}`)).status).toBe(404);
  });
});
