import { randomBytes } from 'node:crypto';
import sharp from 'sharp';
import type { MediaView, MediaWhole } from '@keyroster/contract';
import { batchHands } from '../testing/batch-hands.js';
import { Newsroom } from '../testing/newsroom.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());
const { see, preview, apply, revert, drafts } = batchHands(() => room);

describe('a batch that lightens lead pictures', () => {
  const noise = (size: number) =>
    sharp(randomBytes(size * size * 3), { raw: { width: size, height: size, channels: 3 } });
  const add = async (bytes: Buffer) =>
    (await (await room.as('chief')).post('/api/media').attach('file', bytes, 'lock.jpg')).body as MediaView;

  const lead = async (id: number, media: MediaView, alt: string) =>
    (await room.as('chief'))
      .patch(`/api/posts/${id}`)
      .set('If-Match', String((await see(id)).version))
      .send({ leadPicture: { media: media.id, alt } });

  it('keeps the heavy ones, says what it leaves, and is taken back', async () => {
    const ids = await drafts(3, 'Pictured');
    const heavy = await add(await noise(900).jpeg({ quality: 95 }).toBuffer());
    expect(heavy.size).toBeGreaterThan(400_000);
    const light = await add(await noise(60).jpeg().toBuffer());
    for (const [at, media] of [heavy, light].entries()) await lead(ids[at]!, media, 'A lock at dusk.');
    const shown = await preview([{ kind: 'lighten', max: 400_000 }], { ids });
    expect(shown).toMatchObject({
      sentence: 'Lead pictures become at most 400 kB',
      counts: { changes: 1, same: 2, refused: 0 },
    });
    expect((await apply(shown.id)).state).toBe('applied');
    const post = await see(ids[0]!);
    const made = (await room.call('chief', 'get', `/api/media/${post.leadPicture!.media}`))
      .body as MediaWhole;
    expect(made.size).toBeLessThanOrEqual(400_000);
    expect(post.leadPicture!.alt).toBe('A lock at dusk.');
    expect(await room.db('media_uses').where({ post_id: ids[0]! }).select('media_id', 'how')).toEqual([
      { media_id: made.id, how: 'lead' },
    ]);
    expect((await revert(shown.id)).state).toBe('applied');
    expect((await see(ids[0]!)).leadPicture!.media).toBe(heavy.id);
    expect(await room.db('media_uses').where({ post_id: ids[0]! }).pluck('media_id')).toEqual([heavy.id]);
  });

  it('writes nothing when a picture cannot be made so light, and names its post', async () => {
    const ids = await drafts(2, 'Too fine');
    const heavy = await add(await noise(2200).jpeg({ quality: 95 }).toBuffer());
    for (const id of ids) await lead(id, heavy, 'Water.');
    const done = await apply(
      (
        await preview(
          [
            { kind: 'lighten', max: 50_000 },
            { kind: 'comments', to: false },
          ],
          { ids },
        )
      ).id,
    );
    expect(done).toMatchObject({
      state: 'failed',
      error:
        '1 lead picture cannot be made so light and still be looked at: that of “Too fine ' +
        '1”. Leave them out, or ask for a little more. Nothing was written.',
    });
    expect(await see(ids[0]!)).toMatchObject({ comments: true, leadPicture: { media: heavy.id } });
  });
});
