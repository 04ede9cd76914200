import type { NewsroomBlog } from '@keyroster/contract';
import { hashPassword } from '../accounts/sign-in.js';
import { Newsroom, PASSWORD, type Who } from '../testing/newsroom.js';

describe('the people of several blogs', () => {
  let room: Newsroom;
  let weir: NewsroomBlog;
  /** Somebody's request as a page of the second blog makes it. */
  const there = async (who: Who, method: 'post' | 'patch', path: string, body: object) =>
    (await room.as(who))[method](path).set('Key-Roster-Blog', String(weir.id)).send(body);
  beforeAll(async () => {
    room = await Newsroom.make();
    const second = { title: 'Weir letters', tagline: '', zone: 'Europe/Dublin', host: null, path: '/weir' };
    weir = (await (await room.as('chief')).post('/api/blogs').send(second)).body as NewsroomBlog;
  });
  afterAll(() => room.close());

  it('keep their people: an account is its owner’s, and joins another blog by their own word', async () => {
    const { writer: writerId } = room.ids;
    const name = async () => (await room.db('people').where({ id: writerId }).first('name')).name as string;
    const before = await name();
    // The second blog is somebody else's alone.
    const [other] = await room
      .db('people')
      .insert({
        name: 'Weir Keeper',
        email: 'keeper@test.example',
        password_hash: await hashPassword(PASSWORD),
      })
      .returning('id');
    await room.db('memberships').insert({ blog_id: weir.id, person_id: other.id, role: 'managing editor' });
    const keeper = room.nobody();
    await keeper.post('/api/session').send({ email: 'keeper@test.example', password: PASSWORD });
    expect((await keeper.patch(`/api/people/${writerId}/profile`).send({ name: 'Renamed' })).status).toBe(
      404,
    );
    const email = 'writer@test.example';
    const person = { name: 'Guessed', email, role: 'contributor', categories: [] };
    const added = await keeper.post('/api/people').send({ ...person, password: 'a password of some length' });
    expect([added.status, added.text.includes(before)]).toEqual([409, false]);
    const [category] = await room.db('categories').where({ blog_id: 1 }).select('id');
    const foreign = { ...person, role: 'editor', categories: [category.id] };
    expect((await keeper.post('/api/invites').send(foreign)).status).toBe(400);
    const invited = await keeper.post('/api/invites').send(person);
    expect([invited.status, invited.text.includes(before)]).toEqual([201, false]);
    const secret = (invited.body.address as string).split('#')[1]!;
    const accept = (password: string) =>
      room.nobody().post('/api/invites/accept').send({ secret, name: 'Renamed', password });
    expect((await room.nobody().post('/api/invites/see').send({ secret })).body.hasAccount).toBe(true);
    expect((await accept('not their password')).status).toBe(400);
    expect((await keeper.get('/api/people')).text).not.toContain(before);
    expect((await accept(PASSWORD)).status).toBe(201);
    // They are on both blogs now: only their profile on this one is its managing editor's.
    for (const [path, body] of [
      [`/api/people/${writerId}/profile`, { name: 'Renamed' }],
      [`/api/people/${writerId}`, { name: 'Renamed' }],
      [`/api/people/${writerId}`, { active: false }],
    ] as const)
      expect((await keeper.patch(path).send(body)).status).toBe(403);
    const profile = await keeper.patch(`/api/people/${writerId}/profile`).send({ biography: 'On the weir.' });
    expect(profile.status).toBe(200);
    expect(await name()).toBe(before);
    const here = await (await room.as('chief')).get(`/api/people/${writerId}`);
    expect(here.body.biography).not.toBe('On the weir.');
    await room.db('memberships').where({ blog_id: weir.id, person_id: writerId }).delete();
  });

  it('close nobody’s account from a blog that is not all of theirs', async () => {
    for (const [who, role] of [
      ['othereditor', 'managing editor'],
      ['editor', 'contributor'],
    ] as const)
      await there('chief', 'post', '/api/people', {
        name: 'x',
        email: `${who}@test.example`,
        role,
        categories: [],
        password: 'a long enough password',
      });
    for (const changes of [
      { active: false },
      { name: 'Taken over' },
      { password: 'now it is mine, truly' },
    ]) {
      const answer = await there('otherEditor', 'patch', `/api/people/${room.ids.editor}`, changes);
      expect([answer.status, answer.body.code]).toEqual([403, 'not-yours']);
    }
    const less = await there('otherEditor', 'patch', `/api/people/${room.ids.editor}`, { role: 'reader' });
    expect(less.status).toBe(200);
    expect(
      (await there('chief', 'patch', `/api/people/${room.ids.editor}`, { name: 'Edda Test' })).status,
    ).toBe(200);
  });
});
