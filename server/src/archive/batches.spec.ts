import { randomBytes } from 'node:crypto';
import sharp from 'sharp';
import type {
  BatchItemView,
  BatchPreview,
  BatchView,
  MediaView,
  MediaWhole,
  PostView,
} from '@keyroster/contract';
import type { BatchChange } from '@keyroster/core';
import { Newsroom, type Who } from '../testing/newsroom.js';
import { applyBatch, planWaiting } from './apply.js';
import { emptyBins } from './bin.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());

const call = async (who: Who, method: 'get' | 'post' | 'patch', path: string, body?: object) => {
  const asked = (await room.as(who))[method](path);
  return body ? asked.send(body) : asked;
};
const see = async (id: number) => (await call('chief', 'get', `/api/posts/${id}`)).body as PostView;
const preview = async (changes: BatchChange[], of: object, who: Who = 'chief') =>
  (await call(who, 'post', '/api/batches', { changes, ...of })).body as BatchPreview;
async function apply(id: number, who: Who = 'chief'): Promise<BatchView> {
  const asked = await call(who, 'post', `/api/batches/${id}/apply`, {});
  if (asked.status !== 201) throw new Error(asked.text);
  await applyBatch(room.db, id);
  return (await call('chief', 'get', `/api/batches/${id}`)).body as BatchView;
}
async function revert(id: number, force = false): Promise<BatchView> {
  const back = (await call('chief', 'post', `/api/batches/${id}/back`, { force })).body as BatchPreview;
  return apply(back.id);
}
/** What a batch says of its posts in a state: title and sentence. */
const told = async (id: number, state: string) =>
  ((await call('chief', 'get', `/api/batches/${id}/items?state=${state}`)).body as BatchItemView[]).map(
    (i) => [i.title, i.sentence],
  );
/** Posts with some text, drafted by the managing editor. */
async function drafts(n: number, title = 'Stern gear'): Promise<number[]> {
  const ids: number[] = [];
  for (let i = 0; i < n; i++) {
    const post = await room.pitch('chief', `${title} ${i + 1}`, { categoryId: 1, bylineId: room.ids.chief });
    await call('chief', 'post', `/api/posts/${post.id}/moves`, { to: 'commissioned' });
    await (
      await room.as('chief')
    )
      .put(`/api/posts/${post.id}/body`)
      .set('If-Match', String((await see(post.id)).version))
      .send({
        body: {
          type: 'doc',
          content: [
            { type: 'paragraph', content: [{ type: 'text', text: `The gland drips, number ${i + 1}.` }] },
          ],
        },
      });
    ids.push(post.id);
  }
  return ids;
}

describe('a batch', () => {
  it('is previewed, applied as a whole, kept in the log, taken back and done again', async () => {
    const ids = await drafts(4);
    await room.db('all_posts').where({ id: ids[3]! }).update({ byline_id: room.ids.writer });
    const before = await Promise.all(ids.map(see));
    const shown = await preview(
      [
        { kind: 'byline', to: room.ids.writer },
        { kind: 'comments', to: false },
      ],
      { ids },
    );
    expect(shown).toMatchObject({
      state: 'previewed',
      sentence: 'Byline becomes writer Test; Comments close',
      counts: { changes: 4, same: 0, refused: 0, left: 0 },
    });
    expect((await see(ids[0]!)).version).toBe(before[0]!.version);
    const items = (await call('chief', 'get', `/api/batches/${shown.id}/items?state=changes`))
      .body as BatchItemView[];
    expect(items.map((i) => [i.title, ...i.differences.map((d) => `${d.was} > ${d.becomes}`)])).toEqual([
      ['Stern gear 1', 'chief Test > writer Test', 'open > closed'],
      ['Stern gear 2', 'chief Test > writer Test', 'open > closed'],
      ['Stern gear 3', 'chief Test > writer Test', 'open > closed'],
      ['Stern gear 4', 'open > closed'],
    ]);
    expect(
      (await call('chief', 'patch', `/api/batches/${shown.id}`, { leave: [ids[1]!] })).body,
    ).toMatchObject({ counts: { changes: 3, left: 1 } });
    const done = await apply(shown.id);
    expect(done).toMatchObject({ state: 'applied', counts: { changes: 3, left: 1 }, takenBackBy: null });
    const after = await Promise.all(ids.map(see));
    expect(after.map((p) => [p.byline?.name, p.comments])).toEqual([
      ['writer Test', false],
      ['chief Test', true],
      ['writer Test', false],
      ['writer Test', false],
    ]);
    expect(after.map((p, i) => p.version - before[i]!.version)).toEqual([1, 0, 1, 1]);
    const version = await room
      .db('post_versions')
      .where({ post_id: ids[0]!, version: after[0]!.version })
      .first<{ person_id: number; changed: string[]; fields: { byline_id: number } }>();
    expect([version!.person_id, [...version!.changed].sort(), version!.fields.byline_id]).toEqual([
      room.ids.chief,
      ['bylineId', 'comments'],
      room.ids.writer,
    ]);
    expect(
      (
        (await call('chief', 'get', `/api/archive/ids?line=batch:${shown.id}`)).body as { ids: number[] }
      ).ids.sort(),
    ).toEqual([ids[0], ids[2], ids[3]].sort());

    // Days later one of them is somebody else's.
    await (
      await room.as('chief')
    )
      .patch(`/api/posts/${ids[2]!}`)
      .set('If-Match', String(after[2]!.version))
      .send({ bylineId: room.ids.otherWriter });
    const back = (await call('chief', 'post', `/api/batches/${shown.id}/back`, {})).body as BatchPreview;
    expect(back).toMatchObject({
      reverts: shown.id,
      sentence: 'Undone: Byline becomes writer Test; Comments close',
      counts: { changes: 3 },
    });
    const backItems = (await call('chief', 'get', `/api/batches/${back.id}/items`)).body as BatchItemView[];
    expect(backItems.find((i) => i.postId === ids[2])).toMatchObject({
      sentence: 'byline changed since and kept',
      differences: [{ field: 'comments' }],
    });
    await apply(back.id);
    expect((await Promise.all(ids.map(see))).map((p) => [p.byline?.name, p.comments])).toEqual([
      ['chief Test', true],
      ['chief Test', true],
      ['otherWriter Test', true],
      ['writer Test', true],
    ]);
    expect((await call('chief', 'post', `/api/batches/${shown.id}/back`, {})).body.detail).toMatch(
      /undone already/,
    );

    const log = (await call('editor', 'get', '/api/batches')).body as BatchView[];
    expect(log.slice(0, 2).map((b) => [b.id, b.takenBackBy])).toEqual([
      [back.id, null],
      [shown.id, back.id],
    ]);
    await revert(back.id);
    expect((await see(ids[0]!)).byline?.name).toBe('writer Test');
    expect(
      ((await call('chief', 'get', '/api/batches')).body as BatchView[]).find((b) => b.id === shown.id)!
        .takenBackBy,
    ).toBeNull();
  });

  it('changes tags, texts, addresses and stages, with versions, redirects and log', async () => {
    const ids = await drafts(2, 'Weed hatch');
    const tag = async (name: string) =>
      (
        (
          await (
            await room.as('chief')
          )
            .patch(`/api/posts/${ids[0]!}`)
            .set('If-Match', String((await see(ids[0]!)).version))
            .send({ tags: [name] })
        ).body as { post: PostView }
      ).post.tags[0]!.id;
    const [weirs, stoves] = [await tag('weirs'), await tag('stoves')];
    const done = await apply(
      (
        await preview(
          [
            { kind: 'tags', gain: [weirs], lose: [stoves] },
            {
              kind: 'replace',
              places: ['title', 'text'],
              find: 'hatch|drips',
              with: 'lid',
              pattern: true,
              capitals: true,
            },
          ],
          { ids },
        )
      ).id,
    );
    expect(done.state).toBe('applied');
    const one = await see(ids[0]!);
    expect([
      one.title,
      one.tags.map((t) => t.name),
      JSON.stringify(one.body).includes('The gland lid'),
      one.words,
    ]).toEqual(['Weed lid 1', ['weirs'], true, 5]);
    expect(
      (await room.db('all_posts').where({ id: ids[0]! }).first<{ body_text: string }>('body_text'))!
        .body_text,
    ).toContain('gland lid');
    await revert(done.id);
    const again = await see(ids[0]!);
    expect([
      again.title,
      again.tags.map((t) => t.name),
      JSON.stringify(again.body).includes('gland drips'),
    ]).toEqual(['Weed hatch 1', ['stoves'], true]);

    await room.db('all_posts').where({ id: ids[0]! }).update({
      slug: 'weed-hatch',
      stage: 'published',
      released_at: '2026-01-01',
      run_local: '2026-01-01',
      run_zone: 'Europe/London',
      run_at: '2026-01-01',
    });
    const renamed = await apply(
      (
        await preview(
          [
            {
              kind: 'replace',
              places: ['slug'],
              find: 'weed',
              with: 'clean',
              pattern: false,
              capitals: false,
            },
          ],
          { ids: [ids[0]!] },
        )
      ).id,
    );
    expect(renamed.state).toBe('applied');
    expect((await room.nobody().get('/weed-hatch')).headers['location']).toBe('/clean-hatch');
    await apply((await preview([{ kind: 'stage', to: 'withdrawn' }], { ids: [ids[0]!] })).id);
    expect((await room.nobody().get('/clean-hatch')).status).toBe(404);
    expect(
      await room
        .db('stage_moves')
        .where({ post_id: ids[0]! })
        .orderBy('id', 'desc')
        .first('from_stage', 'to_stage', 'person_id'),
    ).toEqual({ from_stage: 'published', to_stage: 'withdrawn', person_id: room.ids.chief });
  });

  it('plans the releases of what it schedules, shifts and bins', async () => {
    const ids = await drafts(2, 'Frost');
    for (const id of ids)
      await room
        .db('all_posts')
        .where({ id })
        .update({
          slug: `frost-${id}`,
          stage: 'cleared',
          run_local: '2031-06-02 08:00',
          run_zone: 'Europe/London',
          run_at: '2031-06-02 07:00Z',
        });
    const jobs = async () =>
      (
        await room.db.raw<{ rows: { key: string; run_at: string }[] }>(
          `select key, run_at from graphile_worker.jobs where key = any(?) order by key`,
          [ids.map((id) => `release:${id}`)],
        )
      ).rows.map((r) => r.run_at);
    await apply((await preview([{ kind: 'stage', to: 'scheduled' }], { ids })).id);
    expect(await jobs()).toEqual(['2031-06-02T07:00:00Z', '2031-06-02T07:00:00Z']);
    await apply((await preview([{ kind: 'shift', days: 7, minutes: 30 }], { ids })).id);
    expect(await jobs()).toEqual(['2031-06-09T07:30:00Z', '2031-06-09T07:30:00Z']);
    const binned = await apply((await preview([{ kind: 'bin' }], { ids })).id);
    expect(await jobs()).toEqual([]);
    expect((await call('chief', 'get', `/api/posts/${ids[0]!}`)).status).toBe(404);
    expect(
      ((await call('chief', 'get', '/api/archive/ids?line=in:bin')).body as { ids: number[] }).ids.sort(),
    ).toEqual([...ids].sort());
    await revert(binned.id);
    expect([await jobs(), (await see(ids[0]!)).stage]).toEqual([
      ['2031-06-09T07:30:00Z', '2031-06-09T07:30:00Z'],
      'scheduled',
    ]);
    const spread = await preview([{ kind: 'spread', from: '2031-06-01' }], { ids });
    await apply(spread.id);
    expect((await Promise.all(ids.map(see))).map((p) => p.runLocal)).toEqual([
      '2031-06-02T08:00:00',
      '2031-06-09T08:00:00',
    ]);
  });

  it('leaves out what changed since in what it changes, and says so', async () => {
    const ids = await drafts(3, 'Pumps');
    const change = async (id: number, body: object) =>
      (await room.as('chief'))
        .patch(`/api/posts/${id}`)
        .set('If-Match', String((await see(id)).version))
        .send(body);
    const shown = await preview([{ kind: 'byline', to: room.ids.writer }], { ids });
    await change(ids[1]!, { bylineId: room.ids.otherWriter });
    expect(await apply(shown.id)).toMatchObject({ state: 'applied', counts: { changes: 2, refused: 1 } });
    expect(await told(shown.id, 'refused')).toEqual([['Pumps 2', 'It changed since the preview.']]);
    expect((await Promise.all(ids.map(see))).map((p) => p.byline?.name)).toEqual([
      'writer Test',
      'otherWriter Test',
      'writer Test',
    ]);
    const none = await preview([{ kind: 'byline', to: room.ids.chief }], { ids });
    for (const id of ids) await change(id, { bylineId: room.ids.editor });
    expect(await apply(none.id)).toMatchObject({
      state: 'failed',
      error: 'No post is still as it was previewed. Nothing was written.',
    });
    const second = await preview([{ kind: 'byline', to: room.ids.writer }], { ids });
    await change(ids[1]!, { place: 'Tolver' });
    expect((await apply(second.id)).state).toBe('applied');
    expect((await see(ids[1]!)).place).toBe('Tolver');
  });

  it('waits for another batch over the same posts, and two workers apply it once', async () => {
    const ids = await drafts(3, 'Twice');
    const [one, two] = [
      await preview([{ kind: 'campaign', to: 'Winter' }], { ids }),
      await preview([{ kind: 'campaign', to: 'Spring' }], { ids }, 'editor'),
    ];
    await call('chief', 'post', `/api/batches/${one.id}/apply`, {});
    await call('editor', 'post', `/api/batches/${two.id}/apply`, {});
    await Promise.all([
      applyBatch(room.db, one.id),
      applyBatch(room.db, one.id),
      applyBatch(room.db, two.id),
    ]);
    const states = (await room
      .db('batches')
      .whereIn('id', [one.id, two.id])
      .orderBy('id')
      .select('state')) as { state: string }[];
    expect(states.map((s) => s.state).sort()).toEqual(['applied', 'failed']);
    expect(
      await room
        .db('post_versions')
        .whereIn('post_id', ids)
        .whereRaw(`'campaign' = any(changed)`)
        .count('* as n')
        .first(),
    ).toEqual({ n: 3 });
  });

  it('killed at any point, has written nothing, and is applied by who comes next', async () => {
    const ids = await drafts(5, 'Killed');
    await room
      .db('post_tags')
      .insert(ids.map((post_id) => ({ blog_id: 1, post_id, tag_id: room.db('tags').min('id') })));
    const shown = await preview(
      [
        { kind: 'campaign', to: 'Kept' },
        { kind: 'tags become', to: [] },
        { kind: 'stage', to: 'in review' },
      ],
      { ids },
    );
    await call('chief', 'post', `/api/batches/${shown.id}/apply`, {});
    const count = async () =>
      Number(
        (await room.db('all_posts').where({ campaign: 'Kept' }).count<{ n: string }[]>('id as n'))[0]!.n,
      );
    await room.db.raw(
      `
        create function kill_me () returns trigger language plpgsql as $$ begin perform pg_terminate_backend(pg_backend_pid()); return null; end $$
      `,
    );
    for (const [table, event] of [
      ['all_posts', 'update'],
      ['post_tags', 'delete'],
      ['post_versions', 'insert'],
      ['stage_moves', 'insert'],
      ['graphile_worker._private_jobs', 'insert'],
      ['batches', 'update'],
    ]) {
      // The connection ends in the middle of the transaction, as it does when the database or the server is
      // killed.
      await room.db.raw(
        `
          create trigger kill_me after ${event} on ${table} for each statement
          execute function kill_me ()
        `,
      );
      const error = await applyBatch(room.db, shown.id).then(
        () => 'none',
        (error: Error) => error.message,
      );
      await room.db.raw(`drop trigger kill_me on ${table}`);
      expect([
        table,
        error === 'none',
        (await room.db('batches').where({ id: shown.id }).first<{ state: string }>('state'))!.state,
        await count(),
      ]).toEqual([table, false, 'waiting', 0]);
    }
    await room.db('batches').where({ id: shown.id, state: 'waiting' }).update({ made_at: '2026-01-01' });
    await planWaiting(room.db);
    await applyBatch(room.db, shown.id);
    expect([(await call('chief', 'get', `/api/batches/${shown.id}`)).body.state, await count()]).toEqual([
      'applied',
      5,
    ]);
  });

  it('is refused to those who may not, and for what is not on the blog', async () => {
    const ids = await drafts(1, 'Refused');
    const other = await room.pitch('chief', 'Engine things', { categoryId: 2 });
    expect((await call('writer', 'post', '/api/batches', { changes: [{ kind: 'bin' }], ids })).status).toBe(
      403,
    );
    expect(
      (await call('chief', 'post', '/api/batches', { changes: [{ kind: 'byline', to: 99_999 }], ids })).body
        .detail,
    ).toMatch(/not in this newsroom/);
    expect(
      (
        await call('chief', 'post', '/api/batches', {
          changes: [{ kind: 'byline', to: room.ids.reader }],
          ids,
        })
      ).status,
    ).toBe(400);
    expect(
      (
        await call('chief', 'post', '/api/batches', {
          changes: [{ kind: 'tags', gain: [99_999], lose: [] }],
          ids,
        })
      ).status,
    ).toBe(400);
    expect((await call('chief', 'post', '/api/batches', { changes: [], ids })).status).toBe(400);
    expect(
      (await call('chief', 'post', '/api/batches', { changes: [{ kind: 'stage', to: 'published' }], ids }))
        .status,
    ).toBe(400);
    expect(
      (await call('chief', 'post', '/api/batches', { changes: [{ kind: 'bin', more: 1 }], ids })).status,
    ).toBe(400);
    expect(
      (await call('chief', 'post', '/api/batches', { changes: [{ kind: 'bin' }], ids, line: '' })).status,
    ).toBe(400);
    expect(
      (await call('chief', 'post', '/api/batches', { changes: [{ kind: 'bin' }], ids: [999_999] })).body,
    ).toMatchObject({ counts: { changes: 0 } });
    expect(
      (
        await call('chief', 'post', '/api/batches', {
          changes: [
            { kind: 'replace', places: ['text'], find: '(a', with: '', pattern: true, capitals: false },
          ],
          ids,
        })
      ).body.detail,
    ).toMatch(/cannot be read/);
    const shown = await preview([{ kind: 'comments', to: false }], { ids: [...ids, other.id] }, 'editor');
    expect(shown.counts).toMatchObject({ changes: 1, refused: 1 });
    expect((await call('chief', 'post', `/api/batches/${shown.id}/apply`, {})).status).toBe(404);
    expect((await call('otherEditor', 'patch', `/api/batches/${shown.id}`, { leave: ids })).status).toBe(404);
  });

  it('is not taken back into a category that one does not edit', async () => {
    const post = await room.pitch('chief', 'From the engine', { categoryId: 2 });
    const moved = await apply((await preview([{ kind: 'category', to: 1 }], { ids: [post.id] })).id);
    expect((await call('editor', 'post', `/api/batches/${moved.id}/back`, {})).body).toMatchObject({
      counts: { changes: 0, refused: 1 },
    });
    expect((await call('chief', 'post', `/api/batches/${moved.id}/back`, {})).body).toMatchObject({
      counts: { changes: 1, refused: 0 },
    });
  });

  it('takes a pattern that would run for ever, over a long text, in bounded time', async () => {
    const [id] = await drafts(1, 'Evil');
    await room
      .db('all_posts')
      .where({ id: id! })
      .update({
        body: JSON.stringify({
          type: 'doc',
          content: [{ type: 'paragraph', content: [{ type: 'text', text: `${'a'.repeat(50_000)}!` }] }],
        }),
      });
    expect(
      await preview(
        [{ kind: 'replace', places: ['text'], find: '^(a+)+$', with: '', pattern: true, capitals: true }],
        { ids: [id!] },
      ),
    ).toMatchObject({ counts: { same: 1 } });
  });
});

describe('a batch that lightens lead pictures', () => {
  const noise = (size: number) =>
    sharp(randomBytes(size * size * 3), { raw: { width: size, height: size, channels: 3 } });
  const add = async (bytes: Buffer) =>
    (await (await room.as('chief')).post('/api/media').attach('file', bytes, 'lock.jpg')).body as MediaView;

  const lead = async (id: number, media: MediaView, alt: string) =>
    (await room.as('chief'))
      .patch(`/api/posts/${id}`)
      .set('If-Match', String((await see(id)).version))
      .send({ leadPicture: { media: media.id, alt } });

  it('keeps the heavy ones, says what it leaves, and is taken back', async () => {
    const ids = await drafts(3, 'Pictured');
    const heavy = await add(await noise(900).jpeg({ quality: 95 }).toBuffer());
    expect(heavy.size).toBeGreaterThan(400_000);
    const light = await add(await noise(60).jpeg().toBuffer());
    for (const [at, media] of [heavy, light].entries()) await lead(ids[at]!, media, 'A lock at dusk.');
    const shown = await preview([{ kind: 'lighten', max: 400_000 }], { ids });
    expect(shown).toMatchObject({
      sentence: 'Lead pictures become at most 400 kB',
      counts: { changes: 1, same: 2, refused: 0 },
    });
    expect((await apply(shown.id)).state).toBe('applied');
    const post = await see(ids[0]!);
    const made = (await call('chief', 'get', `/api/media/${post.leadPicture!.media}`)).body as MediaWhole;
    expect(made.size).toBeLessThanOrEqual(400_000);
    expect(post.leadPicture!.alt).toBe('A lock at dusk.');
    expect(await room.db('media_uses').where({ post_id: ids[0]! }).select('media_id', 'how')).toEqual([
      { media_id: made.id, how: 'lead' },
    ]);
    expect((await revert(shown.id)).state).toBe('applied');
    expect((await see(ids[0]!)).leadPicture!.media).toBe(heavy.id);
    expect(await room.db('media_uses').where({ post_id: ids[0]! }).pluck('media_id')).toEqual([heavy.id]);
  });

  it('writes nothing when a picture cannot be made so light, and names its post', async () => {
    const ids = await drafts(2, 'Too fine');
    const heavy = await add(await noise(2200).jpeg({ quality: 95 }).toBuffer());
    for (const id of ids) await lead(id, heavy, 'Water.');
    const done = await apply(
      (
        await preview(
          [
            { kind: 'lighten', max: 50_000 },
            { kind: 'comments', to: false },
          ],
          { ids },
        )
      ).id,
    );
    expect(done).toMatchObject({
      state: 'failed',
      error:
        '1 lead picture cannot be made so light and still be looked at: that of “Too fine ' +
        '1”. Leave them out, or ask for a little more. Nothing was written.',
    });
    expect(await see(ids[0]!)).toMatchObject({ comments: true, leadPicture: { media: heavy.id } });
  });
});

describe('the bin', () => {
  it(
    'gives posts back as drafts, erases them for good with a sentence, and empties ' +
      'itself only when told',
    async () => {
      const ids = await drafts(3, 'Binned');
      await room.db('all_posts').where({ id: ids[0]! }).update({
        slug: 'binned-one',
        stage: 'published',
        released_at: '2026-01-01',
        run_local: '2026-01-01',
        run_zone: 'Europe/London',
        run_at: '2026-01-01',
      });
      expect((await room.nobody().get('/binned-one')).status).toBe(200);
      await apply((await preview([{ kind: 'bin' }], { ids })).id);
      for (let i = 0; i < 50 && (await room.nobody().get('/binned-one')).status === 200; i++)
        await new Promise((done) => setTimeout(done, 20));
      expect((await room.nobody().get('/binned-one')).status).toBe(404);
      expect((await call('chief', 'post', '/api/bin/restored', { ids: [ids[0]!] })).body).toEqual({
        posts: 1,
        sentence: '“Binned 1” is back, as a draft.',
      });
      expect(await see(ids[0]!)).toMatchObject({ stage: 'drafting', runLocal: null, slug: 'binned-one' });
      expect((await call('editor', 'get', `/api/bin/erasing?ids=${ids[1]!}`)).status).toBe(403);
      expect((await call('chief', 'get', `/api/bin/erasing?ids=${ids[1]!}`)).body.sentence).toMatch(
        /^“Binned 2” goes for good, with \d+ versions?\. Pictures stay in the library\. This cannot be undone\.$/,
      );
      expect((await call('chief', 'post', '/api/bin/erased', { ids: [ids[0]!] })).body.detail).toBe(
        'None of these posts lies in the bin.',
      );
      expect((await call('chief', 'post', '/api/bin/erased', { ids: [ids[1]!] })).body.sentence).toBe(
        '“Binned 2” is erased.',
      );
      expect(await room.db('all_posts').where({ id: ids[1]! }).first('id')).toBeUndefined();
      await room.db('all_posts').where({ id: ids[2]! }).update({ binned_at: '2026-01-01' });
      await emptyBins(room.db);
      expect(await room.db('all_posts').where({ id: ids[2]! }).first('id')).toBeDefined();
      await room.db('blogs').update({ bin_days: 30 });
      await emptyBins(room.db);
      expect(await room.db('all_posts').where({ id: ids[2]! }).first('id')).toBeUndefined();
    },
  );
});
