import { batchHands } from '../testing/batch-hands.js';
import { Newsroom } from '../testing/newsroom.js';
import { applyBatch, planWaiting } from './apply.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());
const { preview, apply, drafts } = batchHands(() => room);

describe('a batch', () => {
  it('waits for another batch over the same posts, and two workers apply it once', async () => {
    const ids = await drafts(3, 'Twice');
    const [one, two] = [
      await preview([{ kind: 'campaign', to: 'Winter' }], { ids }),
      await preview([{ kind: 'campaign', to: 'Spring' }], { ids }, 'editor'),
    ];
    await room.call('chief', 'post', `/api/batches/${one.id}/apply`, {});
    await room.call('editor', 'post', `/api/batches/${two.id}/apply`, {});
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
    for (const id of ids) await room.change('chief', id, { tags: ['ice'] });
    const shown = await preview(
      [
        { kind: 'campaign', to: 'Kept' },
        { kind: 'tags become', to: [] },
        { kind: 'stage', to: 'in review' },
      ],
      { ids },
    );
    await room.call('chief', 'post', `/api/batches/${shown.id}/apply`, {});
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
    expect([(await room.call('chief', 'get', `/api/batches/${shown.id}`)).body.state, await count()]).toEqual(
      ['applied', 5],
    );
  });

  it('is refused to those who may not, and for what is not on the blog', async () => {
    const ids = await drafts(1, 'Refused');
    const other = await room.pitch('chief', 'Engine things', { categoryId: 2 });
    expect(
      (await room.call('writer', 'post', '/api/batches', { changes: [{ kind: 'bin' }], ids })).status,
    ).toBe(403);
    expect(
      (await room.call('chief', 'post', '/api/batches', { changes: [{ kind: 'byline', to: 99_999 }], ids }))
        .body.detail,
    ).toMatch(/not in this newsroom/);
    expect(
      (
        await room.call('chief', 'post', '/api/batches', {
          changes: [{ kind: 'byline', to: room.ids.reader }],
          ids,
        })
      ).status,
    ).toBe(400);
    expect(
      (
        await room.call('chief', 'post', '/api/batches', {
          changes: [{ kind: 'tags', gain: [99_999], lose: [] }],
          ids,
        })
      ).status,
    ).toBe(400);
    expect((await room.call('chief', 'post', '/api/batches', { changes: [], ids })).status).toBe(400);
    expect(
      (
        await room.call('chief', 'post', '/api/batches', {
          changes: [{ kind: 'stage', to: 'published' }],
          ids,
        })
      ).status,
    ).toBe(400);
    expect(
      (await room.call('chief', 'post', '/api/batches', { changes: [{ kind: 'bin', more: 1 }], ids })).status,
    ).toBe(400);
    expect(
      (await room.call('chief', 'post', '/api/batches', { changes: [{ kind: 'bin' }], ids, line: '' }))
        .status,
    ).toBe(400);
    expect(
      (await room.call('chief', 'post', '/api/batches', { changes: [{ kind: 'bin' }], ids: [999_999] })).body,
    ).toMatchObject({ counts: { changes: 0 } });
    expect(
      (
        await room.call('chief', 'post', '/api/batches', {
          changes: [
            { kind: 'replace', places: ['text'], find: '(a', with: '', pattern: true, capitals: false },
          ],
          ids,
        })
      ).body.detail,
    ).toMatch(/cannot be read/);
    const shown = await preview([{ kind: 'comments', to: false }], { ids: [...ids, other.id] }, 'editor');
    expect(shown.counts).toMatchObject({ changes: 1, refused: 1 });
    expect((await room.call('chief', 'post', `/api/batches/${shown.id}/apply`, {})).status).toBe(404);
    expect((await room.call('otherEditor', 'patch', `/api/batches/${shown.id}`, { leave: ids })).status).toBe(
      404,
    );
  });

  it('is not taken back into a category that one does not edit', async () => {
    const post = await room.pitch('chief', 'From the engine', { categoryId: 2 });
    const moved = await apply((await preview([{ kind: 'category', to: 1 }], { ids: [post.id] })).id);
    expect((await room.call('editor', 'post', `/api/batches/${moved.id}/back`, {})).body).toMatchObject({
      counts: { changes: 0, refused: 1 },
    });
    expect((await room.call('chief', 'post', `/api/batches/${moved.id}/back`, {})).body).toMatchObject({
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
