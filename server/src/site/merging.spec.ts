import { dateOf } from '@keyroster/core';
import type { PostView } from '@keyroster/contract';
import { lockPosts } from '../posts/store.js';
import { Newsroom, someoneWaits } from '../testing/newsroom.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());

const see = async (id: number) => (await (await room.as('chief')).get(`/api/posts/${id}`)).body as PostView;
const patch = async (path: string, body: object, who: 'chief' | 'editor' = 'chief') =>
  (await room.as(who)).patch(path).send(body);

/** A post that readers see, tagged. */
async function published(title: string, fields: Record<string, unknown>, tag?: string): Promise<number> {
  const { id: categoryId } = (await room.db('categories').orderBy('id').first<{ id: number }>('id'))!;
  const { id } = await room.pitch('chief', title, { categoryId, bylineId: room.ids.chief });
  if (tag)
    await (
      await room.as('chief')
    )
      .patch(`/api/posts/${id}`)
      .set('If-Match', String((await see(id)).version))
      .send({ tags: [tag] });
  await room
    .db('all_posts')
    .where({ id })
    .update({
      slug: `post-${id}`,
      stage: 'published',
      released_at: '2026-01-01',
      run_local: '2026-01-01',
      run_zone: 'Europe/London',
      run_at: '2026-01-01',
      ...fields,
    });
  return id;
}

describe('merging', () => {
  it(
    'puts a category’s posts, slots and editors under another, and its page leads there, ' +
      'also over two merges',
    async () => {
      const third = (await (await room.as('chief')).post('/api/categories').send({ name: 'Galley', hue: 3 }))
        .body as { id: number };
      const [first, both, binned] = [
        await published('One', {}),
        await published('Both', { second_category_id: 2 }),
        await published('Binned', { binned_at: '2026-02-01' }),
      ];
      expect((await patch('/api/categories/1', { mergeInto: 2 }, 'editor')).status).toBe(403);
      expect((await patch('/api/categories/1', { mergeInto: 1 })).body.detail).toBe(
        'A category cannot be merged into itself.',
      );
      expect((await patch('/api/categories/1', { mergeInto: 99 })).status).toBe(404);
      expect((await patch('/api/categories/1', { mergeInto: 2 })).body).toMatchObject({
        id: 2,
        name: 'Engine',
      });
      expect(
        [await see(first), await see(both)].map((p) => [p.categoryId, p.secondCategoryId, p.version > 1]),
      ).toEqual([
        [2, null, true],
        [2, null, true],
      ]);
      expect(await room.db('all_posts').where({ id: binned }).first('category_id')).toEqual({
        category_id: 2,
      });
      expect(await room.db('slots').pluck('category_id')).toEqual([2]);
      expect(
        await room.db('editor_categories').where({ person_id: room.ids.editor }).pluck('category_id'),
      ).toEqual([2]);
      const old = await room.nobody().get('/category/towpath');
      expect([old.status, old.headers['location']]).toEqual([301, '/category/engine']);
      await patch('/api/categories/2', { mergeInto: third.id });
      expect((await room.nobody().get('/category/towpath')).headers['location']).toBe('/category/galley');
      expect((await room.nobody().get('/category/engine')).headers['location']).toBe('/category/galley');
      expect((await room.nobody().get('/category/galley')).status).toBe(200);
      expect((await room.nobody().get('/category/nowhere')).status).toBe(404);
    },
  );

  it('takes along a post that is put into the category meanwhile, and nobody waits in a circle', async () => {
    const [from, into] = await Promise.all(
      ['Slipway', 'Basin'].map((name) => room.call('chief', 'post', '/api/categories', { name, hue: 4 })),
    ).then((answers) => answers.map(({ body }) => (body as { id: number }).id));
    const [filed, given] = [
      await published('Filed', { category_id: from }),
      await published('Given', { category_id: into }),
    ];
    const answer = await room.db.transaction(async (trx) => {
      await lockPosts(trx, [filed, given]);
      const waiting = patch(`/api/categories/${from}`, { mergeInto: into });
      await someoneWaits(room);
      await trx('all_posts').where({ id: given }).update({ category_id: from });
      return { waiting };
    });
    expect((await answer.waiting).status).toBe(200);
    expect([(await see(filed)).categoryId, (await see(given)).categoryId]).toEqual([into, into]);
  });

  it('leads the page of a merged tag to the other', async () => {
    const id = await published('Tagged', {}, 'weirs');
    await published('Also tagged', {}, 'sluices');
    const tags = (await (await room.as('chief')).get('/api/tags')).body as { id: number; name: string }[];
    const [weirs, sluices] = [tags.find((t) => t.name === 'weirs')!, tags.find((t) => t.name === 'sluices')!];
    expect((await room.nobody().get('/tag/weirs')).status).toBe(200);
    await patch(`/api/tags/${weirs.id}`, { mergeInto: sluices.id });
    expect((await see(id)).tags.map((t) => t.name)).toEqual(['sluices']);
    const old = await room.nobody().get('/tag/weirs');
    expect([old.status, old.headers['location']]).toEqual([301, '/tag/sluices']);
  });
});

describe('the spotlight', () => {
  it('holds a post on top of the front page on its days, once, and says so', async () => {
    const today = dateOf(new Date().toISOString(), 'Europe/London');
    const lit = await published('An older one in the light', {
      run_at: '2020-01-01',
      run_local: '2020-01-01',
    });
    const change = async (spotlight: object | null) =>
      (await room.as('chief'))
        .patch(`/api/posts/${lit}`)
        .set('If-Match', String((await see(lit)).version))
        .send({ spotlight });
    expect((await change({ from: '2026-02-02', until: '2026-02-01' })).status).toBe(400);
    expect((await change({ from: today, until: today })).status).toBe(200);
    const page = async () => {
      for (let i = 0; ; i++) {
        const { text } = await room.nobody().get('/');
        if (text.includes('In the spotlight') || i > 40) return text;
        await new Promise((done) => setTimeout(done, 20));
      }
    };
    const front = await page();
    expect(front.indexOf('An older one in the light')).toBeLessThan(front.indexOf('Also tagged'));
    expect(front.split('<h2><a href="/post-').length - 1).toBe(
      new Set(front.match(/<h2><a href="\/post-\d+/g)).size,
    );
    await change({ from: '2020-01-01', until: '2020-02-01' });
    for (let i = 0; i < 40 && (await room.nobody().get('/')).text.includes('In the spotlight'); i++)
      await new Promise((done) => setTimeout(done, 20));
    expect((await room.nobody().get('/')).text).not.toContain('In the spotlight');
  });
});
