import { randomUUID } from 'node:crypto';
import { Newsroom, type Who } from '../testing/newsroom.js';

describe('what is written down on a device', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const send = async (who: Who, more: object = {}) =>
    (await room.as(who)).post('/api/captures').send({
      ...{ key: randomUUID(), title: 'Seen from the bus', thought: '', text: '', categoryId: null },
      ...more,
    });

  it('arrives once, however often it is sent and by how many at once', async () => {
    const key = randomUUID();
    const all = await Promise.all(
      Array.from({ length: 6 }, () => send('writer', { key, text: 'One line.' })),
    );
    expect(new Set(all.map((a) => a.status))).toEqual(new Set([201]));
    expect(new Set(all.map((a) => a.body.id)).size).toBe(1);
    expect((await room.db('posts').where({ title: 'Seen from the bus' })).length).toBe(1);
    // The same key of somebody else is another thing.
    expect((await send('otherWriter', { key })).body.id).not.toBe(all[0]!.body.id);
  });

  it('is a pitch without a text, and with one what the desk begins to write', async () => {
    const stages: Record<string, string> = {};
    for (const who of ['chief', 'editor', 'writer'] as const)
      for (const text of ['', 'First.\n\nSecond.']) {
        const made = await send(who, {
          title: `${who} ${text.length}`,
          thought: 'A thought',
          text,
          categoryId: 1,
        });
        expect([made.status, made.text.slice(0, 200)]).toEqual([201, expect.anything()]);
        stages[`${who} ${text === '' ? 'pitch' : 'draft'}`] = made.body.stage;
        const post = await room.see('chief', made.body.id);
        expect(post).toMatchObject({ thought: 'A thought', words: text === '' ? 0 : 2 });
        if (text !== '') expect(post.byline?.id).toBe(room.ids[who]);
      }
    expect(stages).toEqual({
      'chief pitch': 'pitch',
      'chief draft': 'drafting',
      'editor pitch': 'pitch',
      'editor draft': 'drafting',
      'writer pitch': 'pitch',
      'writer draft': 'pitch',
    });
  });

  it('is refused with a sentence, and nothing of it stays behind', async () => {
    const before = await room.db('all_posts').count();
    for (const [who, more, status] of [
      ['writer', { title: '' }, 400],
      ['writer', { key: 'once' }, 400],
      ['writer', { categoryId: 999 }, 400],
      ['editor', { categoryId: 2 }, 403],
      ['proofreader', {}, 403],
      ['reader', {}, 403],
      ['writer', { text: 'x'.repeat(100_001) }, 400],
    ] as const)
      expect([who, more, (await send(who, more)).status]).toEqual([who, more, status]);
    expect(await room.db('all_posts').count()).toEqual(before);
    const key = randomUUID();
    const { body } = await send('chief', { key });
    await room.db('captures').where({ key }).update({ post_id: null });
    expect((await send('chief', { key })).status).toBe(410);
    expect(body.id).toBeGreaterThan(0);
  });
});
