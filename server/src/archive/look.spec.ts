import type { BatchPreview } from '@keyroster/contract';
import type { BatchChange } from '@keyroster/core';
import { Newsroom, type Who } from '../testing/newsroom.js';
import { applyBatch } from './apply.js';
import { lookThrough, planLooking } from './look.js';

const POSTS = 230;
const REPLACE: BatchChange = {
  kind: 'replace',
  places: ['text'],
  find: '(\\w+) gland',
  with: 'gland, $1',
  pattern: true,
  capitals: true,
};

let room: Newsroom;
let ids: number[];

beforeAll(async () => {
  room = await Newsroom.make();
  const { rows } = await room.db.raw<{ rows: { id: number }[] }>(
    `
      insert into all_posts (blog_id, stage, title, byline_id, created_by, body, body_text)
      select 1, 'drafting', 'Stern gear ' || n, ?, ?,
        jsonb_build_object('type', 'doc', 'content', jsonb_build_array(jsonb_build_object(
          'type', 'paragraph',
          'content', jsonb_build_array(jsonb_build_object('type', 'text',
            'text', case when n % 10 = 0 then 'Nothing drips.' else 'A stern gland drips, ' || n end))))),
        ''
      from generate_series(1, ${POSTS}) n
      returning id
    `,
    [room.ids.chief, room.ids.chief],
  );
  ids = rows.map((r) => r.id);
});
afterAll(() => room.close());

const post = async (path: string, body: object, who: Who = 'chief') =>
  (await room.as(who)).post(path).send(body);
const see = async (id: number) =>
  (await (await room.as('chief')).get(`/api/batches/${id}`)).body as BatchPreview;
const begin = async () => (await post('/api/batches', { changes: [REPLACE], ids })).body as BatchPreview;
const jobs = async (id: number) =>
  (
    await room.db.raw<{ rows: { key: string }[] }>(`select key from graphile_worker.jobs where key = ?`, [
      `look:${id}`,
    ])
  ).rows.length;

describe('looking through many texts', () => {
  it('is a job that says how far it is, and ends in a preview that can be applied', async () => {
    const begun = await begin();
    expect(begun).toMatchObject({ state: 'looking', done: 0, chosen: POSTS });
    expect(await jobs(begun.id)).toBe(1);
    expect((await post(`/api/batches/${begun.id}/apply`, {})).status).toBe(400);

    const seen: number[] = [];
    const listening = setInterval(() => void see(begun.id).then((b) => seen.push(b.done)), 5);
    await lookThrough(room.db, begun.id);
    clearInterval(listening);
    const shown = await see(begun.id);
    expect(shown).toMatchObject({
      state: 'previewed',
      chosen: 0,
      done: 0,
      counts: { changes: 207, same: 23, refused: 0, left: 0 },
    });
    expect(seen.some((done) => done === 100 || done === 200)).toBe(true);

    expect((await post(`/api/batches/${begun.id}/apply`, {})).status).toBe(201);
    await applyBatch(room.db, begun.id);
    expect(await see(begun.id)).toMatchObject({ state: 'applied', counts: { changes: 207 } });
    const { rows } = await room.db.raw<{ rows: { text: string }[] }>(
      `select body_text as text from all_posts where body_text like 'A gland, stern drips%'`,
    );
    expect(rows).toHaveLength(207);

    // Taking it back reads the texts, too.
    const back = (await post(`/api/batches/${begun.id}/back`, { force: false })).body as BatchPreview;
    expect(back).toMatchObject({ state: 'looking', chosen: 207 });
    await lookThrough(room.db, back.id);
    expect(await see(back.id)).toMatchObject({ state: 'previewed', counts: { changes: 207 } });
    await post(`/api/batches/${back.id}/apply`, {});
    await applyBatch(room.db, back.id);
    expect(await see(back.id)).toMatchObject({ state: 'applied' });
  });

  it('ends when it is cancelled, and leaves nothing', async () => {
    const { id } = await begin();
    expect((await post(`/api/batches/${id}/cancel`, {}, 'editor')).status).toBe(404);
    const looking = lookThrough(room.db, id);
    expect((await post(`/api/batches/${id}/cancel`, {})).status).toBe(200);
    await looking;
    expect((await (await room.as('chief')).get(`/api/batches/${id}`)).status).toBe(404);
    expect(await room.db('batch_items').where({ batch_id: id }).first('post_id')).toBeUndefined();
  });

  it('gives way to the next one of the same person', async () => {
    const first = await begin();
    const second = await begin();
    await lookThrough(room.db, first.id);
    await lookThrough(room.db, second.id);
    expect((await (await room.as('chief')).get(`/api/batches/${first.id}`)).status).toBe(404);
    expect((await see(second.id)).counts.changes).toBe(207);
  });

  it('is begun anew when its process ended half-way, and two at a time make one preview', async () => {
    const { id } = await begin();
    await room.db('batches').where({ id }).update({ done: 100, looked_at: '2026-01-01' });
    await room.db.raw(`select graphile_worker.remove_job(?)`, [`look:${id}`]);
    await planLooking(room.db);
    expect(await jobs(id)).toBe(1);
    await Promise.all([lookThrough(room.db, id), lookThrough(room.db, id)]);
    expect(await see(id)).toMatchObject({ state: 'previewed', counts: { changes: 207, same: 23 } });
  });

  it('says why it failed', async () => {
    const { id } = await begin();
    const { id: person_id } = await room
      .db('people')
      .insert({ name: 'Gone', email: 'gone@example.test', password_hash: 'x' })
      .returning('id')
      .then(([r]) => r as { id: number });
    await room.db('batches').where({ id }).update({ person_id });
    await lookThrough(room.db, id);
    expect(await see(id)).toMatchObject({
      state: 'failed',
      error: 'The person who requested this has no account here any more. Nothing was written.',
    });
  });
});
