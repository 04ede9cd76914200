import ICAL from 'ical.js';
import type { CalendarMade, CalendarView, RhythmView } from '@keyroster/contract';
import { addDays, startOfWeek, dateOf } from '@keyroster/core';
import { Newsroom, type Who } from '../testing/newsroom.js';

/** The events of a calendar, by an independent parser. */
function events(text: string) {
  const calendar = new ICAL.Component(ICAL.parse(text) as string);
  return calendar
    .getAllSubcomponents('vevent')
    .map((c) => ({ event: new ICAL.Event(c), status: c.getFirstPropertyValue('status') as string | null }));
}

describe('calendars for subscription', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const make = async (who: Who, kind: 'runs' | 'copy') =>
    (await (await room.as(who)).post('/api/calendars').send({ kind })).body as CalendarMade;
  const pathOf = (made: CalendarMade) => new URL(made.address).pathname;
  const read = (path: string) => room.nobody().get(path);
  const next = (month: string) => {
    const today = dateOf(new Date().toISOString(), 'Europe/London');
    const year = Number(today.slice(0, 4));
    return `${year}-${month}` > today ? year : year + 1;
  };

  it('hold every run time as the instant it means, on both sides of the clock changes', async () => {
    // Europe/London: UTC in January, an hour ahead in July (IANA Time Zone Database).
    for (const [title, month, utc] of [
      ['Winter, with a comma; and more', '01-15', '08:00'],
      ['Summer', '07-15', '07:00'],
    ] as const) {
      const date = `${next(month)}-${month}`;
      const made = await (
        await room.as('chief')
      )
        .post('/api/posts')
        .send({ title, categoryId: 1, bylineId: room.ids.writer, runAt: `${date}T08:00` });
      expect(made.status).toBe(201);
      const answer = await read(pathOf(await make('editor', 'runs')));
      expect([answer.status, answer.headers['content-type']]).toEqual([200, 'text/calendar; charset=utf-8']);
      const found = events(answer.text).find((e) => e.event.summary === title)!;
      expect(found.event.startDate.toJSDate().toISOString()).toBe(`${date}T${utc}:00.000Z`);
      expect([found.event.uid, found.status]).toEqual([
        `post-${(made.body as { id: number }).id}@127.0.0.1`,
        'TENTATIVE',
      ]);
    }
  });

  it(
    'are well formed: CRLF, lines of at most 75 octets, stamps and unique ids (RFC 5545, ' +
      'sections 3.1, 3.6.1)',
    async () => {
      await room
        .pitch('chief', `Ü${'ñ☂'.repeat(90)}`)
        .then((p) => room.move('chief', p.id, { to: 'commissioned', runAt: `${next('06-10')}-06-10T08:00` }));
      const { text } = await read(pathOf(await make('chief', 'runs')));
      expect(text.replace(/\r\n/g, '')).not.toMatch(/[\r\n]/);
      expect(Math.max(...text.split('\r\n').map((line) => Buffer.byteLength(line)))).toBeLessThanOrEqual(75);
      const all = events(text);
      expect(new Set(all.map((e) => e.event.uid)).size).toBe(all.length);
      expect(text.match(/^DTSTAMP:/gm)!.length).toBe(all.length);
      expect(all.some((e) => e.event.summary === 'Open slot: Towpath')).toBe(true);
    },
  );

  it('hold one person’s copy dates as whole days, and nobody else’s', async () => {
    const due = addDays(dateOf(new Date().toISOString(), 'Europe/London'), 30);
    const mine = await room.pitch('chief', 'Due', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', mine.id, { to: 'commissioned' });
    await room.change('chief', mine.id, { brief: { angle: '', length: null, copyDate: due } });
    const own = events((await read(pathOf(await make('writer', 'copy')))).text);
    expect(
      own.map((e) => [
        e.event.summary,
        e.event.startDate.isDate,
        e.event.startDate.toString(),
        e.event.endDate.toString(),
      ]),
    ).toEqual([['Copy due: Due', true, due, addDays(due, 1)]]);
    expect(events((await read(pathOf(await make('otherWriter', 'copy')))).text)).toEqual([]);
  });

  it('end when they are revoked, made anew, or the account is closed, and cannot be guessed', async () => {
    const first = await make('otherWriter', 'runs');
    const second = await make('otherWriter', 'runs');
    expect((await read(pathOf(first))).status).toBe(404);
    expect((await read(pathOf(second))).status).toBe(200);
    expect((await (await room.as('writer')).delete(`/api/calendars/${second.id}`)).status).toBe(404);
    const seen = ((await (await room.as('chief')).get('/api/calendars')).body as CalendarView[]).find(
      (c) => c.id === second.id,
    )!;
    expect(seen).toMatchObject({ kind: 'runs', mine: false, person: { name: 'otherWriter Test' } });
    expect(JSON.stringify(seen)).not.toContain(pathOf(second).slice(10, 20));
    expect((await (await room.as('chief')).delete(`/api/calendars/${second.id}`)).status).toBe(204);
    expect((await read(pathOf(second))).status).toBe(404);
    const third = await make('otherWriter', 'runs');
    await (await room.as('chief')).patch(`/api/people/${room.ids.otherWriter}`).send({ active: false });
    expect((await read(pathOf(third))).status).toBe(404);
    for (const path of [
      '/calendar/x.ics',
      `/calendar/${'a'.repeat(32)}.ics`,
      '/calendar/%00.ics',
      '/calendar/../api/people',
    ])
      expect((await read(path)).status).toBeGreaterThanOrEqual(400);
    expect((await (await room.as('proofreader')).post('/api/calendars').send({ kind: 'runs' })).status).toBe(
      403,
    );
    expect((await (await room.as('reader')).post('/api/calendars').send({ kind: 'copy' })).status).toBe(403);
  });

  it('answer unchanged when nothing changed', async () => {
    const path = pathOf(await make('editor', 'runs'));
    const { headers } = await read(path);
    expect((await read(path).set('If-None-Match', headers['etag']!)).status).toBe(304);
    await room
      .pitch('chief', 'New')
      .then((p) => room.move('chief', p.id, { to: 'commissioned', runAt: `${next('06-11')}-06-11T08:00` }));
    expect((await read(path).set('If-None-Match', headers['etag']!)).status).toBe(200);
  });
});

describe('the rhythm', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  it('counts the last and next 13 weeks against the standing slots', async () => {
    const post = await room.scheduled('2031-01-06T08:00');
    const today = dateOf(new Date().toISOString(), 'Europe/London');
    const monday = addDays(startOfWeek(today), 14);
    await room.change('chief', post.id, { runAt: `${monday}T08:00` });
    const view = (await (await room.as('writer')).get('/api/rhythm')).body as RhythmView;
    expect(view.rhythm.weeks).toHaveLength(26);
    expect(view.rhythm.weeks.find((w) => w.start === monday)).toMatchObject({
      ready: 1,
      wanted: 1,
      released: 0,
    });
    expect(view.past).toBe('Too few posts to say.');
    expect(view.gaps.some((g) => g.date === monday)).toBe(false);
    expect(view.gaps.length).toBeGreaterThanOrEqual(11);
  });
});
