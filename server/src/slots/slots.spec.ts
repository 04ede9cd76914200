import { dateOf } from '@keyroster/core';
import type { BlogView, SlotAnswer } from '@keyroster/contract';
import { Newsroom } from '../testing/newsroom.js';

const RULE = {
  weekday: 2,
  time: '08:00',
  categoryId: 1,
  format: 'how-to',
  from: null,
  until: null,
  everyWeeks: 1,
  exceptions: [],
};

describe('standing slots', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const post = async (path: string, body: object) => (await room.as('chief')).post(path).send(body);
  const dates = async (from: string, weeks = 4) =>
    (await (await room.as('writer')).get(`/api/planner?from=${from}&weeks=${weeks}`)).body.slots as {
      date: string;
      time: string;
      slotId: number;
      movedFrom: string | null;
    }[];

  it('recur every n weeks, with dates skipped and moved, and are changed as a whole', async () => {
    const made = await post('/api/slots', {
      ...RULE,
      everyWeeks: 2,
      from: '2031-01-07',
      until: '2031-03-31',
      exceptions: [{ date: '2031-01-21', movedTo: '2031-01-22', movedTime: '09:30' }],
    });
    expect(made.status).toBe(201);
    const slot = (made.body as BlogView).slots.find((s) => s.weekday === 2)!;
    expect(slot).toMatchObject({
      everyWeeks: 2,
      format: 'how-to',
      exceptions: [{ date: '2031-01-21', movedTo: '2031-01-22', movedTime: '09:30' }],
    });
    expect(
      (await dates('2031-01-06', 6))
        .filter((d) => d.slotId === slot.id)
        .map((d) => [d.date, d.time, d.movedFrom]),
    ).toEqual([
      ['2031-01-07', '08:00', null],
      ['2031-01-22', '09:30', '2031-01-21'],
      ['2031-02-04', '08:00', null],
    ]);
    const changed = await (
      await room.as('chief')
    )
      .patch(`/api/slots/${slot.id}`)
      .send({ ...RULE, exceptions: [{ date: '2031-01-14', movedTo: null, movedTime: null }] });
    expect(changed.status).toBe(200);
    expect((await dates('2031-01-06')).filter((d) => d.slotId === slot.id).map((d) => d.date)).toEqual([
      '2031-01-07',
      '2031-01-21',
      '2031-01-28',
    ]);
    expect((await (await room.as('chief')).delete(`/api/slots/${slot.id}`)).status).toBe(200);
    expect((await (await room.as('chief')).patch(`/api/slots/${slot.id}`).send(RULE)).status).toBe(404);
  });

  it.each([
    [{ from: '2031-02-01', until: '2031-01-01' }, 'The slot ends on Wed 1 Jan, before it begins.'],
    [
      { from: '2031-01-08', until: '2031-01-13' },
      'No Tuesday falls between Wed 8 Jan and Mon 13 Jan: the slot would have no date.',
    ],
    [{ everyWeeks: 3 }, 'Say from when, so that every 3 weeks can be counted.'],
    [
      { exceptions: [{ date: '2031-01-08', movedTo: null, movedTime: null }] },
      'Wed 8 Jan is not a date of this slot.',
    ],
    [{ categoryId: 999 }, 'That category is not on this blog.'],
  ])('%j is refused with a sentence', async (over, sentence) => {
    const answer = await post('/api/slots', { ...RULE, ...over });
    expect([answer.status, answer.body.detail]).toEqual([400, sentence]);
    expect((await post('/api/slots/weigh', { id: null, slot: { ...RULE, ...over } })).body.detail).toBe(
      sentence,
    );
  });

  it(
    'may take turns by the week, but never open twice at one moment for a category, even ' +
      'when two are added at once',
    async () => {
      const odd = await post('/api/slots', { ...RULE, weekday: 4, everyWeeks: 2, from: '2026-01-01' });
      const even = await post('/api/slots', { ...RULE, weekday: 4, everyWeeks: 2, from: '2026-01-08' });
      expect([odd.status, even.status]).toEqual([201, 201]);
      const every = await post('/api/slots', { ...RULE, weekday: 4 });
      expect([every.status, every.body.code]).toEqual([409, 'taken']);
      const both = await Promise.all([
        post('/api/slots', { ...RULE, weekday: 6 }),
        post('/api/slots', { ...RULE, weekday: 6 }),
      ]);
      expect(both.map((b) => b.status).sort()).toEqual([201, 409]);
    },
  );

  it('say before they change what happens to the posts in them', async () => {
    const made = (await post('/api/slots', { ...RULE, weekday: 7, time: '10:00', categoryId: 2 }))
      .body as BlogView;
    const { id } = made.slots.find((s) => s.weekday === 7)!;
    const sunday = (await dates(dateOf(new Date().toISOString(), 'Europe/London'), 6)).filter(
      (d) => d.slotId === id,
    )[2]!.date;
    const pitch = await room.pitch('chief', 'Sunday reading', { categoryId: 2 });
    await room.move('chief', pitch.id, { to: 'commissioned', runAt: `${sunday}T10:00` });
    const answer = (
      await post('/api/slots/weigh', {
        id,
        slot: {
          ...RULE,
          weekday: 7,
          time: '10:00',
          categoryId: 2,
          exceptions: [{ date: sunday, movedTo: null, movedTime: null }],
        },
      })
    ).body as SlotAnswer;
    expect(answer.loses).toEqual([
      { id: pitch.id, title: 'Sunday reading', runLocal: `${sunday}T10:00:00`, stage: 'commissioned' },
    ]);
    expect(answer.sentence).toBe('1 post would stand in no slot any more. As many slots are open as before.');
    expect(answer.dates.find((d) => d.date === sunday)?.skipped).toBe(true);
    const removed = (await post('/api/slots/weigh', { id, slot: null })).body as SlotAnswer;
    expect(removed.sentence).toMatch(
      /^1 post would stand in no slot any more\. 2\d open slots fewer in the next 26 weeks\.$/,
    );
    expect((await room.see('chief', pitch.id)).runLocal).toBe(`${sunday}T10:00:00`);
  });

  it('are the managing editor’s', async () => {
    for (const who of ['editor', 'writer', 'proofreader'] as const) {
      expect((await (await room.as(who)).post('/api/slots').send(RULE)).status).toBe(403);
      expect((await (await room.as(who)).patch('/api/slots/1').send(RULE)).status).toBe(403);
      expect((await (await room.as(who)).post('/api/slots/weigh').send({ id: 1, slot: null })).status).toBe(
        403,
      );
    }
  });
});

describe('absences and capacity', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const add = async (who: 'chief' | 'editor' | 'writer', personId: number, from: string, to: string) =>
    (await room.as(who)).post('/api/absences').send({ personId, from, to, note: 'On the cut' });

  it('are entered by oneself or by the managing editor, seen by the newsroom', async () => {
    const own = await add('writer', room.ids.writer, '2031-01-06', '2031-01-12');
    expect([own.status, own.body.person.name]).toEqual([201, 'writer Test']);
    expect((await add('editor', room.ids.writer, '2031-02-06', '2031-02-12')).status).toBe(403);
    expect((await add('chief', room.ids.editor, '2031-02-06', '2031-02-12')).status).toBe(201);
    const seen = (await (await room.as('editor')).get('/api/absences')).body as {
      mine: boolean;
      from: string;
    }[];
    expect(seen.map((a) => [a.from, a.mine])).toEqual([
      ['2031-01-06', false],
      ['2031-02-06', true],
    ]);
    const view = (await (await room.as('editor')).get('/api/planner?from=2031-01-06&weeks=1')).body;
    expect(view.absences).toMatchObject([
      { personId: room.ids.writer, from: '2031-01-06', note: 'On the cut' },
    ]);
  });

  it('do not overlap, end before they begin, or change by other hands', async () => {
    const overlap = await add('writer', room.ids.writer, '2031-01-12', '2031-01-20');
    expect([overlap.status, overlap.body.detail]).toEqual([
      409,
      'That overlaps an absence from Mon 6 Jan to Sun 12 Jan. Change that one instead.',
    ]);
    expect((await add('writer', room.ids.writer, '2031-03-12', '2031-03-01')).body.detail).toBe(
      'The absence ends on Sat 1 Mar, before it begins.',
    );
    const id = ((await (await room.as('writer')).get('/api/absences')).body as { id: number }[])[0]!.id;
    expect(
      (await (await room.as('otherWriter')).patch(`/api/absences/${id}`).send({ note: 'Mine now' })).status,
    ).toBe(403);
    expect((await (await room.as('otherWriter')).delete(`/api/absences/${id}`)).status).toBe(403);
    expect(
      (await (await room.as('writer')).patch(`/api/absences/${id}`).send({ to: '2031-01-13' })).body,
    ).toMatchObject({ from: '2031-01-06', to: '2031-01-13' });
    expect((await (await room.as('writer')).delete(`/api/absences/${id}`)).status).toBe(204);
    expect((await (await room.as('chief')).delete('/api/absences/99')).status).toBe(404);
    const twice = await Promise.all([
      add('writer', room.ids.writer, '2031-05-01', '2031-05-05'),
      add('writer', room.ids.writer, '2031-05-03', '2031-05-07'),
    ]);
    expect(twice.map((t) => t.status).sort()).toEqual([201, 409]);
  });

  it('capacity is the managing editor’s to set and stands in the planner', async () => {
    expect(
      (await (await room.as('chief')).patch(`/api/people/${room.ids.writer}`).send({ capacity: 2 })).body
        .capacity,
    ).toBe(2);
    expect(
      (await (await room.as('writer')).patch(`/api/people/${room.ids.writer}`).send({ capacity: 9 })).status,
    ).toBe(403);
    for (const capacity of [-1, 51, 1.5, 'two'])
      expect(
        (await (await room.as('chief')).patch(`/api/people/${room.ids.writer}`).send({ capacity })).status,
      ).toBe(400);
    const { writers } = (await (await room.as('writer')).get('/api/planner')).body as {
      writers: { id: number; capacity: number | null }[];
    };
    expect(writers.find((w) => w.id === room.ids.writer)?.capacity).toBe(2);
    expect(writers.some((w) => w.id === room.ids.proofreader)).toBe(false);
  });
});
