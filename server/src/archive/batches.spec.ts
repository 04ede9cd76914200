import type { BatchItemView, BatchPreview, BatchView, PostView } from '@keyroster/contract';
import { batchHands } from '../testing/batch-hands.js';
import { Newsroom } from '../testing/newsroom.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());
const { see, preview, apply, revert, sentencesOf: told, drafts } = batchHands(() => room);

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
    const items = (await room.call('chief', 'get', `/api/batches/${shown.id}/items?state=changes`))
      .body as BatchItemView[];
    expect(items.map((i) => [i.title, ...i.differences.map((d) => `${d.was} > ${d.becomes}`)])).toEqual([
      ['Stern gear 1', 'chief Test > writer Test', 'open > closed'],
      ['Stern gear 2', 'chief Test > writer Test', 'open > closed'],
      ['Stern gear 3', 'chief Test > writer Test', 'open > closed'],
      ['Stern gear 4', 'open > closed'],
    ]);
    expect(
      (await room.call('chief', 'patch', `/api/batches/${shown.id}`, { leave: [ids[1]!] })).body,
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
        (await room.call('chief', 'get', `/api/archive/ids?line=batch:${shown.id}`)).body as { ids: number[] }
      ).ids.sort(),
    ).toEqual([ids[0], ids[2], ids[3]].sort());

    // Days later one of them is somebody else's.
    await (
      await room.as('chief')
    )
      .patch(`/api/posts/${ids[2]!}`)
      .set('If-Match', String(after[2]!.version))
      .send({ bylineId: room.ids.otherWriter });
    const back = (await room.call('chief', 'post', `/api/batches/${shown.id}/back`, {})).body as BatchPreview;
    expect(back).toMatchObject({
      reverts: shown.id,
      sentence: 'Undone: Byline becomes writer Test; Comments close',
      counts: { changes: 3 },
    });
    const backItems = (await room.call('chief', 'get', `/api/batches/${back.id}/items`))
      .body as BatchItemView[];
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
    expect((await room.call('chief', 'post', `/api/batches/${shown.id}/back`, {})).body.detail).toMatch(
      /undone already/,
    );

    const log = (await room.call('editor', 'get', '/api/batches')).body as BatchView[];
    expect(log.slice(0, 2).map((b) => [b.id, b.takenBackBy])).toEqual([
      [back.id, null],
      [shown.id, back.id],
    ]);
    await revert(back.id);
    expect((await see(ids[0]!)).byline?.name).toBe('writer Test');
    expect(
      ((await room.call('chief', 'get', '/api/batches')).body as BatchView[]).find((b) => b.id === shown.id)!
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
    expect((await room.nobody().get('/clean-hatch')).status).toBe(410);
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
    expect((await room.call('chief', 'get', `/api/posts/${ids[0]!}`)).status).toBe(404);
    expect(
      (
        (await room.call('chief', 'get', '/api/archive/ids?line=in:bin')).body as { ids: number[] }
      ).ids.sort(),
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
});
