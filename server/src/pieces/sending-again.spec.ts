import type { RolloutView, SendWhole } from '@keyroster/contract';
import { eventually, jobsDone } from '../testing/newsroom.js';
import { sendPiece, planOverdueSends } from './send.js';
import {
  standins,
  room,
  outlets,
  USUAL,
  call,
  published,
  make,
  rollout,
  piece,
  approve,
  became,
  useOutlets,
} from '../outlets/testing.js';

useOutlets();

describe('a piece on its way', () => {
  it('that loses the answer is asked again by its key, and nothing doubles', async () => {
    const id = await published('Lost and found');
    const made = await make(id, 'short post', 'towline');
    standins.store.behave('towline', { ...USUAL, losesAnswers: true });
    await approve(made.id);
    await eventually(async () => standins.store.of('towline').some((r) => r.text === made.parts[0]));
    standins.store.behave('towline', USUAL);
    const sent = await became(id, made.id, 'sent');
    expect(standins.store.of('towline').filter((r) => r.text === made.parts[0])).toHaveLength(1);
    const { log } = (await call('chief', 'get', `/api/sends/${sent.send!.id}`)).body as SendWhole;
    expect(log.map((l) => l.outcome)).toEqual(['unsure', 'sent']);
  });

  it('where the outlet cannot tell, says that it may have been sent, and asks a person', async () => {
    const id = await published('Perhaps');
    const made = await make(id, 'short post', 'porthole');
    standins.store.behave('porthole', { ...USUAL, losesAnswers: true });
    await approve(made.id);
    const unsure = await became(id, made.id, 'unsure');
    expect(unsure.send!.error).toMatch(/hung up before it answered/);
    standins.store.behave('porthole', USUAL);
    await planOverdueSends(room.db);
    await jobsDone(room);
    expect(standins.store.of('porthole').filter((r) => r.text === made.parts[0])).toHaveLength(1);
    expect(
      (await call('writer', 'post', `/api/sends/${unsure.send!.id}/answer`, { there: true })).status,
    ).toBe(403);
    const said = (await call('chief', 'post', `/api/sends/${unsure.send!.id}/answer`, { there: true }))
      .body as SendWhole;
    expect([said.state, said.log.at(-1)!.sentence]).toEqual(['sent', 'chief Test looked: it is there.']);
    expect(
      (await call('chief', 'post', `/api/sends/${unsure.send!.id}/answer`, { there: false })).status,
    ).toBe(400);
  });

  it('goes on with a thread after the part that was in doubt', async () => {
    const id = await published('Unravelled');
    const made = await make(id, 'thread', 'porthole');
    expect(made.parts.length).toBeGreaterThan(1);
    standins.store.behave('porthole', { ...USUAL, losesAnswers: true });
    await approve(made.id);
    const unsure = await became(id, made.id, 'unsure');
    standins.store.behave('porthole', USUAL);
    await call('chief', 'post', `/api/sends/${unsure.send!.id}/answer`, { there: true });
    await became(id, made.id, 'sent');
    expect(
      standins.store
        .of('porthole')
        .filter((r) => made.parts.includes(r.text))
        .map((r) => r.text),
    ).toEqual(made.parts);
  });

  it(
    'waits when it is told to slow down or the outlet is out of order, and refuses what ' +
      'a person must fix',
    async () => {
      const id = await published('Slow water');
      const [slow, wrong, away] = [
        await make(id, 'short post', 'towline', { instruction: 'without link' }),
        await make(id, 'short post', 'slipway'),
        await make(id, 'short post', 'ropewalk'),
      ];
      standins.store.behave('towline', { ...USUAL, answer: 'broken' });
      standins.store.behave('slipway', { ...USUAL, answer: 'unauthorised' });
      standins.store.behave('ropewalk', { ...USUAL, answer: 'elsewhere' });
      await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
      const [refused, led] = [await became(id, wrong.id, 'failed'), await became(id, away.id, 'failed')];
      expect([refused.send!.error, led.send!.error]).toEqual([
        'Slipway does not accept the credentials (401).',
        'Ropewalk Stores leads elsewhere, to http://10.0.0.1/inside. That is not followed; ' +
          'correct the outlet’s address if it moved.',
      ]);
      const waits = await eventually(async () => {
        const p = await piece(id, slow.id);
        return p.send?.error ? p : null;
      });
      expect([waits.send!.state, waits.send!.error]).toEqual([
        'waiting',
        'Towline is out of order (503); whether it took the piece is not known. It is asked again by its key.',
      ]);
      for (const slug of ['towline', 'slipway', 'ropewalk']) standins.store.behave(slug, USUAL);
      for (const p of [slow, wrong])
        await call('chief', 'post', `/api/sends/${(await piece(id, p.id)).send!.id}/again`, {});
      await Promise.all([slow, wrong].map((p) => became(id, p.id, 'sent')));
      expect(standins.store.of('towline').filter((r) => r.text === slow.parts[0])).toHaveLength(1);
    },
  );

  it('stops at the switch and at a paused outlet, and goes on after', async () => {
    const id = await published('Paused');
    const [a, b] = [await make(id, 'short post', 'towline'), await make(id, 'short post', 'slipway')];
    expect((await call('writer', 'put', '/api/sending', { stopped: true })).status).toBe(403);
    expect((await call('editor', 'put', '/api/sending', { stopped: true })).body).toMatchObject({
      stopped: true,
      by: 'editor Test',
    });
    await call('editor', 'patch', `/api/outlets/${outlets.get('slipway')!.id}`, { paused: true });
    expect(
      (await call('editor', 'patch', `/api/outlets/${outlets.get('slipway')!.id}`, { name: 'Mine' })).status,
    ).toBe(403);
    await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    await jobsDone(room);
    expect((await rollout(id)).pieces.map((p) => p.send!.state)).toEqual(['waiting', 'waiting']);
    await call('editor', 'put', '/api/sending', { stopped: false });
    await became(id, a.id, 'sent');
    expect((await piece(id, b.id)).send!.state).toBe('waiting');
    await call('editor', 'patch', `/api/outlets/${outlets.get('slipway')!.id}`, { paused: false });
    await became(id, b.id, 'sent');
  });

  it('keeps to the outlet’s pace', async () => {
    const id = await published('Paced');
    await call('chief', 'patch', `/api/outlets/${outlets.get('ropewalk')!.id}`, {
      limits: { ...outlets.get('ropewalk')!.limits, perHour: 1 },
    });
    await room
      .db('sends')
      .where({ outlet_id: outlets.get('ropewalk')!.id, state: 'sent' })
      .update({ sent_at: room.db.raw(`now() - interval '2 hours'`) });
    const [a, b] = [await make(id, 'short post', 'ropewalk'), await make(id, 'question', 'ropewalk')];
    expect(new Set((await rollout(id)).clashes.map((c) => c.what))).toEqual(new Set(['hour']));
    await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    await eventually(async () => (await rollout(id)).pieces.some((p) => p.send!.state === 'sent'));
    const other = await eventually(async () =>
      (await rollout(id)).pieces.find((p) => p.send!.state === 'waiting' && p.send!.nextAt),
    );
    expect(Date.parse(other!.send!.nextAt!)).toBeGreaterThan(Date.now() + 3_500_000);
    expect([a.id, b.id]).toContain(other!.id);
    const spread = (await call('chief', 'post', `/api/posts/${id}/rollout/spread`, {})).body as RolloutView;
    expect(spread.clashes).toEqual([]);
  });

  it('killed between the call and its answer is not sent twice', async () => {
    const id = await published('Killed');
    const [known, unknown] = [
      await make(id, 'short post', 'slipway'),
      await make(id, 'short post', 'porthole'),
    ];
    await call('chief', 'put', '/api/sending', { stopped: true });
    await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    // As a process leaves them that died after the outlet took the piece.
    for (const p of [known, unknown]) {
      const send = (await piece(id, p.id)).send!;
      const { key } = (await room.db('sends').where({ id: send.id }).first<{ key: string }>('key'))!;
      standins.store.add({
        outlet: p === known ? 'slipway' : 'porthole',
        key: `"${key}-1"`,
        title: '',
        text: p.parts[0]!,
        html: '',
        tags: [],
        photos: [],
        replyTo: '',
        link: '',
      });
      await room
        .db('sends')
        .where({ id: send.id })
        .update({ state: 'sending', claimed_at: room.db.raw(`now() - interval '5 minutes'`) });
    }
    await call('chief', 'put', '/api/sending', { stopped: false });
    await planOverdueSends(room.db);
    await became(id, known.id, 'sent');
    expect((await piece(id, unknown.id)).send).toMatchObject({
      state: 'unsure',
      error: 'The newsroom stopped while it was being sent. It may have been sent.',
    });
    expect(
      [standins.store.of('slipway'), standins.store.of('porthole')].map(
        (l) => l.filter((r) => [known.parts[0], unknown.parts[0]].includes(r.text)).length,
      ),
    ).toEqual([1, 1]);
    await Promise.all([
      sendPiece(room.db, (await piece(id, known.id)).send!.id, room.running.services.settings),
      sendPiece(room.db, (await piece(id, known.id)).send!.id, room.running.services.settings),
    ]);
    expect(standins.store.of('slipway').filter((r) => r.text === known.parts[0])).toHaveLength(1);
  });
});
