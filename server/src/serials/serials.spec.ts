import request from 'supertest';
import { lastVisitDue } from '@keyroster/core';
import { release } from '../posts/release.js';
import { Newsroom, fromNow, type Who } from '../testing/newsroom.js';

const NONE = { days: 0, hours: 0, minutes: 0 };
const days = (n: number) => ({ ...NONE, days: n });

describe('serials', () => {
  let room: Newsroom;
  let ids: number[];
  beforeAll(async () => {
    room = await Newsroom.make();
    ids = [];
    for (const title of ['The survey', 'The dry dock', 'The launch']) {
      const post = await room.scheduled(fromNow(-10), title);
      await release(room.db, post.id);
      ids.push(post.id);
    }
  });
  afterAll(() => room.close());

  const put = async (
    who: 'chief' | 'editor' | 'otherEditor',
    id: number,
    { version, ...body }: { version: number; [field: string]: unknown },
  ) =>
    (await room.as(who))
      .put(`/api/serials/${id}`)
      .set('If-Match', `"${version}"`)
      .send({ title: 'Ice', intro: '', accepting: false, ...body });

  it('say what readers would lose, and take it only when that is accepted', async () => {
    const made = await (
      await room.as('editor')
    )
      .post('/api/serials')
      .send({ title: 'Ice', intro: 'A boat, rebuilt.' });
    expect([made.status, made.body.parts]).toEqual([201, []]);
    const parts = ids.map((postId, i) => ({ postId, delay: days(i) }));
    const refused = await put('editor', made.body.id, { version: 1, parts });
    expect([refused.status, refused.body.code]).toEqual([409, 'takes-away']);
    expect(refused.body.fields.map((f: { sentence: string }) => f.sentence)).toEqual([
      '“The dry dock” is visible to everybody now; new readers would lose it.',
      '“The launch” is visible to everybody now; new readers would lose it.',
    ]);
    expect((await (await room.as('chief')).get('/api/serials')).body[0].parts).toEqual([]);
    const kept = await put('editor', made.body.id, { version: 1, parts, accepting: true });
    expect([kept.status, kept.body.version, kept.body.parts.length]).toEqual([200, 2, 3]);

    // 40 came two and a half days ago, 5 just now.
    await room.db('first_visits').insert([
      { blog_id: 1, minute: room.db.raw(`date_trunc('minute', now()) - interval '60 hours'`), readers: 40 },
      { blog_id: 1, minute: room.db.raw(`date_trunc('minute', now())`), readers: 5 },
    ]);
    const [serial] = (await (await room.as('chief')).get('/api/serials')).body;
    expect(serial.visits).toBe(45);
    expect(serial.parts.map((p: { have: number; newest: number }) => [p.have, p.newest])).toEqual([
      [45, 5],
      [40, 0],
      [40, 40],
    ]);
    const later = parts.map((p) => (p.postId === ids[2] ? { ...p, delay: days(9) } : p));
    const taken = await put('chief', serial.id, { version: 2, parts: later });
    expect(taken.body.detail).toBe(
      '“The launch” would be taken from 40 readers who have it already, until it is due for them again.',
    );
    // Sooner takes nothing, and needs no word.
    const sooner = parts.map((p) => (p.postId === ids[2] ? { ...p, delay: days(1) } : p));
    expect((await put('chief', serial.id, { version: 2, parts: sooner })).status).toBe(200);
  });

  it('are refused who may not decide about their posts, and who saves upon an older one', async () => {
    const [serial] = (await (await room.as('chief')).get('/api/serials')).body;
    const parts = serial.parts.map((p: { postId: number }) => ({ postId: p.postId, delay: days(0) }));
    const foreign = await put('otherEditor', serial.id, { version: serial.version, parts });
    expect([foreign.status, foreign.body.detail]).toEqual([
      403,
      '“The dry dock” is not yours to decide about.',
    ]);
    expect((await (await room.as('otherEditor')).delete(`/api/serials/${serial.id}`)).status).toBe(403);
    expect((await put('chief', serial.id, { version: 1, parts })).status).toBe(412);
    const other = await (await room.as('chief')).post('/api/serials').send({ title: 'Another', intro: '' });
    const twice = await put('chief', other.body.id, { version: 1, parts: [parts[0]], accepting: true });
    expect([twice.status, twice.body.detail]).toEqual([
      409,
      '“The survey” is a part of another serial already.',
    ]);
    const nowhere = await put('chief', other.body.id, {
      version: 1,
      parts: [{ postId: 9999, delay: days(1) }],
    });
    expect(nowhere.status).toBe(404);
  });

  it('show the blog as a reader has it who came first at a time', async () => {
    const [, serial] = (await (await room.as('chief')).get('/api/serials')).body;
    const see = async (body: object) =>
      (await room.as('editor'))
        .post(`/api/serials/${serial.id}/seen-as`)
        .send({ page: 'front', postId: null, ...body });
    const now = new Date(Date.now() - 60_000).toISOString().slice(0, 16);
    const fresh = await see({ firstVisit: `${now}Z` });
    expect(fresh.body.parts.map((p: { due: boolean }) => p.due)).toEqual([true, false, false]);
    expect(fresh.body.html).toContain('The survey');
    expect(fresh.body.html).not.toContain('The launch');
    const old = await see({ firstVisit: '2020-01-01T12:00' });
    expect(old.body.parts.every((p: { due: boolean }) => p.due)).toBe(true);
    expect(old.body.html).toContain('The launch');
    const part = await see({ firstVisit: '2020-01-01T12:00', page: 'part', postId: ids[1] });
    expect(part.body.html).toMatch(/Part 2 of <b>Ice<\/b>/);
    const hidden = await see({ firstVisit: `${now}Z`, page: 'part', postId: ids[1] });
    expect(hidden.body.html).toContain('There is nothing at this address');
    expect((await see({ firstVisit: '2999-01-01T12:00' })).status).toBe(422);
  });

  it('are told at the post, to who may see it', async () => {
    await room.db('mentions_sent').insert({ post_id: ids[1], target: 'https://a.example/', status: 'taken' });
    const at = async (who: Who) => (await room.as(who)).get(`/api/posts/${ids[1]}/on-blog`);
    const serials = (await (await room.as('chief')).get('/api/serials')).body;
    const serial = serials.find((s: { title: string }) => s.title === 'Ice');
    const told = (await at('writer')).body;
    expect(told.serial).toEqual({
      id: serial.id,
      title: 'Ice',
      number: serial.parts.findIndex((p: { postId: number }) => p.postId === ids[1]) + 1,
      parts: 3,
      delay: serial.parts.find((p: { postId: number }) => p.postId === ids[1]).delay,
    });
    expect(told.mentioned).toMatchObject([{ target: 'https://a.example/', status: 'taken' }]);
    const apart = await room.pitch('chief', 'No part of it');
    const there = async (who: Who) => (await room.as(who)).get(`/api/posts/${apart.id}/on-blog`);
    expect((await there('chief')).body).toEqual({ serial: null, mentioned: [] });
    expect((await there('proofreader')).status).toBe(404);
  });

  it('ask before another zone of the blog takes a part from readers who have it', async () => {
    const chief = await room.as('chief');
    const now = new Date().toISOString();
    const due = (days: number, zone: string) => Date.parse(lastVisitDue(now, { ...NONE, days }, zone));
    // So many days ago London kept another time than today, so that its days and those of UTC ended an hour apart.
    const days = Array.from({ length: 360 }, (_, i) => i + 1).find(
      (n) => due(n, 'Europe/London') !== due(n, 'UTC'),
    )!;
    const zones = ['Europe/London', 'UTC'].sort((a, b) => due(days, b) - due(days, a));
    await chief.patch('/api/blog').send({ zone: zones[0], accepting: true }).expect(200);
    const made = await chief.post('/api/serials').send({ title: 'Long ago', intro: '' });
    const fresh = await room.scheduled(fromNow(-10), 'The lock house');
    await release(room.db, fresh.id);
    const parts = [{ postId: fresh.id, delay: { ...NONE, days } }];
    expect((await put('chief', made.body.id, { version: 1, parts, accepting: true })).status).toBe(200);
    const between = new Date((due(days, zones[0]!) + due(days, zones[1]!)) / 2);
    await room.db('first_visits').insert({ blog_id: 1, minute: between.toISOString(), readers: 7 });
    const refused = await chief.patch('/api/blog').send({ zone: zones[1] });
    expect([refused.status, refused.body.code, refused.body.fields[0].field]).toEqual([
      409,
      'takes-away',
      'zone',
    ]);
    expect(refused.body.detail).toContain(
      '“The lock house” would be taken from 7 readers who have it already',
    );
    expect(await room.db('blogs').where({ id: 1 }).pluck('zone')).toEqual([zones[0]]);
    expect((await chief.patch('/api/blog').send({ zone: zones[1], accepting: true })).status).toBe(200);
    await chief.patch('/api/blog').send({ zone: 'Europe/London', accepting: true }).expect(200);
  });

  it('give everything back when they are deleted', async () => {
    const seen = () =>
      request(room.url)
        .get('/')
        .then((page) => page.text.includes('The launch'));
    expect(await seen()).toBe(false);
    for (const serial of (await (await room.as('chief')).get('/api/serials')).body)
      await (await room.as('chief')).delete(`/api/serials/${serial.id}`).expect(204);
    const ended = Date.now() + 5000;
    while (!(await seen()) && Date.now() < ended) await new Promise((done) => setTimeout(done, 50));
    expect(await seen()).toBe(true);
  });
});
