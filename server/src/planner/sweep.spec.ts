import { Newsroom, eventually } from '../testing/newsroom.js';

/** More than a request changes while it is waited for. */
const MANY = 1200;

describe('late posts in large numbers', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make({ jobs: true });
  });
  afterAll(() => room.close());

  it('are returned to the tray by one press, undone by another, and leave the bin together', async () => {
    await room.db('all_posts').insert(
      Array.from({ length: MANY }, (_, i) => ({
        ...{ blog_id: 1, title: `Late ${i}`, stage: 'commissioned', created_by: room.ids.chief },
        ...{ category_id: 1, byline_id: room.ids.writer, body: JSON.stringify({ type: 'doc', content: [] }) },
        ...{ run_local: '2020-01-06T08:00:00', run_zone: 'Europe/London', run_at: '2020-01-06T08:00:00Z' },
      })),
    );
    const ids = await room.db('posts').orderBy('id').pluck<number[]>('id');
    const inStage = async (stage: string) =>
      Number((await room.db('posts').where({ stage }).count())[0]!['count']);
    const swept = await room.call('chief', 'post', '/api/planner/sweep', { postIds: ids });
    expect([swept.status, swept.body.sentence]).toEqual([200, '1,200 late posts returned to the tray.']);
    await eventually(async () => (await inStage('pitch')) === MANY);
    const undone = await room.call('chief', 'post', `/api/batches/${swept.body.batchId}/undo`, {});
    expect(undone.status).toBe(201);
    await eventually(async () => (await inStage('commissioned')) === MANY);
    await room.db('all_posts').update({ binned_at: room.db.fn.now() });
    const weighed = await room.call('chief', 'post', '/api/bin/erasing', { ids });
    expect([weighed.status, weighed.body.posts]).toEqual([200, MANY]);
    expect((await room.call('chief', 'post', '/api/bin/restored', { ids })).body.posts).toBe(MANY);
    expect(await inStage('drafting')).toBe(MANY);
  });
});
