import { unpackCards, unpackPlanner, type PackedCards, type PlannerAnswer } from '@keyroster/contract';
import { addDays, wallTimeOf, weekday } from '@keyroster/core';
import { release } from '../posts/release.js';
import { clockOf } from '../slots/clock.js';
import { Newsroom, type Who } from '../testing/newsroom.js';

describe('the planner', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const planner = async (query = '') =>
    unpackPlanner((await (await room.as('editor')).get(`/api/planner${query}`)).body as PlannerAnswer);
  const placed = async (title: string, runAt: string, more = {}) => {
    const post = await room.pitch('chief', title, { categoryId: 1, ...more });
    await room.move('chief', post.id, { to: 'commissioned', runAt });
    return post.id;
  };

  it('shows the asked weeks from their first day, with posts, slots and the tray', async () => {
    const id = await placed('On a Monday', '2031-01-06T08:00');
    const pitch = await room.pitch('chief', 'Waiting');
    const view = await planner('?from=2031-01-08&weeks=2');
    expect([view.from, view.to]).toEqual(['2031-01-06', '2031-01-19']);
    expect(view.dated.map((p) => p.id)).toEqual([id]);
    expect(view.slots.map((s) => s.date)).toEqual(['2031-01-06', '2031-01-13']);
    expect(view.pitches.map((p) => p.id)).toContain(pitch.id);
    expect((await (await room.as('editor')).get('/api/planner?weeks=13')).status).toBe(400);
    expect((await (await room.as('editor')).get('/api/planner?surprise=1')).status).toBe(400);
  });

  it('tells how often published posts were read, to those who see results', async () => {
    const { today } = await clockOf(room.db, 1);
    const out = await room.scheduled(`${addDays(today, -1)}T08:00`, 'Out yesterday');
    await release(room.db, out.id);
    await room.db('post_reads').insert({ post_id: out.id, day: addDays(today, -1), reads: 40 });
    await room.db('post_reads').insert({ post_id: out.id, day: today, reads: 2 });
    const open = await placed('Not out', `${addDays(today, 9)}T08:00`);
    const reads = async (who: Who) => {
      const view = unpackPlanner(
        (await (await room.as(who)).get(`/api/planner?from=${addDays(today, -7)}`)).body as PlannerAnswer,
      );
      return new Map(view.dated.map((p) => [p.id, p.reads]));
    };
    const told = await reads('editor');
    expect([told.get(out.id), told.get(open)]).toEqual([42, null]);
    expect((await reads('proofreader')).get(out.id)).toBeNull();
    // Neither stands in the way of what is counted below, whatever day it is.
    await room.db('all_posts').whereIn('id', [out.id, open]).update({ binned_at: room.db.fn.now() });
  });

  it('begins weeks on the day that is set', async () => {
    await (await room.as('chief')).patch('/api/blog').send({ firstWeekday: 7 });
    expect((await planner('?from=2031-01-08&weeks=1')).from).toBe('2031-01-05');
    await (await room.as('chief')).patch('/api/blog').send({ firstWeekday: 1 });
  });

  it('lists what is late and sweeps the hopeless back, all or none', async () => {
    const gone = await placed('Never written', '2020-01-06T08:00');
    const other = await placed('Never begun', '2020-01-07T08:00');
    const coming = await placed('Time enough', '2031-02-03T08:00');
    expect((await planner()).late.map((p) => p.id)).toEqual([gone, other]);
    const editor = await room.as('editor');
    const refused = await editor.post('/api/planner/sweep').send({ postIds: [gone, coming] });
    expect(refused.body).toMatchObject({
      code: 'no-such-move',
      detail: '“Time enough” can still make its date. Nothing was returned.',
    });
    expect((await room.see('chief', gone)).stage).toBe('commissioned');
    expect(
      (await (await room.as('writer')).post('/api/planner/sweep').send({ postIds: [gone] })).status,
    ).toBe(403);
    expect(
      (await (await room.as('otherEditor')).post('/api/planner/sweep').send({ postIds: [gone] })).status,
    ).toBe(403);
    const swept = await editor.post('/api/planner/sweep').send({ postIds: [gone, other] });
    expect(swept.body.sentence).toBe('2 late posts returned to the tray.');
    expect(await room.see('chief', gone)).toMatchObject({ stage: 'pitch', runAt: null });
    expect((await planner()).late).toEqual([]);
    // One request undoes it: every post is where it was, and what was changed since stays so.
    await room.change('chief', other, { campaign: 'Winter' });
    const undone = await editor.post(`/api/batches/${swept.body.batchId}/undo`).send({});
    expect([undone.status, undone.body.state, undone.body.counts.changes]).toEqual([201, 'applied', 2]);
    for (const [id, runLocal] of [
      [gone, '2020-01-06T08:00:00'],
      [other, '2020-01-07T08:00:00'],
    ] as const)
      expect(await room.see('chief', id)).toMatchObject({ stage: 'commissioned', runLocal });
    expect((await room.see('chief', other)).campaign).toBe('Winter');
    expect((await editor.post(`/api/batches/${swept.body.batchId}/undo`).send({})).status).toBe(400);
    await editor.post('/api/planner/sweep').send({ postIds: [gone, other] });
  });

  it('counts the runway and what needs a person', async () => {
    const chief = await room.as('chief');
    const { body } = await chief.get('/api/runway');
    expect(body.runway.days).toHaveLength(21);
    expect(body.headline).toBe('Not covered yet');
    // Mondays at eight in the blog's zone, of today and the twenty days after it; today's only until eight.
    const now = wallTimeOf(new Date().toISOString(), 'Europe/London');
    const mondays = Array.from({ length: 21 }, (_, i) => addDays(now.slice(0, 10), i)).filter(
      (date) => weekday(date) === 1 && `${date}T08:00:00` > now,
    );
    expect(body.runway.openSlots).toBe(mondays.length);
    const late = await placed('Late copy', '2031-03-03T08:00', { bylineId: room.ids.writer });
    await room.change('chief', late, { brief: { angle: '', length: null, copyDate: '2020-01-01' } });
    expect((await (await room.as('writer')).get('/api/today')).body.needs).toMatchObject([
      { kind: 'write', postId: late, late: true },
    ]);
    expect((await chief.get('/api/today')).body.needs.map((n: { kind: string }) => n.kind)).toContain('late');
  });

  it('finds posts by words and people by name, whatever is typed', async () => {
    const chief = await room.as('chief');
    expect((await chief.get('/api/find').query({ words: 'waiting' })).body.posts[0].title).toBe('Waiting');
    expect(
      (await chief.get('/api/find').query({ words: 'writer' })).body.people.map(
        (p: { name: string }) => p.name,
      ),
    ).toEqual(['otherWriter Test', 'writer Test']);
    for (const words of ['%', '_', '\\\\', "'", '"', '!&|', '(', ' - ', '\u{1F6A4}'])
      expect((await chief.get('/api/find').query({ words })).status).toBeLessThan(500);
    expect((await chief.get('/api/find')).status).toBe(400);
  });

  it('gives a few cards anew by id, and to a proofreader only what they are put on', async () => {
    const seen = await placed('Read by the proofreader', '2031-05-05T08:00', { bylineId: room.ids.writer });
    const other = await placed('Not theirs', '2031-05-06T08:00');
    await room.change('chief', seen, { proofreaderId: room.ids.proofreader });
    const cards = async (who: 'chief' | 'proofreader', ids: string) =>
      await (await room.as(who)).get(`/api/planner/cards?ids=${ids}`);
    expect(
      unpackCards((await cards('chief', `${seen},${other},99999`)).body as PackedCards)
        .map((c) => c.id)
        .sort(),
    ).toEqual([seen, other].sort());
    expect(unpackCards((await cards('proofreader', `${seen},${other}`)).body as PackedCards)).toMatchObject([
      { id: seen, byline: { name: 'writer Test' } },
    ]);
    const view = unpackPlanner(
      (await (await room.as('proofreader')).get('/api/planner?from=2031-05-05&weeks=1'))
        .body as PlannerAnswer,
    );
    expect([view.dated.map((p) => p.id), view.pitches]).toEqual([[seen], []]);
    for (const ids of ['', 'x', '0', Array.from({ length: 51 }, (_, i) => i + 1).join(',')])
      expect((await cards('chief', ids)).status).toBe(400);
  });

  it('lets one of two who move a card at once win, and tells the other what changed', async () => {
    const id = await placed('Wanted by two', '2031-06-02T08:00');
    const { version } = await room.see('chief', id);
    const answers = await Promise.all([
      room.change('chief', id, { runAt: '2031-06-03T08:00' }, version),
      room.change('editor', id, { runAt: '2031-06-04T08:00' }, version),
    ]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 412]);
    const won = answers.find((a) => a.status === 200)!.body as { post: { runLocal: string } };
    expect(answers.find((a) => a.status === 412)!.body).toMatchObject({
      code: 'version-conflict',
      changed: ['run'],
    });
    expect((await room.see('chief', id)).runLocal).toBe(won.post.runLocal);
  });

  it('shows the whole of a full span: what is sent packed is what the posts say', async () => {
    const before = unpackPlanner(
      (await (await room.as('chief')).get('/api/planner?from=2032-01-05&weeks=12')).body as PlannerAnswer,
    ).dated.length;
    await room.db.raw(
      `
        insert into
          posts (
            blog_id,
            stage,
            title,
            category_id,
            byline_id,
            body,
            run_local,
            run_zone,
            run_at,
            copy_date
          )
        select
          1,
          'drafting',
          'Number ' || n || ' "quoted" \\ ☂',
          1,
          ?,
          '{"type":"doc","content":[{"type":"paragraph"}]}',
          at,
          'Europe/London',
          at at time zone 'Europe/London',
          at::date - 3
        from
          (
            select
              n,
              timestamp '2032-01-05 08:00' + (n % 84) * interval '1 day' as at
            from
              generate_series(1, 2000) n
          ) s
      `,
      [room.ids.writer],
    );
    const view = unpackPlanner(
      (await (await room.as('chief')).get('/api/planner?from=2032-01-05&weeks=12')).body as PlannerAnswer,
    );
    expect(view.dated).toHaveLength(before + 2000);
    expect(view.dated.every((p, i, all) => i === 0 || all[i - 1]!.runLocal! <= p.runLocal!)).toBe(true);
    const one = view.dated.find((p) => p.title.startsWith('Number 77 '))!;
    const whole = await room.see('chief', one.id);
    const same = [
      'version',
      'stage',
      'title',
      'thought',
      'excerpt',
      'categoryId',
      'runLocal',
      'copyDate',
      'words',
      'dateConstraint',
      'rating',
      'openNotes',
      'byline',
    ] as const;
    expect(Object.fromEntries(same.map((k) => [k, one[k]]))).toEqual(
      Object.fromEntries(same.map((k) => [k, whole[k]])),
    );
  });
});
