import { addDays } from '@keyroster/core';
import type { ChecklistView, ChoreView, NewChecklist, TodayView } from '@keyroster/contract';
import { clockOf } from '../slots/clock.js';
import { fromNow, Newsroom, type Who } from '../testing/newsroom.js';

const item = (text: string, over: object = {}) => ({
  id: null,
  text,
  assignee: 'writer',
  personId: null,
  daysBefore: 3,
  holds: false,
  ...over,
});

describe('checklists', () => {
  let room: Newsroom;
  let today: string;
  beforeAll(async () => {
    room = await Newsroom.make();
    today = (await clockOf(room.db, 1)).today;
  });
  afterAll(() => room.close());
  const add = async (who: Who, over: Partial<Omit<NewChecklist, 'items'>> & { items?: object[] }) =>
    (await room.as(who))
      .post('/api/checklists')
      .send({ name: 'Pictures', formats: [], categories: [], items: [item('Alternative texts')], ...over });
  const chores = async (who: Who, postId: number) =>
    (await (await room.as(who)).get(`/api/posts/${postId}/chores`)).body as ChoreView[];
  const tick = async (who: Who, id: number, done = true) =>
    (await room.as(who)).patch(`/api/chores/${id}`).send({ done });
  const commissioned = async (title: string, more: object = {}) => {
    const post = await room.pitch('chief', title, { categoryId: 1, bylineId: room.ids.writer, ...more });
    await room.move('chief', post.id, { to: 'commissioned', runAt: `${addDays(today, 20)}T08:00` });
    return post.id;
  };

  it('come to posts of their category, with the day that follows the run time', async () => {
    const before = await commissioned('Here before');
    const made = (await add('chief', { name: 'Towpath', categories: [1] })).body as ChecklistView;
    expect(made.items).toMatchObject([{ text: 'Alternative texts', daysBefore: 3, assignee: 'writer' }]);
    const id = await commissioned('Here after');
    for (const post of [before, id])
      expect(await chores('writer', post)).toMatchObject([
        {
          checklist: 'Towpath',
          person: { id: room.ids.writer },
          due: addDays(today, 17),
          done: false,
          rights: { tick: true, change: false },
        },
      ]);
    await room.change('chief', id, { runAt: `${addDays(today, 30)}T08:00` });
    expect((await chores('chief', id))[0]!.due).toBe(addDays(today, 27));
    // Another category, and it is not for the post any more; a pitch has none yet.
    await room.change('chief', id, { categoryId: 2 });
    expect(await chores('chief', id)).toEqual([]);
    await room.change('chief', id, { categoryId: 1 });
    expect(await chores('chief', id)).toHaveLength(1);
    const pitch = await room.pitch('chief', 'Only an idea', { categoryId: 1 });
    expect(await chores('chief', pitch.id)).toEqual([]);
    await (await room.as('chief')).delete(`/api/checklists/${made.id}`);
    expect(await chores('chief', id)).toEqual([]);
  });

  it('keep what is done, and change what is not', async () => {
    const made = (
      await add('editor', { name: 'Proof', categories: [1], items: [item('Read aloud'), item('Names')] })
    ).body as ChecklistView;
    const id = await commissioned('To be proved');
    const [read] = await chores('chief', id);
    expect((await tick('writer', read!.id)).body).toMatchObject({
      done: true,
      doneBy: { id: room.ids.writer },
    });
    const changed = await (await room.as('editor')).put(`/api/checklists/${made.id}`).send({
      ...made,
      ...{ id: undefined, version: undefined },
      items: [
        { ...made.items[0]!, text: 'Read it aloud twice' },
        { ...made.items[1]!, daysBefore: 5, text: 'All names' },
        item('Links', { assignee: 'person', personId: room.ids.proofreader }),
      ],
    });
    expect(changed.status).toBe(200);
    // Who saw it before that does not take away what came since.
    const late = await (
      await room.as('chief')
    )
      .put(`/api/checklists/${made.id}`)
      .set('If-Match', `"${made.version}"`)
      .send({ ...made, id: undefined, version: undefined, name: 'Proofs' });
    expect([late.status, late.body.detail]).toEqual([412, expect.stringContaining('changed this checklist')]);
    const now = await chores('chief', id);
    expect(now.map((c) => [c.text, c.daysBefore, c.done])).toEqual([
      ['All names', 5, false],
      ['Read aloud', 3, true],
      ['Links', 3, false],
    ]);
    await room.change('chief', id, { categoryId: 2 });
    expect((await chores('chief', id)).map((c) => c.text)).toEqual(['Read aloud']);
    await (await room.as('chief')).delete(`/api/checklists/${made.id}`);
  });

  it('hold a post back until what holds it is done', async () => {
    const post = await room.cleared('Held by a chore');
    const desk = await room.as('editor');
    const added = await desk.post(`/api/posts/${post.id}/chores`).send({
      chore: { text: 'Ask the lawyer', assignee: 'editor', personId: null, daysBefore: 2, holds: true },
    });
    expect(added.status).toBe(201);
    const refused = await room.move('editor', post.id, { to: 'scheduled', runAt: fromNow(86_400) });
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      expect.stringContaining('“Ask the lawyer” of its checklist is not done.'),
    ]);
    // In a batch it is the same rule.
    const batch = await desk
      .post('/api/batches')
      .send({ ids: [post.id], changes: [{ kind: 'stage', to: 'scheduled' }] });
    expect(batch.body.counts).toMatchObject({ changes: 0, refused: 1 });
    await tick('editor', (added.body as ChoreView[])[0]!.id);
    expect((await room.move('editor', post.id, { to: 'scheduled', runAt: fromNow(86_400) })).status).toBe(
      200,
    );
  });

  it('hold nothing back that is scheduled already: its promised time is kept', async () => {
    const post = await room.scheduled(fromNow(86_400), 'Promised');
    const desk = await room.as('editor');
    const chore = (holds: boolean) =>
      desk.post(`/api/posts/${post.id}/chores`).send({
        chore: { text: `Holds ${holds}`, assignee: 'editor', personId: null, daysBefore: 2, holds },
      });
    const refused = await chore(true);
    expect([refused.status, refused.body.detail]).toEqual([409, expect.stringContaining('Unschedule it')]);
    const [added] = (await chore(false)).body as ChoreView[];
    expect((await desk.patch(`/api/chores/${added!.id}`).send({ holds: true })).status).toBe(409);
    expect((await desk.patch(`/api/chores/${added!.id}`).send({ done: true })).status).toBe(200);
    // What is done may hold; taken back, it would hold something back.
    expect((await desk.patch(`/api/chores/${added!.id}`).send({ holds: true })).status).toBe(200);
    expect((await desk.patch(`/api/chores/${added!.id}`).send({ done: false })).status).toBe(409);
    const made = (await add('chief', { name: 'Legal', items: [item('Ask'), item('Wait', { holds: true })] }))
      .body as ChecklistView;
    const attach = () => desk.post(`/api/posts/${post.id}/chores`).send({ checklistId: made.id });
    expect((await attach()).status).toBe(409);
    // Nor does a checklist that is changed afterwards.
    await (await room.as('chief')).put(`/api/checklists/${made.id}`).send({
      ...made,
      ...{ id: undefined, version: undefined },
      items: made.items.map((i) => ({ ...i, holds: false })),
    });
    expect((await attach()).status).toBe(201);
    await (
      await room.as('chief')
    )
      .put(`/api/checklists/${made.id}`)
      .send({ ...made, id: undefined, version: undefined });
    expect((await chores('editor', post.id)).filter((c) => c.holds && !c.done)).toEqual([]);
    await (await room.as('chief')).delete(`/api/checklists/${made.id}`);
  });

  it('stand on Today and in one’s calendar, the soonest first, for whoever they fall to', async () => {
    const id = await commissioned('Has chores');
    const desk = await room.as('chief');
    for (const [text, over] of [
      ['Later', { daysBefore: 1 }],
      ['Sooner', { daysBefore: 9 }],
      ['Theirs', { daysBefore: 3, assignee: 'person', personId: room.ids.otherWriter }],
    ] as const)
      await desk
        .post(`/api/posts/${id}/chores`)
        .send({ chore: { text, assignee: 'writer', personId: null, holds: false, ...over } });
    const own = async (who: Who) =>
      ((await (await room.as(who)).get('/api/today')).body as TodayView).chores
        .filter((c) => c.postId === id)
        .map((c) => [c.text, c.due]);
    expect(await own('writer')).toEqual([
      ['Sooner', addDays(today, 11)],
      ['Later', addDays(today, 19)],
    ]);
    expect(await own('otherWriter')).toEqual([['Theirs', addDays(today, 17)]]);
    const made = await (await room.as('writer')).post('/api/calendars').send({ kind: 'copy' });
    const path = new URL((made.body as { address: string }).address).pathname;
    const text = (await room.nobody().get(path)).text.replace(/\r\n[ \t]/g, '');
    expect(text).toContain('SUMMARY:Sooner: Has chores');
    expect(text).toContain(`DTSTART;VALUE=DATE:${addDays(today, 11).replace(/-/g, '')}`);
    // A hidden post's chores stay hidden, also from whom they were given to.
    await room.db('chores').where({ text: 'Theirs' }).update({ person_id: room.ids.proofreader });
    expect(await own('proofreader')).toEqual([]);
    expect((await (await room.as('proofreader')).get(`/api/posts/${id}/chores`)).status).toBe(404);
  });

  it('are ticked and changed by those who may', async () => {
    const id = await commissioned('Whose chore');
    const desk = await room.as('chief');
    const [chore] = (
      await desk
        .post(`/api/posts/${id}/chores`)
        .send({ chore: { text: 'Mine', assignee: 'writer', personId: null, daysBefore: 3, holds: false } })
    ).body as ChoreView[];
    expect((await tick('otherWriter', chore!.id)).status).toBe(403);
    expect((await tick('otherEditor', chore!.id)).status).toBe(403);
    expect((await tick('writer', chore!.id)).status).toBe(200);
    expect((await tick('editor', chore!.id, false)).body.done).toBe(false);
    const writer = await room.as('writer');
    expect((await writer.patch(`/api/chores/${chore!.id}`).send({ holds: true })).status).toBe(403);
    expect((await writer.delete(`/api/chores/${chore!.id}`)).status).toBe(403);
    expect((await writer.post(`/api/posts/${id}/chores`).send({ checklistId: 1 })).status).toBe(403);
    expect((await desk.patch(`/api/chores/${chore!.id}`).send({ assignee: 'person' })).status).toBe(400);
    expect((await desk.delete(`/api/chores/${chore!.id}`)).status).toBe(204);
    expect((await tick('chief', chore!.id)).status).toBe(404);
  });

  it('refuse what is no checklist', async () => {
    expect((await add('writer', { name: 'Mine' })).status).toBe(403);
    expect((await add('chief', { name: 'Empty', items: [] })).status).toBe(400);
    expect((await add('chief', { items: [item('x', { daysBefore: -1 })] })).status).toBe(400);
    expect((await add('chief', { items: [item('x', { assignee: 'person' })] })).status).toBe(400);
    expect(
      (
        await add('chief', {
          name: 'Reader',
          items: [item('x', { assignee: 'person', personId: room.ids.reader })],
        })
      ).status,
    ).toBe(400);
    expect((await add('chief', { name: 'Nowhere', categories: [99] })).status).toBeGreaterThanOrEqual(400);
    expect((await add('chief', { name: 'Once' })).status).toBe(201);
    expect((await add('chief', { name: 'once' })).status).toBe(409);
  });
});
