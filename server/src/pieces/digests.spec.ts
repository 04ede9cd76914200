import type { ApprovedRollout, PiecesMade } from '@keyroster/contract';
import { eventually } from '../testing/newsroom.js';
import {
  approve,
  became,
  call,
  make,
  outlets,
  published,
  room,
  standins,
  useOutlets,
} from '../outlets/testing.js';

useOutlets();

const ask = (more: object) => ({
  kind: 'short post',
  outletId: outlets.get('towline')!.id,
  instruction: '',
  style: 'wedge',
  shape: 'square',
  timing: { kind: 'same hour', minutes: 0 },
  ...more,
});

describe('a digest', () => {
  it('tells of no post that is gone', async () => {
    const id = await published('Tells of what is gone');
    const answer = await call('chief', 'post', `/api/posts/${id}/pieces`, {
      asks: [ask({ kind: 'digest', outletId: outlets.get('friday-letter')!.id, otherIds: [999_999] })],
    });
    expect([answer.status, answer.body.detail]).toEqual([
      400,
      'A post that it tells of is no longer there. Choose others.',
    ]);
  });

  it('goes out with none that everybody may not read, at its approval and when it is due', async () => {
    const id = await published('Tells of others');
    const other = await published('For members from now on');
    const made = await make(id, 'digest', 'friday-letter', { otherIds: [other] });
    await room.change('chief', other, { access: 'members' });
    const refused = await approve(made.id);
    expect([refused.status, refused.body.detail]).toEqual([
      400,
      'It tells of “For members from now on”. Its post is for members only; nothing of it goes out.',
    ]);
    // All at once lets the others go, and says why this one stays.
    const short = await make(id, 'short post', 'towline');
    const all = await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    expect((all.body as ApprovedRollout).staying).toEqual([
      { pieceId: made.id, sentence: refused.body.detail },
    ]);
    await became(id, short.id, 'sent');
    await room.change('chief', other, { access: 'everyone' });
    // What is to come out yet may be told of, as long as it is out in time.
    const coming = await room.cleared('Comes out too late');
    const early = await make(id, 'digest', 'friday-letter', { otherIds: [other, coming.id] });
    expect((await approve(early.id)).status).toBe(200);
    expect((await became(id, early.id, 'stopped')).send!.error).toBe(
      'It tells of “Comes out too late”. Its post is not published.',
    );
    expect((await approve(made.id)).status).toBe(200);
    await became(id, made.id, 'sent');
    const there = standins.store.of('friday-letter').map((r) => r.text);
    expect(there.filter((t) => t.includes('For members from now on'))).toHaveLength(1);
    expect(there.join()).not.toContain('Comes out too late');
  });

  it('leaves its feed with any of its posts', async () => {
    const id = await published('In the feed with another');
    const other = await published('Withdrawn after the digest');
    const made = await make(id, 'digest', 'chandlers-row', { otherIds: [other] });
    await approve(made.id);
    await became(id, made.id, 'sent');
    const feed = async () => (await fetch(outlets.get('chandlers-row')!.feeds!.json)).text();
    expect(await feed()).toContain('Withdrawn after the digest');
    await room.move('chief', other, { to: 'withdrawn', note: 'A mistake.' });
    await eventually(async () => !(await feed()).includes('Withdrawn after the digest'));
  });
});

describe('the pieces of a post', () => {
  it('are 120 at most, also for two who make some at once', async () => {
    const id = await published('Of which very much is made');
    const twenty = Array.from({ length: 20 }, () => ask({ timing: { kind: 'next month', time: '09:00' } }));
    for (let i = 0; i < 5; i++)
      expect((await call('chief', 'post', `/api/posts/${id}/pieces`, { asks: twenty })).status).toBe(201);
    const both = await Promise.all(
      (['chief', 'editor'] as const).map((who) =>
        call(who, 'post', `/api/posts/${id}/pieces`, { asks: twenty }),
      ),
    );
    expect(both.map((b) => b.status).sort()).toEqual([201, 400]);
    expect(both.find((b) => b.status === 400)!.body.detail).toBe('A post has 120 pieces at most.');
    expect((both.find((b) => b.status === 201)!.body as PiecesMade).made).toHaveLength(20);
    expect(await room.db('pieces').where({ post_id: id })).toHaveLength(120);
  });
});
