import type { OutletView, PieceView, RolloutView } from '@keyroster/contract';
import { addDays, wallTimeOf } from '@keyroster/core';
import { clockOf } from '../slots/clock.js';
import { release } from '../posts/release.js';
import { Newsroom, fromNow, type Who } from '../testing/newsroom.js';

describe('hours in which an outlet does best', () => {
  let room: Newsroom;
  let towline: number;
  let postId: number;
  beforeAll(async () => {
    room = await Newsroom.make();
    const [outlet] = await room
      .db('outlets')
      .insert({
        ...{ blog_id: 1, name: 'Towline', slug: 'towline', kind: 'short-post network', protocol: 'micropub' },
        limits: JSON.stringify({
          length: { max: 300, unit: 'graphemes', linkCost: null },
          links: true,
          tags: 3,
        }),
      })
      .returning<Pick<OutletView, 'id'>[]>('id');
    towline = outlet!.id;
    const { today } = await clockOf(room.db, 1);
    const sentOf = await room.scheduled(fromNow(-1), 'Sent before');
    await release(room.db, sentOf.id);
    // Twelve at eight, seen by few; twelve at noon, seen by many.
    for (let i = 0; i < 24; i++) {
      const [piece] = await room
        .db('pieces')
        .insert({
          ...{
            blog_id: 1,
            post_id: sentOf.id,
            outlet_id: towline,
            kind: 'short post',
            source_version: 1,
            parts: ['Out.'],
          },
          timing: JSON.stringify({ kind: 'next day', time: '08:00' }),
        })
        .returning<{ id: number }[]>('id');
      const local = `${addDays(today, -30 + Math.floor(i / 2))}T${i % 2 === 0 ? '08' : '12'}:10:00`;
      const [send] = await room
        .db('sends')
        .insert({
          ...{ blog_id: 1, piece_id: piece!.id, outlet_id: towline, state: 'sent' },
          sent_at: room.db.raw(`?::timestamp at time zone (select zone from blogs where id = 1)`, [local]),
        })
        .returning<{ id: number }[]>('id');
      await room.db('piece_figures').insert({
        ...{ send_id: send!.id, day: today, passed_on: 0, replies: 0, clicks: 0 },
        seen: i % 2 === 0 ? 40 + i : 400 + i,
      });
    }
    postId = (await room.cleared('Comes out later')).id;
    await room.move('editor', postId, { to: 'scheduled', runAt: fromNow(5 * 86_400) });
  });
  afterAll(() => room.close());

  const rollout = async (who: Who = 'editor'): Promise<RolloutView> =>
    (await (await room.as(who)).get(`/api/posts/${postId}/rollout`)).body;
  const times = async (pieces: readonly Pick<PieceView, 'id'>[], time: string, who: Who = 'editor') =>
    (await room.as(who)).put(`/api/posts/${postId}/rollout/times`).send({
      times: pieces.map((p) => ({ pieceId: p.id, timing: { kind: 'next day', time } })),
    });

  it('are proposed where pieces go out at another, used for all at once, and given back', async () => {
    const ask = { kind: 'short post', outletId: towline, instruction: '', style: 'wedge', shape: 'square' };
    const made = await (await room.as('editor')).post(`/api/posts/${postId}/pieces`).send({
      asks: [
        { ...ask, timing: { kind: 'next day', time: '08:15' } },
        { ...ask, timing: { kind: 'next week', time: '12:30' } },
        { ...ask, timing: { kind: 'same hour', minutes: 0 } },
      ],
    });
    expect(made.body.refused).toEqual([]);
    const view = await rollout();
    expect(view.hours).toEqual([{ outletId: towline, outlet: 'Towline', hours: [{ hour: 12, count: 12 }] }]);
    expect(view.better).toEqual([
      {
        pieceId: view.pieces.find((p) => p.timing.kind === 'next day')!.id,
        timing: { kind: 'next day', time: '12:00' },
        sentence: 'Short post for Towline, next day at 08:15: seen most at 12:00 (12 pieces).',
      },
    ]);
    const after = await times([{ id: view.better[0]!.pieceId }], '12:00');
    expect(after.status).toBe(200);
    const moved = (after.body as RolloutView).pieces.find((p) => p.id === view.better[0]!.pieceId)!;
    expect([moved.dueLocal?.slice(11), (after.body as RolloutView).better]).toEqual(['12:00:00', []]);
    expect(moved.dueLocal!.slice(0, 10)).toBe(
      addDays(wallTimeOf((await room.see('chief', postId)).runAt!, 'Europe/London').slice(0, 10), 1),
    );
  });

  it('change all pieces of a post or none, and none of another post', async () => {
    const { pieces } = await rollout();
    const foreign = (await room.db('pieces').whereNot({ post_id: postId }).first<{ id: number }>('id'))!;
    expect((await times([pieces[0]!, { id: 99_999 }], '09:00')).status).toBe(404);
    expect((await times([pieces[0]!, foreign], '09:00')).status).not.toBe(200);
    expect((await rollout()).pieces.map((p) => p.timing)).toEqual(pieces.map((p) => p.timing));
    expect((await times([pieces[0]!], '09:00', 'proofreader')).status).toBe(403);
    // What was approved is the desk's to move: it is not proposed to its writer, and refused.
    await (await room.as('editor')).post(`/api/posts/${postId}/rollout/approval`).send({ approved: true });
    await times(pieces, '08:15');
    expect((await rollout()).better.length).toBeGreaterThan(0);
    expect((await rollout('writer')).better).toEqual([]);
    expect((await times([pieces[0]!], '12:00', 'writer')).status).toBe(403);
  });
});
