import {
  addDays,
  NO_WISHES,
  problemFor,
  propose,
  slotKey,
  type PlanFacts,
  type PlanTask,
} from '@keyroster/core';
import type { PlanAccepted } from '@keyroster/contract';
import { clockOf } from '../slots/clock.js';
import { Newsroom, type Who } from '../testing/newsroom.js';

describe('a plan', () => {
  let room: Newsroom;
  let span: { from: string; to: string };
  beforeAll(async () => {
    room = await Newsroom.make();
    const { today } = await clockOf(room.db, 1);
    span = { from: addDays(today, 14), to: addDays(today, 14 + 27) };
  });
  afterAll(() => room.close());

  const facts = async (who: Who = 'chief') =>
    (await (await room.as(who)).get(`/api/plan?from=${span.from}&to=${span.to}`)).body as PlanFacts;
  const accept = async (who: Who, places: object[], more: object = {}) => {
    const task: PlanTask = { kind: 'fill', ...span };
    return (await room.as(who)).post('/api/plan').send({ task, places, ...more });
  };
  const planned = async (who: Who = 'chief') => {
    const problem = problemFor(await facts(who), { kind: 'fill', ...span }, NO_WISHES);
    return [...propose(problem)]
      .at(-1)!
      .placings.map(({ pitchId, slot, writerId }) => ({ postId: pitchId, slot, writerId }));
  };
  const stages = async (ids: number[]) =>
    Promise.all(ids.map(async (id) => (await room.see('chief', id)).stage));

  it('is accepted as one batch, which can be undone', async () => {
    const ids = [
      (await room.pitch('chief', 'Weirs in frost')).id,
      (await room.pitch('chief', 'Stoves at dawn')).id,
    ];
    const places = await planned();
    expect(places.map((p) => p.postId).sort()).toEqual(ids);
    const done = await accept('chief', places);
    expect([done.status, done.body.sentence, done.body.misfits]).toEqual([
      200,
      '2 pitches commissioned by the plan.',
      [],
    ]);
    expect(await stages(ids)).toEqual(['commissioned', 'commissioned']);
    const problem = problemFor(await facts(), { kind: 'fill', ...span }, NO_WISHES);
    for (const { postId, slot, writerId } of places) {
      const post = await room.see('chief', postId);
      const date = slot.split('|')[1]!;
      expect([post.runLocal, post.byline?.id]).toEqual([`${date}T08:00:00`, writerId]);
      // Two days for the review and one before the run time, by what is usual (worked by hand).
      expect(post.brief.copyDate).toBe(addDays(date, -3));
      expect(problem.slots.map(slotKey)).not.toContain(slot);
    }
    const undone = await (await room.as('chief')).post(`/api/batches/${done.body.batchId}/undo`).send({});
    expect(undone.status).toBe(201);
    expect(await stages(ids)).toEqual(['pitch', 'pitch']);
    expect((await room.see('chief', ids[0]!)).byline).toBeNull();
  });

  it('says what no longer fits, changes nothing, and then leaves that out', async () => {
    const places = await planned();
    const [first, second] = places as [(typeof places)[0], (typeof places)[0]];
    // Meanwhile somebody else puts a post of their own into the first slot.
    const other = await room.pitch('chief', 'Something else');
    await room.move('chief', other.id, {
      to: 'commissioned',
      runAt: `${first.slot.split('|')[1]!}T08:00`,
    });
    const refused = (await accept('chief', places)).body as PlanAccepted;
    expect(refused).toMatchObject({
      batchId: null,
      sentence: '1 of 2 no longer fits. Nothing was changed yet.',
      misfits: [
        { postId: first.postId, why: expect.stringContaining('the slot is not open any more') as string },
      ],
    });
    expect(await stages([first.postId, second.postId])).toEqual(['pitch', 'pitch']);
    const rest = (await accept('chief', places, { leaveMisfits: true })).body as PlanAccepted;
    expect([rest.sentence, rest.misfits.length]).toEqual(['1 pitch commissioned by the plan.', 1]);
    expect(await stages([first.postId, second.postId])).toEqual(['pitch', 'commissioned']);
    const none = (await accept('chief', [first])).body as PlanAccepted;
    expect(none).toMatchObject({
      batchId: null,
      sentence: 'Nothing of the plan fits any more. Nothing was changed.',
    });
    await room.move('chief', second.postId, { to: 'pitch' });
  });

  it('gives one slot to one of two who accept at once', async () => {
    const places = (await planned()).slice(0, 1);
    const others = [{ ...places[0]!, postId: (await room.pitch('chief', 'A rival')).id }];
    const answers = await Promise.all([accept('chief', places), accept('chief', others)]);
    const batches = answers.map((a) => (a.body as PlanAccepted).batchId);
    expect(batches.filter((b) => b === null)).toHaveLength(1);
    expect((await stages([places[0]!.postId, others[0]!.postId])).sort()).toEqual(['commissioned', 'pitch']);
    for (const id of [places[0]!.postId, others[0]!.postId]) await room.move('chief', id, { to: 'pitch' });
  });

  it('respects who is away, who is full, and what they write', async () => {
    const { writers } = await facts();
    const all = writers.map((w) => w.id);
    await room.db('memberships').whereIn('person_id', all).update({ capacity: 0 });
    expect(await planned()).toEqual([]);
    await room.db('memberships').where({ person_id: room.ids.writer }).update({ capacity: 1 });
    expect(new Set((await planned()).map((p) => p.writerId))).toEqual(new Set([room.ids.writer]));
    await room.db('writer_categories').insert({ blog_id: 1, person_id: room.ids.writer, category_id: 2 });
    expect(await planned()).toEqual([]);
    await room.db('writer_categories').delete();
    await room.db('absences').insert({
      blog_id: 1,
      person_id: room.ids.writer,
      from_date: addDays(span.from, -30),
      to_date: span.to,
    });
    expect(await planned()).toEqual([]);
    await room.db('absences').delete();
    await room.db('memberships').update({ capacity: null });
  });

  it('is an editor’s for their categories, and nobody else’s', async () => {
    const mine = await facts('editor');
    expect(mine.deskFor).toEqual([1]);
    expect((await facts('otherEditor')).pitches.every((p) => p.categoryId === null)).toBe(true);
    expect(await planned('otherEditor')).toEqual([]);
    // What the other editor may not plan is not theirs to accept either, whatever they send.
    const places = await planned('editor');
    const refused = (await accept('otherEditor', places)).body as PlanAccepted;
    expect(refused.batchId).toBeNull();
    expect(await stages(places.map((p) => p.postId))).toEqual(places.map(() => 'pitch'));
    for (const who of ['writer', 'proofreader', 'reader'] as const) {
      expect((await (await room.as(who)).get(`/api/plan?from=${span.from}&to=${span.to}`)).status).toBe(403);
      expect((await accept(who, places)).status).toBe(403);
    }
  });

  it('refuses days that are none', async () => {
    const ask = async (query: string) => (await room.as('chief')).get(`/api/plan?${query}`);
    expect((await ask('from=2026-12-10&to=2026-12-01')).body.detail).toContain(
      'The last day is before the first.',
    );
    expect((await ask('from=2026-01-01&to=2028-12-01')).status).toBe(400);
    expect((await ask('from=2026-13-45&to=2026-12-01')).status).toBe(400);
    expect((await accept('chief', [{ postId: 1, slot: 'x', writerId: 1 }])).status).toBe(400);
  });

  it('finds the smallest change when a writer drops out, and makes it', async () => {
    const task: PlanTask = { kind: 'without', writerId: room.ids.writer, ...span };
    const { slots } = await facts();
    const day = slots.find((s) => s.date >= addDays(span.from, 7))!.date;
    const post = await room.pitch('chief', 'Left behind', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', post.id, { to: 'commissioned', runAt: `${day}T08:00` });
    const problem = problemFor(await facts(), task, NO_WISHES);
    const { placings } = [...propose(problem)].at(-1)!;
    const found = placings.find((p) => p.pitchId === post.id)!;
    expect(found.writerId).not.toBe(room.ids.writer);
    const places = [{ postId: post.id, slot: found.slot, writerId: found.writerId }];
    const send = async () => (await room.as('chief')).post('/api/plan').send({ task, places });
    const done = await send();
    expect(done.body.sentence).toBe('1 post changed hands or days.');
    const after = await room.see('chief', post.id);
    expect([after.runLocal, after.byline?.id, after.stage]).toEqual([
      `${day}T08:00:00`,
      found.writerId,
      'commissioned',
    ]);
  });
});
