import type { PatternView, PiecesMade, RolloutView, SendView, UpdateView } from '@keyroster/contract';
import { keepWallTimes } from '../posts/release.js';
import { keepDueTimes } from './follow.js';
import { fromNow } from '../testing/newsroom.js';
import { sendPiece } from './send.js';
import {
  room,
  outlets,
  call,
  textOf,
  published,
  make,
  rollout,
  piece,
  approve,
  became,
  useOutlets,
} from '../outlets/testing.js';

useOutlets();

describe('pieces', () => {
  it('follow their post: its version, its release, its withdrawal', async () => {
    const post = await room.cleared('Follows');
    const answer = await call('writer', 'post', `/api/posts/${post.id}/pieces`, {
      asks: [
        {
          kind: 'short post',
          outletId: outlets.get('towline')!.id,
          instruction: '',
          style: 'wedge',
          shape: 'square',
          timing: { kind: 'next day', time: '12:30' },
        },
      ],
    });
    const id = (answer.body as PiecesMade).made[0]!;
    expect((await piece(post.id, id)).dueLocal).toBeNull();
    expect((await approve(id, true, 'writer')).status).toBe(403);
    await approve(id);
    await room.move('editor', post.id, { to: 'scheduled', runAt: '2041-03-02T08:00' });
    expect((await piece(post.id, id)).dueLocal).toBe('2041-03-03T12:30:00');
    await room.change('chief', post.id, { runAt: '2041-07-08T08:00' } as never);
    const moved = await piece(post.id, id);
    expect(moved.dueLocal).toBe('2041-07-09T12:30:00');
    expect((await room.db('sends').where({ piece_id: id }).first<{ due_at: string }>('due_at'))!.due_at).toBe(
      '2041-07-09T11:30:00Z',
    );
    expect(
      (await call('chief', 'get', '/api/planner/pieces?from=2041-07-01&to=2041-07-31')).body,
    ).toMatchObject([{ id, local: '2041-07-09T12:30:00', outlet: 'Towline', state: 'waiting' }]);
    await room.move('editor', post.id, { to: 'cleared' });
    expect((await piece(post.id, id)).dueLocal).toBeNull();
    const out = await published('Withdrawn later');
    const late = await make(out, 'short post', 'towline', { timing: { kind: 'next month', time: '09:00' } });
    await approve(late.id);
    await room.move('chief', out, { to: 'withdrawn', note: 'A mistake.' });
    expect((await piece(out, late.id)).send).toMatchObject({
      state: 'stopped',
      error: 'Its post was withdrawn.',
    });
  });

  it('of a post for staff only stay in the house, wherever they are on their way', async () => {
    const id = await published('For our eyes');
    const item = await make(id, 'newsletter item', 'chandlers-row');
    const waiting = await make(id, 'short post', 'towline', {
      timing: { kind: 'next month', time: '09:00' },
    });
    await approve(item.id);
    await became(id, item.id, 'sent');
    await approve(waiting.id);
    const feed = async () => (await fetch(outlets.get('chandlers-row')!.feeds!.json)).text();
    expect(await feed()).toContain('says For our eyes');
    await room.change('chief', id, { access: 'staff' } as never);
    expect(await feed()).not.toContain('says For our eyes');
    const late = await make(id, 'short post', 'towline');
    expect((await approve(late.id)).body.detail).toBe('Its post is for staff only; nothing of it goes out.');
    // All at once says why, too.
    const all = await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    expect([all.status, all.body.detail]).toEqual([
      400,
      'Its post is for staff only; nothing of it goes out.',
    ]);
    await room
      .db('pieces')
      .where({ id: waiting.id })
      .update({ due_at: fromNow(-1) });
    await room
      .db('sends')
      .where({ piece_id: waiting.id })
      .update({ due_at: fromNow(-1) });
    const { send } = await piece(id, waiting.id);
    await sendPiece(room.db, send!.id, room.running.services.settings);
    expect((await became(id, waiting.id, 'stopped'))!.send!.error).toBe(
      'Its post is for staff only; nothing of it goes out.',
    );
  });

  it('read out the words that are drawn, also after these were changed', async () => {
    const id = await published('Read out');
    const card = await make(id, 'picture card', 'porthole');
    expect(card.alt).toContain(card.words);
    await call('chief', 'patch', `/api/pieces/${card.id}`, { words: 'Two drops a minute' }, card.version);
    expect((await piece(id, card.id)).alt).toBe('A square card with the words “Two drops a minute”.');
    await call(
      'chief',
      'patch',
      `/api/pieces/${card.id}`,
      { words: 'Three', alt: 'A card in green' },
      card.version + 1,
    );
    expect((await piece(id, card.id)).alt).toBe('A card in green');
  });

  it('whose pictures cannot be made so light fail with a sentence', async () => {
    const id = await published('Heavy');
    const limitTo = (bytes: number) =>
      room.db.raw(`update outlets set limits = jsonb_set(limits, '{pictureBytes}', ?) where id = ?`, [
        String(bytes),
        outlets.get('porthole')!.id,
      ]);
    await limitTo(1000);
    const card = await make(id, 'picture card', 'porthole');
    await approve(card.id);
    expect((await became(id, card.id, 'failed'))!.send!.error).toMatch(
      /^A picture cannot be made as light as \S+ takes \(1 kB\)\.$/,
    );
    await limitTo(outlets.get('porthole')!.limits.pictureBytes!);
  });

  it('say when their post moved on, and are rebuilt; a person’s words only when they say so', async () => {
    const id = await published('Moves on');
    const made = await make(id, 'short post', 'towline', { timing: { kind: 'next month', time: '09:00' } });
    expect(made.moved.what).toBe('nothing');
    const used = made.usedNow.map((at) => textOf('Moves on')[at]!);
    const text = textOf('Moves on').map((t) =>
      t === used[0] ? t.replace(/\.$/, ', as everyone knows.') : t,
    );
    await (
      await room.as('chief')
    )
      .put(`/api/posts/${id}/body`)
      .set('If-Match', String((await room.see('chief', id)).version))
      .send({
        body: {
          type: 'doc',
          content: text.map((t) => ({ type: 'paragraph', content: [{ type: 'text', text: t }] })),
        },
      });
    // Pieces are made of what readers see; what an update would leave behind is said before it.
    expect((await piece(id, made.id)).moved.what).toBe('nothing');
    const update = (await call('chief', 'get', `/api/posts/${id}/update`)).body as UpdateView;
    expect(update.behind).toMatchObject([{ id: made.id, kind: 'short post', sent: false }]);
    expect((await room.update('chief', id)).status).toBe(200);
    const stale = await piece(id, made.id);
    expect(stale.moved).toMatchObject({
      what: 'used',
      used: [{ was: used[0], is: expect.stringMatching(/as everyone knows/) }],
    });
    const rebuilt = await call('chief', 'post', `/api/pieces/${made.id}/versions`, {}, stale.version);
    expect((rebuilt.body as RolloutView).pieces[0]).toMatchObject({
      moved: { what: 'nothing' },
      parts: [expect.stringMatching(/as everyone knows/)],
      edited: false,
    });
    const edited = (
      await call('chief', 'patch', `/api/pieces/${made.id}`, { parts: ['My own words.'] }, stale.version + 1)
    ).body as RolloutView;
    expect(edited.pieces[0]).toMatchObject({ edited: true, parts: ['My own words.'] });
    expect(
      (
        await call(
          'chief',
          'post',
          `/api/pieces/${made.id}/versions`,
          { another: true },
          edited.pieces[0]!.version,
        )
      ).status,
    ).toBe(409);
    expect((await call('chief', 'patch', `/api/pieces/${made.id}`, { parts: ['Too late.'] }, 1)).status).toBe(
      412,
    );
    const another = (
      await call(
        'chief',
        'post',
        `/api/pieces/${made.id}/versions`,
        { another: true, overwrite: true },
        edited.pieces[0]!.version,
      )
    ).body as RolloutView;
    expect(another.pieces[0]!.usedNow.some((u) => made.usedNow.includes(u))).toBe(false);
    expect(another.pieces[0]!.versions.map((v) => v.opening)).toContain('My own words.');
    const back = (
      await call(
        'chief',
        'post',
        `/api/pieces/${made.id}/restored`,
        { version: edited.pieces[0]!.version },
        another.pieces[0]!.version,
      )
    ).body as RolloutView;
    expect(back.pieces[0]).toMatchObject({ parts: ['My own words.'], edited: true });
    expect((await call('chief', 'delete', `/api/pieces/${made.id}`)).body).toMatchObject({ pieces: [] });
  });

  it('come from patterns, which a rollout can be kept as', async () => {
    const id = await published('Patterned');
    await make(id, 'short post', 'towline', { timing: { kind: 'same day', time: '12:30' } });
    await make(id, 'quote card', 'porthole', {
      timing: { kind: 'weekday', weekday: 5, time: '17:00' },
      style: 'ruled',
      shape: 'portrait',
    });
    const kept = (
      await call('chief', 'post', '/api/rollout-patterns/kept', {
        postId: id,
        name: 'Evergreen how-to',
        formatId: null,
        categoryId: 1,
      })
    ).body as PatternView[];
    expect(kept[0]!.stops).toHaveLength(2);
    // Under a name that is taken nothing is kept, and nobody saves over what somebody else changed.
    const again = await call('chief', 'post', '/api/rollout-patterns/kept', {
      postId: id,
      name: 'EVERGREEN how-to',
      formatId: null,
      categoryId: null,
    });
    expect([again.status, again.body.fields[0].field]).toEqual([409, 'name']);
    const { id: patternId, version, ...as } = kept[0]!;
    const save = async (name: string) =>
      (await room.as('editor'))
        .patch(`/api/rollout-patterns/${patternId}`)
        .set('If-Match', `"${version}"`)
        .send({ ...as, name });
    expect((await save('Evergreen how-to, long')).status).toBe(200);
    const late = await save('Evergreen how-to');
    expect([late.status, late.body.detail]).toEqual([412, expect.stringContaining('changed this pattern')]);
    expect((await call('chief', 'get', '/api/rollout-patterns')).body).toMatchObject([
      { name: 'Evergreen how-to, long', version: version + 1 },
    ]);
    const other = await published('Another');
    expect((await rollout(other)).patterns[0]).toMatchObject({
      name: 'Evergreen how-to, long',
      categoryId: 1,
    });
    expect(
      (
        (await call('chief', 'post', `/api/posts/${other}/rollout`, { patternId: kept[0]!.id }))
          .body as PiecesMade
      ).made,
    ).toHaveLength(2);
    expect((await rollout(other)).pieces.map((p) => [p.kind, p.style, p.shape])).toContainEqual([
      'quote card',
      'ruled',
      'portrait',
    ]);
  });

  it('are not for those who may not: other writers, proofreaders, readers', async () => {
    const id = await published('Closed doors');
    const ask = {
      asks: [
        {
          kind: 'short post',
          outletId: outlets.get('towline')!.id,
          instruction: '',
          style: 'wedge',
          shape: 'square',
          timing: { kind: 'same hour', minutes: 0 },
        },
      ],
    };
    expect((await call('otherWriter', 'post', `/api/posts/${id}/pieces`, ask)).status).toBe(403);
    expect((await call('otherEditor', 'post', `/api/posts/${id}/pieces`, ask)).status).toBe(403);
    expect((await call('proofreader', 'post', `/api/posts/${id}/pieces`, ask)).status).toBe(403);
    expect((await call('reader', 'get', `/api/posts/${id}/rollout`)).status).toBe(403);
    expect(
      (
        await call('chief', 'post', `/api/posts/${id}/pieces`, {
          asks: [{ ...ask.asks[0], kind: 'gallery' }],
        })
      ).body,
    ).toEqual({ made: [], refused: ['Gallery for Towline: The post has no pictures to caption.'] });
    const log = (await call('writer', 'get', '/api/sends?state=sent')).body as SendView[];
    expect(log.length).toBeGreaterThan(0);
  });

  it('keep their wall times with those of their post when the rules of a zone change', async () => {
    const post = await room.scheduled('2031-07-07T08:00', 'Under other rules');
    const after = await make(post.id, 'short post', 'towline', {
      timing: { kind: 'same hour', minutes: 30 },
    });
    const dated = await make(post.id, 'question', 'towline', {
      timing: { kind: 'date', local: '2031-07-09T09:00:00' },
    });
    const times = async () => [
      (await room.see('chief', post.id)).runAt,
      ...(await room.db('pieces').whereIn('id', [after.id, dated.id]).orderBy('id').pluck('due_at')),
    ];
    const right = ['2031-07-07T07:00:00Z', '2031-07-07T07:30:00Z', '2031-07-09T08:00:00Z'];
    expect(await times()).toEqual(right);
    // As they would stand had they been planned before London's summer time was an hour ahead.
    await room.db('all_posts').where({ id: post.id }).update({ run_at: '2031-07-07T08:00:00Z' });
    await room.db('pieces').where({ id: after.id }).update({ due_at: '2031-07-07T08:30:00Z' });
    await room.db('pieces').where({ id: dated.id }).update({ due_at: '2031-07-09T09:00:00Z' });
    await keepWallTimes(room.db);
    expect((await times()).slice(0, 2)).toEqual(right.slice(0, 2));
    await keepDueTimes(room.db);
    expect(await times()).toEqual(right);
    expect(
      await room
        .db('graphile_worker.jobs')
        .where({ key: `release:${post.id}` })
        .pluck('run_at'),
    ).toEqual([right[0]]);
  });

  it('of older posts are proposed in a rotation and made', async () => {
    const id = await published('Old and good');
    await room.db('all_posts').where({ id }).update({
      run_local: '2026-01-05 08:00',
      run_at: '2026-01-05T08:00:00Z',
      released_at: '2026-01-05T08:00:00Z',
    });
    await room.db('post_reads').insert({ post_id: id, day: '2026-02-01', reads: 900 });
    const proposed = (await call('chief', 'get', '/api/evergreens?restDays=30')).body as {
      id: number;
      outletId: number;
      local: string;
      why: string;
    }[];
    expect(proposed.map((p) => p.id)).toEqual([id]);
    expect(proposed[0]!.why).toMatch(/^900 reads/);
    const made = (
      await call('chief', 'post', '/api/evergreens', {
        stops: [{ postId: id, outletId: proposed[0]!.outletId, local: proposed[0]!.local }],
        kind: 'question',
        instruction: 'warm',
      })
    ).body as PiecesMade;
    expect((await piece(id, made.made[0]!)).dueLocal).toBe(proposed[0]!.local);
  });
});
