import { may, STAGES, USUAL_LIMITS } from '@keyroster/core';
import type { RolloutView } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import { Newsroom, type Who } from '../testing/newsroom.js';
import { seenOf } from './visible.js';
import { factsOf, findPost } from './store.js';

describe('what a person may see', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const read = async (who: Who, path: string) => (await room.as(who)).get(path);

  it('is the same in SQL as in core, for every role, stage and part in a post', async () => {
    const ids: number[] = [];
    for (const stage of STAGES)
      for (const [mine, waits] of [
        [true, false],
        [false, false],
        ...(stage === 'published' ? [[true, true] as const, [false, true] as const] : []),
      ]) {
        const { id } = await room.pitch('chief', `${stage} ${mine}`);
        await room
          .db('all_posts')
          .where({ id })
          .update({
            stage,
            slug: `post-${id}`,
            byline_id: room.ids.writer,
            run_local: '2026-01-05T08:00:00',
            run_zone: 'Europe/London',
            run_at: '2026-01-05T08:00:00Z',
            released_at: ['published', 'withdrawn'].includes(stage) ? '2026-01-05T08:00:00Z' : null,
            proofreader_id: mine ? room.ids.proofreader : null,
            readers_version: waits ? 1 : null,
          });
        ids.push(id);
      }
    for (const who of ['chief', 'editor', 'writer', 'proofreader', 'reader'] as const) {
      const role =
        { chief: 'managing editor', editor: 'editor', writer: 'contributor' }[who as 'chief'] ?? who;
      const person = {
        id: room.ids[who],
        role,
        blogId: 1,
        categories: [],
        name: '',
        email: '',
        mailMentions: false,
        mailComments: true,
      } as CurrentPerson;
      const seen = await seenOf(room.db, person, ids);
      for (const id of ids)
        expect([who, id, seen.has(id)]).toEqual([
          who,
          id,
          may(person, 'see', factsOf((await findPost(room.db, 1, id))!)),
        ]);
    }
  });

  it('holds for everything made of a post: cards, checks, copies, names, the bin, likeness', async () => {
    const secret = await room.pitch('chief', 'The swing bridge scandal', {
      categoryId: 1,
      bylineId: room.ids.writer,
    });
    await room.move('chief', secret.id, { to: 'commissioned' });
    await room.move('writer', secret.id, { to: 'drafting' });
    await room.write('writer', secret.id, 'Every word of this stays in the newsroom until it is read.');
    await room.change('chief', secret.id, { tags: ['unannounced'], campaign: 'Quiet spring' });
    const chief = await room.as('chief');
    const outlet = await chief.post('/api/outlets').send({
      name: 'A picture network',
      kind: 'picture network',
      protocol: 'micropub',
      address: 'https://pictures.example/micropub',
      settings: {},
      limits: { ...USUAL_LIMITS['picture network'], perHour: null, perDay: null, quiet: null },
      voice: '',
      knowsKeys: false,
      credentials: { token: 'secret' },
    });
    const made = await chief.post(`/api/posts/${secret.id}/pieces`).send({
      asks: [
        {
          kind: 'picture card',
          outletId: (outlet.body as { id: number }).id,
          instruction: '',
          style: 'wedge',
          shape: 'square',
          timing: { kind: 'same hour', minutes: 0 },
        },
      ],
    });
    expect([outlet.status, made.status]).toEqual([201, 201]);
    const { pieces } = (await read('chief', `/api/posts/${secret.id}/rollout`)).body as RolloutView;

    const copy = (await chief.post(`/api/posts/${secret.id}/copies`).send({ title: 'A copy to read' }))
      .body as {
      id: number;
    };
    await room.change('chief', copy.id, { proofreaderId: room.ids.proofreader });
    const seen = (await read('proofreader', `/api/posts/${copy.id}`)).body as { copiedFrom: unknown };
    expect(seen.copiedFrom).toBeNull();
    const checks = await read('proofreader', `/api/posts/${copy.id}/checks`);
    expect(checks.status).toBe(200);
    expect(checks.text).not.toContain('stays in the newsroom');
    expect(JSON.parse(checks.text)).toMatchObject({ source: null });
    expect((await read('chief', `/api/posts/${copy.id}/checks`)).text).toContain('stays in the newsroom');

    // The copy has the tag too, until it has none.
    await room.change('chief', copy.id, { tags: [], campaign: '' });
    expect((await read('proofreader', '/api/tags')).text).not.toContain('unannounced');
    expect((await read('chief', '/api/tags')).text).toContain('unannounced');
    const names = await read('proofreader', '/api/archive/names');
    expect(names.status).toBe(200);
    expect(names.text).not.toMatch(/unannounced|Quiet spring/);
    expect((await read('chief', '/api/archive/names')).text).toMatch(/Quiet spring/);

    for (const piece of pieces) {
      const picture = `/api/pieces/${piece.id}/picture`;
      expect([(await read('chief', picture)).status, (await read('proofreader', picture)).status]).toEqual([
        200, 404,
      ]);
    }
    expect(pieces).toHaveLength(1);

    await room.change('chief', secret.id, { proofreaderId: room.ids.proofreader });
    await room.db.raw('update all_posts set binned_at = now() where id = ?', [secret.id]);
    const bin = async (who: Who) => (await read(who, '/api/archive?line=in:bin')).text;
    expect(await bin('chief')).toContain('swing bridge scandal');
    expect(await bin('proofreader')).not.toContain('swing bridge scandal');
    const picked = await (
      await room.as('proofreader')
    )
      .post('/api/archive/picked')
      .send({ ids: [secret.id], words: 'newsroom' });
    expect(picked.text).not.toContain('stays in the newsroom');
    expect((await read('proofreader', '/api/archive/counts?line=')).body).toMatchObject({ bin: 0 });
  });

  it('keeps what waits for an update from a proofreader who is not put on the post', async () => {
    const post = await room.published('Read by everybody');
    const seen = async () => (await read('proofreader', `/api/posts/${post.id}`)).status;
    expect(await seen()).toBe(200);
    await room.change('chief', post.id, { title: 'Not public yet' });
    expect(await seen()).toBe(404);
    for (const path of ['/api/posts', '/api/posts?words=public', `/api/posts/${post.id}/preview`])
      expect([path, (await read('proofreader', path)).text.includes('Not public yet')]).toEqual([
        path,
        false,
      ]);
    await room.change('chief', post.id, { proofreaderId: room.ids.proofreader });
    expect(await seen()).toBe(200);
  });
});
