import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { PostResults, ResultsView } from '@keyroster/contract';
import { addDays } from '@keyroster/core';
import { release } from '../posts/release.js';
import { clockOf } from '../slots/clock.js';
import { Newsroom, type Who } from '../testing/newsroom.js';
import { fetchFigures } from './fetch-figures.js';

describe('results', () => {
  let room: Newsroom;
  let today: string;
  let outlet: Server;
  let figures: unknown = { figures: { views: 200, passedOn: 12, replies: 3, clicks: 20 } };
  let asked: string[] = [];
  /** A month of posts: those on engines are read more, in their first week, than those on walks. */
  const posts: { id: number; day: string }[] = [];

  beforeAll(async () => {
    outlet = createServer((req, res) => {
      asked.push(req.url!);
      res.setHeader('content-type', 'application/json');
      res.end(typeof figures === 'string' ? figures : JSON.stringify(figures));
    });
    await new Promise<void>((ready) => outlet.listen(0, '127.0.0.1', ready));
    const at = `http://127.0.0.1:${(outlet.address() as AddressInfo).port}`;
    room = await Newsroom.make({ privateOutlets: [at] });
    today = (await clockOf(room.db, 1)).today;
    for (let i = 0; i < 16; i++) {
      const day = addDays(today, -40 + i * 2);
      const post = await room.scheduled(`${day}T${i % 2 === 0 ? '08' : '12'}:00`, `Post number ${i}`);
      await release(room.db, post.id);
      await room
        .db('all_posts')
        .where({ id: post.id })
        .update({ category_id: i % 2 === 0 ? 1 : 2 });
      // On its day, on the last of its first week, and after it.
      const reads = i % 2 === 0 ? 100 + i : 400 + i;
      await room.db('post_reads').insert([
        { post_id: post.id, day, reads },
        { post_id: post.id, day: addDays(day, 6), reads: 10 },
        { post_id: post.id, day: addDays(day, 7), reads: 1000 },
      ]);
      posts.push({ id: post.id, day });
    }
  });
  afterAll(async () => {
    await room.close();
    await new Promise((closed) => outlet.close(closed));
  });

  const see = async (query: string, who: Who = 'editor'): Promise<ResultsView> =>
    (await (await room.as(who)).get(`/api/results?${query}`)).body;
  const month = () => `from=${posts[0]!.day}&to=${addDays(posts[0]!.day, 30)}`;

  it('compare posts by their first week, and say what is more than chance', async () => {
    const results = await see(month());
    expect(results.tooYoung).toBe(0);
    const [engine, towpath] = results.groups.category;
    expect([engine!.label, engine!.count, engine!.median, engine!.verdict]).toEqual([
      'Engine',
      8,
      418,
      'more',
    ]);
    expect([towpath!.label, towpath!.count, towpath!.median, towpath!.verdict]).toEqual([
      'Towpath',
      8,
      117,
      'less',
    ]);
    // Eight values: between the first and the last but none (medianRanks of 8 is 1 to 8).
    expect([engine!.low, engine!.high]).toEqual([411, 425]);
    expect(results.groups.hour.map((h) => [h.label, h.verdict])).toEqual([
      ['12:00', 'more'],
      ['08:00', 'less'],
    ]);
    expect(results.groups.form).toMatchObject([{ count: 16, verdict: 'too few' }]);
    expect(results.groups.person).toHaveLength(1);
    expect(results.titleLength).not.toBeNull();
  });

  it('add up every day of the span beside as many days before', async () => {
    const results = await see(month());
    expect([results.span.from, results.before]).toEqual([
      posts[0]!.day,
      { from: addDays(posts[0]!.day, -31), to: addDays(posts[0]!.day, -1) },
    ]);
    expect(results.days).toHaveLength(31);
    const rows = await room
      .db('post_reads')
      .whereBetween('day', [results.span.from, results.span.to])
      .select<{ reads: number }[]>('reads');
    const all = rows.reduce((sum, r) => sum + r.reads, 0);
    expect(results.totals[0]).toEqual({ name: 'Reads', value: all, before: 0 });
    expect(results.days.reduce((sum, d) => sum + d.reads, 0)).toBe(all);
    expect(results.totals[1]).toEqual({ name: 'Posts released', value: 16, before: 0 });
    // The span after has them as the span before.
    const after = `from=${addDays(posts[0]!.day, 31)}&to=${addDays(posts[0]!.day, 61)}`;
    expect((await see(after)).totals[0]!.before).toBe(all);
    expect(results.posts[0]!.reads).toBeGreaterThanOrEqual(results.posts[1]!.reads);
  });

  it('leave out what is not a week old, and what is not before readers', async () => {
    const young = await room.scheduled(`${addDays(today, -3)}T08:00`, 'Young');
    await release(room.db, young.id);
    await room.db('post_reads').insert({ post_id: young.id, day: addDays(today, -2), reads: 9 });
    const lately = await see(`from=${addDays(today, -10)}&to=${today}`);
    expect(lately.tooYoung).toBe(1);
    expect(lately.posts.find((p) => p.id === young.id)).toMatchObject({ reads: 9, firstWeek: null });
    await room.move('chief', young.id, { to: 'withdrawn' });
    const gone = await see(`from=${addDays(today, -10)}&to=${today}`);
    expect(gone.posts.map((p) => p.id)).not.toContain(young.id);
    expect(gone.tooYoung).toBe(0);
  });

  it.each([
    ['from=2031-01-02&to=2031-01-01', 422],
    ['from=2031-01-02', 400],
    ['from=2031-02-30&to=2031-03-01', 400],
    ['from=1990-01-01&to=2031-01-01', 400],
  ])('are refused for %s', async (query, status) => {
    const answer = await (await room.as('editor')).get(`/api/results?${query}`);
    expect(answer.status).toBeGreaterThanOrEqual(400);
    expect([400, status]).toContain(answer.status);
  });

  it('go out as a file that spreadsheets do not run', async () => {
    await room.change('chief', posts[1]!.id, { title: '=SUM(1)' });
    const csv = await (await room.as('editor')).get(`/api/results.csv?${month()}`);
    expect(csv.headers['content-type']).toContain('text/csv');
    expect(csv.text.split('\r\n')).toHaveLength(18);
    expect(csv.text).toContain("'=SUM(1)");
  });

  it('ask outlets for figures in their pace, and believe only numbers', async () => {
    const at = `http://127.0.0.1:${(outlet.address() as AddressInfo).port}`;
    const [made] = await room
      .db('outlets')
      .insert({
        blog_id: 1,
        name: 'Towline',
        slug: 'towline',
        kind: 'micro',
        protocol: 'micropub',
        limits: '{}',
      })
      .returning<{ id: number }[]>('id');
    for (let i = 0; i < 14; i++) {
      const [piece] = await room
        .db('pieces')
        .insert({
          blog_id: 1,
          post_id: posts[i]!.id,
          outlet_id: made!.id,
          kind: 'short post',
          parts: ['A word.'],
          source_version: 1,
          timing: '{}',
        })
        .returning<{ id: number }[]>('id');
      await room.db('sends').insert({
        blog_id: 1,
        piece_id: piece!.id,
        outlet_id: made!.id,
        state: 'sent',
        url: `${at}/piece/${i}`,
        sent_at: room.db.raw(`now() - make_interval(hours => ?)`, [2 + i]),
      });
    }
    const { settings } = room.running.services;
    expect(await fetchFigures(room.db, settings)).toBe(12);
    expect(asked).toHaveLength(12);
    asked = [];
    expect(await fetchFigures(room.db, settings)).toBe(2);
    expect(asked).toHaveLength(2);
    asked = [];
    // None is due again within the hour.
    expect(await fetchFigures(room.db, settings)).toBe(0);
    expect(asked).toEqual([]);
    await room.db('sends').update({ figures_at: room.db.raw(`now() - interval '61 minutes'`) });
    for (const nonsense of ['¯', { figures: { views: -1 } }, { figures: { views: '9' } }, { views: 1 }]) {
      figures = nonsense;
      expect(await fetchFigures(room.db, settings)).toBe(0);
      await room.db('sends').update({ figures_at: room.db.raw(`now() - interval '61 minutes'`) });
    }
    await room.db('outlets').update({ paused_at: room.db.fn.now() });
    asked = [];
    expect(await fetchFigures(room.db, settings)).toBe(0);
    expect(asked).toEqual([]);
    const results = await see(`from=${addDays(today, -5)}&to=${today}`);
    expect(results.outlets).toMatchObject([
      { name: 'Towline', pieces: 14, seen: 14 * 200, passedOn: 14 * 12, replies: 14 * 3, clicks: 14 * 20 },
    ]);
    // Wilson's interval of 280 in 2,800.
    expect(results.outlets[0]!.rate!.low).toBeCloseTo(0.0895, 3);
    expect(results.outlets[0]!.rate!.high).toBeCloseTo(0.1117, 3);
  });

  it('of one post stand beside those of its category', async () => {
    const post = posts[2]!;
    const { body } = await (await room.as('writer')).get(`/api/posts/${post.id}/results`);
    const results = body as PostResults;
    expect(results).toMatchObject({ reads: 1112, firstWeek: 112, category: { name: 'Towpath', count: 7 } });
    expect(results.days.map((d) => d.reads)).toEqual([102, 10, 1000]);
    expect(results.pieces).toMatchObject([{ outlet: 'Towline', seen: 200 }]);
    const hidden = await room.pitch('chief', 'Hidden');
    await room.change('chief', hidden.id, { access: 'staff' });
    expect((await (await room.as('proofreader')).get(`/api/posts/${hidden.id}/results`)).status).toBe(403);
  });

  it('stand in a sentence where a post, a person and an outlet are shown', async () => {
    const place = async (query: string) =>
      (await (await room.as('writer')).get(`/api/results/place?${query}`)).body.sentences as string[];
    expect(await place(`post=${posts[2]!.id}`)).toEqual([
      'Read 1,112 times, 112 of them in its first week.',
      'As Towpath usually is (110 to 124).',
      '1 piece sent, seen 200 times.',
    ]);
    expect((await place(`person=${room.ids.writer}`))[0]).toMatch(
      /^16 posts in the last 91 days, read \d+ times in their first week at the median \(\d+ to \d+\): too few to tell\.$/,
    );
    const { id } = await room.db('outlets').first<{ id: number }>('id');
    expect((await place(`outlet=${id}`))[0]).toBe(
      '14 pieces in the last 91 days, seen 2,800 times, passed on 168 times.',
    );
    expect((await (await room.as('writer')).get('/api/results/place')).status).toBe(400);
    expect((await (await room.as('writer')).get('/api/results/place?person=9999')).status).toBe(404);
  });
});
