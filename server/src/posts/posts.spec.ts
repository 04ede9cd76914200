import type { MoveDone, PostCard } from '@keyroster/contract';
import { Newsroom, doc, eventually, fromNow } from '../testing/newsroom.js';

describe('a post from pitch to scheduled', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  it('travels the whole road, by the people whose moves they are, and every step is kept', async () => {
    const pitch = await room.pitch('editor', 'Frost on the Hallow Steps');
    expect(pitch).toMatchObject({ stage: 'pitch', byline: null, runLocal: null, version: 1 });
    const placed = await room.move('editor', pitch.id, { to: 'commissioned', runAt: '2031-01-06T08:00' });
    expect(placed.body.post).toMatchObject({
      stage: 'commissioned',
      runLocal: '2031-01-06T08:00:00',
      runAt: '2031-01-06T08:00:00Z',
      runZone: 'Europe/London',
    });
    await room.change('editor', pitch.id, {
      bylineId: room.ids.writer,
      brief: { angle: 'Eleven locks', length: 500, copyDate: '2031-01-02' },
    });

    expect((await room.write('otherWriter', pitch.id)).status).toBe(403);
    expect((await room.write('writer', pitch.id, 'It was cold.')).status).toBe(200);
    expect((await room.see('writer', pitch.id)).stage).toBe('drafting');
    expect((await room.move('otherWriter', pitch.id, { to: 'in review' })).status).toBe(403);
    expect((await room.move('writer', pitch.id, { to: 'in review' })).body.sentence).toBe('Handed in.');
    expect((await room.write('writer', pitch.id, 'Too late.')).body.detail).toMatch(/in review/);
    expect((await room.move('otherEditor', pitch.id, { to: 'cleared' })).status).toBe(403);
    expect((await room.move('editor', pitch.id, { to: 'drafting' })).body).toMatchObject({
      code: 'demands',
      detail: 'Say in a note what should change.',
    });
    await room.move('editor', pitch.id, { to: 'drafting', note: 'Which steps?' });
    await room.write('writer', pitch.id, 'It was cold on the Hallow Steps.');
    await room.move('writer', pitch.id, { to: 'in review' });
    const cleared = await room.move('editor', pitch.id, { to: 'cleared' });
    expect(cleared.body.post).toMatchObject({ stage: 'cleared', slug: 'frost-hallow-steps-towpath' });
    const scheduled = await room.move('editor', pitch.id, { to: 'scheduled' });
    expect(scheduled.body.sentence).toBe('Goes out Monday 6 January 2031 at 08:00.');
    expect((await room.move('writer', pitch.id, { to: 'cleared' })).status).toBe(403);

    const moves = await room
      .db('stage_moves')
      .where({ post_id: pitch.id })
      .orderBy('id')
      .select('from_stage', 'to_stage', 'person_id', 'note');
    expect(moves.map((m) => m.to_stage)).toEqual([
      'commissioned',
      'drafting',
      'in review',
      'drafting',
      'in review',
      'cleared',
      'scheduled',
    ]);
    expect(moves[3]).toMatchObject({ person_id: room.ids.editor, note: 'Which steps?' });
    const versions = await room
      .db('post_versions')
      .where({ post_id: pitch.id })
      .orderBy('version')
      .select('version', 'changed', 'body');
    expect(versions.map((v) => v.version)).toEqual(versions.map((_, i) => i + 1));
    expect(versions.filter((v) => v.body).map((v) => v.body)).toEqual([
      { type: 'doc', content: [{ type: 'paragraph' }] },
      doc('It was cold.'),
      doc('It was cold on the Hallow Steps.'),
    ]);
    const jobs = await room.db.raw<{ rows: unknown[] }>(
      `select run_at from graphile_worker.jobs where key = 'release:${pitch.id}'`,
    );
    expect(jobs.rows).toHaveLength(1);
  });

  it('moves a run time, and takes it back with its job', async () => {
    const post = await room.scheduled('2031-02-03T08:00', 'A move to make');
    const moved = await room.change('editor', post.id, { runAt: '2031-02-04T09:30' });
    expect(moved.body.sentence).toBe('Goes out Tuesday 4 February 2031 at 09:30.');
    const job = async () =>
      (
        await room.db.raw<{ rows: { run_at: string }[] }>(
          'select run_at from graphile_worker.jobs where key = ?',
          [`release:${post.id}`],
        )
      ).rows;
    expect((await job())[0]?.run_at).toBe('2031-02-04T09:30:00Z');
    const back = await room.change('editor', post.id, { runAt: null });
    expect(back.body.post).toMatchObject({ stage: 'cleared', runAt: null });
    expect(await job()).toHaveLength(0);
    expect((await room.change('writer', post.id, { runAt: '2031-02-05T08:00' })).status).toBe(403);
  });

  it('lets no writer set a run time by way of a move that is theirs', async () => {
    const post = await room.pitch('chief', 'No way round', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', post.id, { to: 'commissioned' });
    const tried = await room.move('writer', post.id, { to: 'drafting', runAt: '2031-02-03T08:00' });
    expect([tried.status, tried.body.code]).toEqual([403, 'not-yours']);
    expect(await room.see('chief', post.id)).toMatchObject({ stage: 'commissioned', runAt: null });
    expect((await room.move('writer', post.id, { to: 'drafting' })).status).toBe(200);
  });

  it('refuses a time that does not exist, asks about one that happens twice', async () => {
    const post = await room.cleared('Clocks');
    const gap = await room.move('editor', post.id, { to: 'scheduled', runAt: '2031-03-30T01:30' });
    expect(gap.status).toBe(422);
    expect(gap.body).toMatchObject({
      code: 'time-gap',
      choices: [{ local: '2031-03-30T00:59:00' }, { local: '2031-03-30T02:00:00' }],
    });
    const doubled = await room.move('editor', post.id, { to: 'scheduled', runAt: '2031-10-26T01:30' });
    expect(doubled.body).toMatchObject({
      code: 'time-doubled',
      choices: [{ offset: '+01:00', at: '2031-10-26T00:30:00Z' }, { offset: '+00:00' }],
    });
    const chosen = await room.move('editor', post.id, { to: 'scheduled', runAt: '2031-10-26T01:30+00:00' });
    expect(chosen.body.post).toMatchObject({
      runLocal: '2031-10-26T01:30:00',
      runAt: '2031-10-26T01:30:00Z',
    });
    expect((await room.move('editor', post.id, { to: 'cleared', runAt: '2031-02-31T08:00' })).status).toBe(
      400,
    );
  });

  it('tells the second of two people what changed, and needs a version to change anything', async () => {
    const post = await room.pitch('chief', 'Two at once');
    const first = await room.change('chief', post.id, { title: 'Two at once, first' }, post.version);
    expect(first.status).toBe(200);
    const second = await room.change('editor', post.id, { title: 'Two at once, second' }, post.version);
    expect(second.status).toBe(412);
    expect(second.body).toMatchObject({
      code: 'version-conflict',
      version: 2,
      changed: ['title'],
      changedBy: 'chief Test',
    });
    expect((await room.see('chief', post.id)).title).toBe('Two at once, first');
    expect((await (await room.as('chief')).patch(`/api/posts/${post.id}`).send({ title: 'x' })).status).toBe(
      428,
    );
    const race = await Promise.all([
      room.write('chief', post.id, 'Mine', 2),
      room.write('editor', post.id, 'Theirs', 2),
    ]);
    expect(race.map((r) => r.status).sort()).toEqual([200, 412]);
  });

  it('never gives two posts one address', async () => {
    const a = await room.cleared('Slow boats north');
    const b = await room.cleared('Slow boats north');
    expect(a.slug).toBe('slow-boats-north-towpath');
    expect(b.slug).toBe('slow-boats-north-towpath-2');
    expect((await room.change('editor', b.id, { slug: 'slow-boats-north-towpath' })).body).toMatchObject({
      code: 'taken',
    });
    expect((await room.change('editor', b.id, { slug: 'api' })).status).toBe(400);
    expect((await room.change('editor', b.id, { slug: 'Slow-North' })).body.post.slug).toBe('slow-north');
  });

  it('keeps a picture without alternative text from being cleared', async () => {
    const post = await room.cleared('Pictured');
    await room.move('editor', post.id, { to: 'drafting', note: 'A picture, please.' });
    const [media] = await room
      .db('media')
      .insert({ blog_id: 1, sha256: 'x', type: 'image/png', width: 1, height: 1, bytes: Buffer.from('x') })
      .returning('id');
    const put = (alt: string, version: number) =>
      room.as('editor').then((a) =>
        a
          .put(`/api/posts/${post.id}/body`)
          .set('If-Match', `${version}`)
          .send({
            body: {
              type: 'doc',
              content: [
                { type: 'paragraph', content: [{ type: 'text', text: 'See:' }] },
                { type: 'picture', attrs: { media: media.id, alt, caption: '' } },
              ],
            },
          }),
      );
    const stored = await put('', (await room.see('chief', post.id)).version);
    await room.move('writer', post.id, { to: 'in review' });
    expect((await room.move('editor', post.id, { to: 'cleared' })).body.detail).toBe(
      'The checks hold it back: 1 picture without alternative text.',
    );
    expect(stored.status).toBe(200);
    await put('a lock', (await room.see('chief', post.id)).version);
    expect((await room.move('editor', post.id, { to: 'cleared' })).status).toBe(200);
    expect((await room.write('editor', post.id)).status).toBe(200);
  });

  it('refuses a text that a post may not hold, with a sentence', async () => {
    const post = await room.pitch('chief', 'Strict');
    const agent = await room.as('chief');
    const put = (body: unknown) =>
      agent.put(`/api/posts/${post.id}/body`).set('If-Match', '"1"').send({ body });
    for (const body of [
      { type: 'doc', content: [{ type: 'script' }] },
      { type: 'doc' },
      {},
      { type: 'doc', content: [{ type: 'picture', attrs: { media: 424242 } }] },
    ]) {
      expect((await put(body)).body.code).toBe('bad-text');
    }
    const odd = await put(doc('a\u0000b\ud800c'));
    expect(odd.status).toBe(200);
    expect((await room.see('chief', post.id)).body).toEqual(doc('ab\ufffdc'));
  });

  it('lists by keyset without gaps or doubles, under every sort', async () => {
    for (let i = 0; i < 7; i++) await room.pitch('chief', `Listed ${i % 3}`);
    const agent = await room.as('chief');
    const all = (await agent.get('/api/posts?limit=200')).body.posts as PostCard[];
    for (const sort of ['-run', 'run', '-updated', '-created', 'title']) {
      const seen: number[] = [];
      let cursor: string | null = '';
      while (cursor !== null) {
        const page = await agent.get(`/api/posts?limit=3&sort=${sort}${cursor ? `&cursor=${cursor}` : ''}`);
        expect(page.status).toBe(200);
        seen.push(...page.body.posts.map((p: PostCard) => p.id));
        cursor = page.body.next;
      }
      expect([...seen].sort((a, b) => a - b)).toEqual(all.map((p) => p.id).sort((a, b) => a - b));
    }
    const cursor = (await agent.get('/api/posts?limit=1&sort=title')).body.next;
    expect((await agent.get(`/api/posts?sort=run&cursor=${cursor}`)).status).toBe(400);
    expect(
      (await agent.get('/api/posts?stage=pitch,cleared&words=slow+boats')).body.posts.map(
        (p: PostCard) => p.title,
      ),
    ).toEqual(['Slow boats north', 'Slow boats north']);
  });

  it('lets a pitch go to the tray and back, with its words', async () => {
    const post = await room.pitch('writer', 'Mine to word');
    expect(post.byline?.id).toBe(room.ids.writer);
    expect(
      (await room.change('writer', post.id, { title: 'Mine to word again', thought: 'A line.' })).status,
    ).toBe(200);
    expect((await room.move('writer', post.id, { to: 'commissioned' })).status).toBe(403);
    await room.move('editor', post.id, { to: 'commissioned', runAt: '2031-05-05T08:00' });
    const back = await room.move('editor', post.id, { to: 'pitch' });
    expect((back.body as MoveDone).post).toMatchObject({ stage: 'pitch', runAt: null, thought: 'A line.' });
    expect(
      (await (await room.as('editor')).post('/api/posts').send({ title: 'Elsewhere', categoryId: 2 })).status,
    ).toBe(403);
    expect((await (await room.as('proofreader')).post('/api/posts').send({ title: 'No' })).status).toBe(403);
  });

  it('shows a proofreader what they are put on and nothing else', async () => {
    const post = await room.cleared('Proofs');
    expect((await (await room.as('proofreader')).get(`/api/posts/${post.id}`)).status).toBe(404);
    await room.change('editor', post.id, { proofreaderId: room.ids.proofreader });
    // They correct by suggestion, see texts/suggestions.spec.ts, unless the post allows them more.
    expect((await room.write('proofreader', post.id, 'Open the paddle, slowly.')).status).toBe(403);
    expect((await room.change('proofreader', post.id, { proofreaderWrites: true })).status).toBe(403);
    await room.change('editor', post.id, { proofreaderWrites: true });
    expect((await room.write('proofreader', post.id, 'Open the paddle, slowly.')).status).toBe(200);
    expect((await room.change('proofreader', post.id, { access: 'staff' })).status).toBe(403);
    expect(
      ((await (await room.as('proofreader')).get('/api/posts')).body.posts as PostCard[]).map((p) => p.id),
    ).toEqual([post.id]);
  });

  it('lets a note be left on a passage, answered and settled', async () => {
    const post = await room.cleared('Noted');
    const editor = await room.as('editor');
    const note = await editor
      .post(`/api/posts/${post.id}/notes`)
      .send({ text: 'How slowly?', passage: { exact: 'slowly', prefix: 'Open the paddle ', suffix: '.' } });
    expect(note.status).toBe(201);
    expect(
      (
        await (
          await room.as('writer')
        )
          .post(`/api/posts/${post.id}/notes`)
          .send({ text: 'A count of ten.', parentId: note.body.id })
      ).status,
    ).toBe(201);
    expect(
      (await (await room.as('otherWriter')).post(`/api/posts/${post.id}/notes`).send({ text: 'Me too' }))
        .status,
    ).toBe(403);
    expect(
      (await (await room.as('writer')).patch(`/api/notes/${note.body.id}`).send({ settled: true })).body
        .settledBy.id,
    ).toBe(room.ids.writer);
    expect((await editor.get(`/api/posts/${post.id}/notes`)).body).toHaveLength(2);
    expect((await editor.post(`/api/posts/${post.id}/notes`).send({ text: 'x', parentId: 999 })).status).toBe(
      400,
    );
  });
});

describe('release', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make({ jobs: true });
  });
  afterAll(() => room.close());

  it('goes out at its run time, once, and is logged', async () => {
    const post = await room.scheduled(fromNow(6), 'Out in six seconds');
    expect((await room.nobody().get(`/${post.slug}`)).status).toBe(404);
    await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
    const page = await eventually(async () => {
      const r = await room.nobody().get(`/${post.slug}`);
      return r.status === 200 && r;
    });
    expect(page.text).toContain('Out in six seconds');
    const log = (await (await room.as('editor')).get('/api/release-log')).body.filter(
      (e: { postId: number }) => e.postId === post.id,
    );
    expect(log).toHaveLength(1);
    expect(log[0]).toMatchObject({ late: false, backdated: false });
    expect(log[0].lateness).toBeGreaterThanOrEqual(0);
  });

  it('takes a date in the past: out at once, in its place among the older', async () => {
    const post = await room.cleared('Dated back');
    const done = await room.move('editor', post.id, { to: 'scheduled', runAt: '2019-05-06T08:00' });
    expect(done.body.sentence).toBe('Goes out now, dated Monday 6 May 2019, 08:00.');
    await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
    expect((await (await room.as('chief')).get('/api/release-log')).body[0]).toMatchObject({
      postId: post.id,
      backdated: true,
      late: false,
    });
    expect((await room.change('editor', post.id, { runAt: '2040-01-01T08:00' })).body.code).toBe('bad-time');
  });

  it('leaves the readers when it is withdrawn', async () => {
    const post = await room.scheduled(fromNow(-5), 'Withdrawn soon');
    await eventually(async () => (await room.nobody().get(`/${post.slug}`)).status === 200);
    await room.move('editor', post.id, { to: 'withdrawn' });
    await eventually(async () => (await room.nobody().get(`/${post.slug}`)).status === 410);
    expect((await room.nobody().get('/')).text).not.toContain('Withdrawn soon');
  });

  it('is never emptied by a slip once it is scheduled or out', async () => {
    const post = await room.scheduled('2032-01-06T08:00', 'Kept whole');
    const emptied = await room.write('editor', post.id, ' ');
    expect([emptied.status, emptied.body.detail]).toEqual([
      409,
      'A scheduled post keeps its text. Unschedule it first to empty it.',
    ]);
    expect((await room.see('chief', post.id)).words).toBeGreaterThan(0);
    await room.move('editor', post.id, { to: 'cleared' });
    expect((await room.write('editor', post.id, ' ')).status).toBe(200);
  });

  it('are taken back by their writer until somebody of the desk opens them for review', async () => {
    const handedIn = async () => {
      const post = await room.pitch('chief', 'Handed in too soon', {
        categoryId: 1,
        bylineId: room.ids.writer,
      });
      await room.move('editor', post.id, { to: 'commissioned' });
      await room.write('writer', post.id);
      await room.move('writer', post.id, { to: 'in review' });
      return post.id;
    };
    const moves = async (who: 'writer' | 'editor' | 'otherWriter', id: number) =>
      (await room.see(who, id)).moves.filter((m) => m.to === 'drafting').map((m) => m.label);
    const id = await handedIn();
    expect([await moves('writer', id), await moves('otherWriter', id), await moves('editor', id)]).toEqual([
      ['Take back'],
      [],
      ['Ask for changes'],
    ]);
    const open = async (who: 'writer' | 'editor', post: number) =>
      (await room.as(who)).put(`/api/posts/${post}/open`).send({});
    await open('writer', id);
    expect((await room.move('writer', id, { to: 'drafting' })).body.post.stage).toBe('drafting');
    const other = await handedIn();
    await open('editor', other);
    const refused = await room.move('writer', other, { to: 'drafting' });
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      'Somebody opened it for review meanwhile. Ask them to send it back.',
    ]);
    expect((await room.move('otherWriter', other, { to: 'drafting' })).status).toBe(403);
  });
});
