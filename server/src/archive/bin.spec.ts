import { batchHands } from '../testing/batch-hands.js';
import { Newsroom } from '../testing/newsroom.js';
import { emptyBins } from './bin.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());
const { see, preview, apply, drafts } = batchHands(() => room);

describe('the bin', () => {
  it(
    'gives posts back as drafts, erases them permanently with a sentence, and empties ' +
      'itself only when told',
    async () => {
      const ids = await drafts(3, 'Binned');
      await room.db('all_posts').where({ id: ids[0]! }).update({
        slug: 'binned-one',
        stage: 'published',
        released_at: '2026-01-01',
        run_local: '2026-01-01',
        run_zone: 'Europe/London',
        run_at: '2026-01-01',
      });
      expect((await room.nobody().get('/binned-one')).status).toBe(200);
      await apply((await preview([{ kind: 'bin' }], { ids })).id);
      for (let i = 0; i < 50 && (await room.nobody().get('/binned-one')).status === 200; i++)
        await new Promise((done) => setTimeout(done, 20));
      expect((await room.nobody().get('/binned-one')).status).toBe(404);
      expect((await room.call('chief', 'post', '/api/bin/restored', { ids: [ids[0]!] })).body).toEqual({
        posts: 1,
        sentence: '“Binned 1” is back, as a draft.',
      });
      expect(await see(ids[0]!)).toMatchObject({ stage: 'drafting', runLocal: null, slug: 'binned-one' });
      expect((await room.call('editor', 'post', '/api/bin/erasing', { ids: [ids[1]!] })).status).toBe(403);
      expect(
        (await room.call('chief', 'post', '/api/bin/erasing', { ids: [ids[1]!] })).body.sentence,
      ).toMatch(
        /^“Binned 2” is erased permanently, with \d+ versions?\. Pictures stay in the library\. This cannot be undone\.$/,
      );
      expect((await room.call('chief', 'post', '/api/bin/erased', { ids: [ids[0]!] })).body.detail).toBe(
        'None of these posts lies in the bin.',
      );
      expect((await room.call('chief', 'post', '/api/bin/erased', { ids: [ids[1]!] })).body.sentence).toBe(
        '“Binned 2” is erased.',
      );
      expect(await room.db('all_posts').where({ id: ids[1]! }).first('id')).toBeUndefined();
      await room.db('all_posts').where({ id: ids[2]! }).update({ binned_at: '2026-01-01' });
      await emptyBins(room.db);
      expect(await room.db('all_posts').where({ id: ids[2]! }).first('id')).toBeDefined();
      await room.db('blogs').update({ bin_days: 30 });
      await emptyBins(room.db);
      expect(await room.db('all_posts').where({ id: ids[2]! }).first('id')).toBeUndefined();
    },
  );
});
