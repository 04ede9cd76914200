import request from 'supertest';
import type { TokenList, TokenMade } from '@keyroster/contract';
import type { TokenScope } from '@keyroster/core';
import { eventually, Newsroom, type Who } from '../testing/newsroom.js';

describe('keys', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const make = async (who: Who, scopes: TokenScope[] = ['create']) =>
    (await (await room.as(who)).post('/api/tokens').send({ name: 'Phone', scopes })).body as TokenMade;
  const list = async (who: Who) => ((await (await room.as(who)).get('/api/tokens')).body as TokenList).tokens;
  const works = async (secret: string) =>
    (await request(room.url).get('/micropub?q=config').set('Authorization', `Bearer ${secret}`)).status ===
    200;

  it('are told once, kept as a digest, seen by their maker and the managing editor, and end', async () => {
    const { id, secret } = await make('writer');
    expect(JSON.stringify(await room.db('tokens').where({ id }).first())).not.toContain(secret.slice(4));
    expect(await works(secret)).toBe(true);
    await eventually(async () => (await list('writer'))[0]!.lastUsedAt !== null);
    expect(JSON.stringify(await list('writer'))).not.toContain(secret.slice(4));
    expect([(await list('editor')).length, (await list('chief')).map((t) => t.mine)]).toEqual([0, [false]]);
    expect((await (await room.as('editor')).delete(`/api/tokens/${id}`)).status).toBe(404);
    expect((await (await room.as('writer')).delete(`/api/tokens/${id}`)).status).toBe(204);
    expect(await works(secret)).toBe(false);
    const other = await make('writer');
    expect((await (await room.as('chief')).delete(`/api/tokens/${other.id}`)).status).toBe(204);
    expect(await works(other.secret)).toBe(false);
  });

  it('do nothing any more once the account is closed, or the role no longer enters', async () => {
    const { secret } = await make('otherWriter');
    const change = async (changes: object) =>
      (await room.as('chief')).patch(`/api/people/${room.ids.otherWriter}`).send(changes);
    expect(await works(secret)).toBe(true);
    await change({ role: 'reader' });
    expect(await works(secret)).toBe(false);
    await change({ role: 'contributor' });
    expect(await works(secret)).toBe(true);
    await change({ active: false });
    expect(await works(secret)).toBe(false);
  });

  it('are at most twenty, also when many are made at once', async () => {
    await room.as('editor');
    const answers = await Promise.all(
      Array.from({ length: 26 }, async () =>
        (await room.as('editor')).post('/api/tokens').send({ name: 'Many', scopes: ['create'] }),
      ),
    );
    expect(answers.filter((a) => a.status === 201)).toHaveLength(20);
    expect((await list('editor')).length).toBe(20);
  });

  it('are refused without a name, a scope, or with one that is not', async () => {
    const chief = await room.as('chief');
    for (const body of [
      { name: '', scopes: ['create'] },
      { name: 'A', scopes: [] },
      { name: 'A', scopes: ['all'] },
    ])
      expect((await chief.post('/api/tokens').send(body)).status).toBe(400);
  });
});
