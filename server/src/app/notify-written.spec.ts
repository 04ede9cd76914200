import { emit, type BlogEvent } from '../live/live.js';
import { inTransaction } from '../db/write.js';
import type { Written } from '../posts/effects.js';
import { Newsroom, eventually } from '../testing/newsroom.js';
import { notifyPages } from './notify-written.js';

describe('readers’ pages', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  it.each([
    [2, ['release', 'release']],
    [50, Array<string>(50).fill('release')],
    // Rendering all pages again is less than naming so many posts.
    [51, ['blog']],
  ])('of %i posts that look different are announced', async (posts, kinds) => {
    const last = (await room.db('events').max('id as id').first<{ id: number | null }>())?.id ?? 0;
    const effects = Array.from({ length: posts }, (_, i) => ({
      on: { blogId: 1, after: { id: i + 1 } } as unknown as Written,
    }));
    await inTransaction(room.db, (trx) => notifyPages(trx, effects));
    expect(await room.db('events').where('id', '>', last).orderBy('id').pluck('kind')).toEqual(kinds);
  });

  it('are kept after a batch that changed nothing they show, which says nothing but “batch”', async () => {
    const front = async () => (await room.nobody().get('/')).text;
    const heard: BlogEvent['kind'][] = [];
    room.running.services.live.onEvent((event) => {
      if (event !== 'gap') heard.push(event.kind);
    });
    const say = async (kind: 'batch' | 'blog') => {
      await inTransaction(room.db, (trx) => emit(trx, { blogId: 1, kind }));
      await eventually(() => Promise.resolve(heard.includes(kind)));
    };
    const before = await front();
    // Changed behind the newsroom’s back, so that a page that is rendered again shows it.
    await room.db('blogs').where({ id: 1 }).update({ title: 'Otherwise Lock' });
    await say('batch');
    expect(await front()).toBe(before);
    await say('blog');
    await eventually(async () => (await front()).includes('Otherwise Lock'));
  });
});
