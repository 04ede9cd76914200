import type { PersonView } from '@keyroster/contract';
import { hashPassword } from './sign-in.js';
import { Newsroom, PASSWORD, type Who } from '../testing/newsroom.js';

const cookies = (answer: { headers: Record<string, unknown> }): string[] =>
  [answer.headers['set-cookie'] ?? []].flat() as string[];

describe('accounts', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  it('signs in with a new session id, and says who is there', async () => {
    const agent = room.nobody();
    expect((await agent.get('/api/session')).body).toMatchObject({ me: null, blog: null, needsSetup: false });
    const answer = await agent
      .post('/api/session')
      .set('Cookie', 'key_roster=s%3Aplanted.x')
      .send({ email: ' Chief@TEST.example ', password: PASSWORD });
    expect(answer.body).toMatchObject({
      me: { role: 'managing editor', initials: 'CT' },
      blog: { title: 'Test Lock', zone: 'Europe/London' },
    });
    expect(cookies(answer).find((c) => c.startsWith('key_roster='))).toMatch(
      /^key_roster=(?!s%3Aplanted).*HttpOnly; SameSite=Lax/,
    );
    expect(answer.text).not.toMatch(/password|hash|argon/i);
  });

  it('keeps passwords as argon2id hashes only', async () => {
    const hashes = await room.db('people').pluck<string[]>('password_hash');
    expect(hashes.every((h) => h.startsWith('$argon2id$'))).toBe(true);
    // The same password twice: salted, so that nobody sees that it is the same.
    expect(await hashPassword(PASSWORD)).not.toBe(await hashPassword(PASSWORD));
  });

  it('gives one sentence for a wrong password and for an unknown address', async () => {
    const wrong = await room
      .nobody()
      .post('/api/session')
      .send({ email: 'chief@test.example', password: 'wrong' });
    const unknown = await room
      .nobody()
      .post('/api/session')
      .send({ email: 'nobody@test.example', password: 'wrong' });
    expect(wrong.status).toBe(401);
    expect(unknown.body).toEqual(wrong.body);
    expect(wrong.headers['content-type']).toMatch(/application\/problem\+json/);
  });

  it('stops guessing after ten tries, for the right password too', async () => {
    const guess = (password: string) =>
      room.nobody().post('/api/session').send({ email: 'otherwriter@test.example', password });
    for (let i = 0; i < 10; i++) expect((await guess(`guess ${i}`)).status).toBe(401);
    const refused = await guess(PASSWORD);
    expect(refused.status).toBe(429);
    expect(refused.body.code).toBe('too-many');
    expect(
      (await room.nobody().post('/api/session').send({ email: 'writer@test.example', password: PASSWORD }))
        .status,
    ).toBe(200);
  });

  it('locks nobody out by wrong tries from elsewhere, and lets a known device through', async () => {
    const behind = await Newsroom.make({ trustedProxies: ['loopback'] });
    const email = 'chief@test.example';
    const from = (address: string, password: string, cookie = '') =>
      behind
        .nobody()
        .post('/api/session')
        .set('X-Forwarded-For', address)
        .set('Cookie', cookie)
        .send({ email, password });
    const own = cookies(await from('198.51.100.7', PASSWORD)).find((c) =>
      c.startsWith('key_roster_device='),
    )!;
    const device = own.split(';')[0]!;
    for (let i = 0; i < 10; i++) expect((await from('203.0.113.9', 'guess')).status).toBe(401);
    // Where the guesses come from nobody signs in by password, but on a device that is known.
    expect((await from('203.0.113.9', PASSWORD)).status).toBe(429);
    expect((await from('203.0.113.9', PASSWORD, device)).status).toBe(200);
    // Everywhere else nothing happened; one IPv6 network counts as one address.
    expect((await from('198.51.100.8', PASSWORD)).status).toBe(200);
    for (let i = 0; i < 10; i++) await from(`2001:db8:0:7::${i + 1}`, 'guess');
    expect((await from('2001:db8:0:7:ffff::1', PASSWORD)).status).toBe(429);
    expect((await from('2001:db8:0:8::1', PASSWORD)).status).toBe(200);
    // A device has its own count, one that is made up has none, and one of somebody else's is no help.
    expect((await from('203.0.113.9', PASSWORD, `${device.slice(0, -2)}zz`)).status).toBe(429);
    for (let i = 0; i < 10; i++) expect((await from('203.0.113.9', 'guess', device)).status).toBe(401);
    expect((await from('203.0.113.9', PASSWORD, device)).status).toBe(429);
    expect((await from('198.51.100.8', PASSWORD)).status).toBe(200);
    await behind.close();
  });

  it('counts tries before they are made: of sixty at once ten are real', async () => {
    await room.db('sign_in_failures').delete();
    const tries = await Promise.all(
      Array.from({ length: 60 }, (_, i) =>
        room
          .nobody()
          .post('/api/session')
          .send({ email: 'otherwriter@test.example', password: `guess ${i} of many` }),
      ),
    );
    const count = (status: number) => tries.filter((t) => t.status === status).length;
    expect([count(401), count(429)]).toEqual([10, 50]);
    await room.db('sign_in_failures').delete();
  });

  it('gives a try back that was right', async () => {
    for (let i = 0; i < 14; i++) {
      const answer = await room
        .nobody()
        .post('/api/session')
        .send({ email: 'otherwriter@test.example', password: PASSWORD });
      expect(answer.status).toBe(200);
    }
    const [row] = await room.db('sign_in_failures').where('key', 'like', 'address%').select('points');
    expect((row as { points: number } | undefined)?.points ?? 0).toBe(0);
  });

  it('believes a forwarded address only from a proxy that the settings name', async () => {
    const guess = (at: Newsroom, from: string) =>
      at
        .nobody()
        .post('/api/session')
        .set('X-Forwarded-For', from)
        .send({ email: 'nobody@test.example', password: 'a wrong password' });
    const keys = async (at: Newsroom) =>
      (await at.db('sign_in_failures').where('key', 'like', 'address%').pluck<string[]>('key')).join();
    await guess(room, '203.0.113.9');
    expect(await keys(room)).not.toContain('203.0.113.9');
    await room.db('sign_in_failures').delete();
    const behind = await Newsroom.make({ trustedProxies: ['loopback'] });
    try {
      await guess(behind, '203.0.113.9');
      expect(await keys(behind)).toContain('203.0.113.9');
    } finally {
      await behind.close();
    }
  });

  it('tells addresses to those who manage people, and to everybody their own', async () => {
    const seen = async (who: Who) =>
      ((await (await room.as(who)).get('/api/people')).body as PersonView[])
        .filter((p) => p.email !== null)
        .map((p) => p.id);
    expect(await seen('writer')).toEqual([room.ids.writer]);
    expect(await seen('proofreader')).toEqual([room.ids.proofreader]);
    expect(await seen('editor')).toEqual([room.ids.editor]);
    expect((await seen('chief')).length).toBeGreaterThan(5);
  });

  it('keeps a managing editor, whoever takes whose role away at the same moment', async () => {
    for (let i = 0; i < 4; i++) {
      const chief = await room.as('chief');
      await chief.patch(`/api/people/${room.ids.otherEditor}`).send({ role: 'managing editor' });
      room.forget('otherEditor');
      const other = await room.as('otherEditor');
      const change = i % 2 === 0 ? { role: 'contributor' } : { active: false };
      const [a, b] = await Promise.all([
        chief.patch(`/api/people/${room.ids.otherEditor}`).send(change),
        other.patch(`/api/people/${room.ids.chief}`).send(change),
      ]);
      expect([a.status, b.status].filter((s) => s === 200)).toHaveLength(1);
      // Whoever lost gets it back for the next round, and for the other specs.
      await room.db('people').update({ active: true });
      await room.db('memberships').where({ person_id: room.ids.chief }).update({ role: 'managing editor' });
      await room.db('memberships').where({ person_id: room.ids.otherEditor }).update({ role: 'editor' });
      room.forget('chief');
      room.forget('otherEditor');
    }
    // Not past the application either.
    await expect(
      room.db('memberships').where({ role: 'managing editor' }).update({ role: 'editor' }),
    ).rejects.toThrow('last managing editor');
    await expect(room.db('people').where({ id: room.ids.chief }).update({ active: false })).rejects.toThrow(
      'last managing editor',
    );
  });

  it('signs out here, and everywhere', async () => {
    await (await room.as('writer')).get('/api/today');
    const [one, two] = [room.nobody(), room.nobody()];
    for (const agent of [one, two])
      await agent.post('/api/session').send({ email: 'proofreader@test.example', password: PASSWORD });
    expect((await one.delete('/api/session')).status).toBe(204);
    expect((await one.get('/api/today')).status).toBe(401);
    expect((await two.get('/api/today')).status).toBe(200);
    await one.post('/api/session').send({ email: 'proofreader@test.example', password: PASSWORD });
    expect((await one.delete('/api/sessions')).status).toBe(204);
    expect((await two.get('/api/today')).status).toBe(401);
    expect((await one.get('/api/today')).status).toBe(401);
    // Everywhere is everywhere of one's own.
    expect((await (await room.as('writer')).get('/api/today')).status).toBe(200);
  });

  it.each([
    ['a foreign origin', { Origin: 'https://evil.example' }],
    ['a cross-site fetch', { 'Sec-Fetch-Site': 'cross-site' }],
    ['a neighbouring site', { 'Sec-Fetch-Site': 'same-site', Origin: 'https://other.example' }],
    ['a null origin', { Origin: 'null' }],
  ])('refuses a write with %s', async (_, headers) => {
    const answer = await (
      await room.as('chief')
    )
      .post('/api/posts')
      .set(headers as Record<string, string>)
      .send({ title: 'Planted' });
    expect(answer.status).toBe(403);
    expect(answer.body.code).toBe('other-site');
  });

  it('changes one’s own password for whoever knows the one before, and signs out everywhere else', async () => {
    const email = 'otherwriter@test.example';
    const signedIn = async (password: string) => {
      const agent = room.nobody();
      return { agent, status: (await agent.post('/api/session').send({ email, password })).status };
    };
    const here = (await signedIn(PASSWORD)).agent;
    const elsewhere = (await signedIn(PASSWORD)).agent;
    const put = async (current: string, password: string) =>
      here.put('/api/me/password').send({ current, password });
    const wrong = await put('not this one', 'another long one');
    expect([wrong.status, wrong.body]).toMatchObject([400, { fields: [{ field: 'current' }] }]);
    expect((await put(PASSWORD, 'short')).status).toBe(400);
    expect((await put(PASSWORD, 'another long one')).status).toBe(204);
    expect((await here.get('/api/session')).body.me).not.toBeNull();
    expect((await elsewhere.get('/api/session')).body.me).toBeNull();
    expect([(await signedIn(PASSWORD)).status, (await signedIn('another long one')).status]).toEqual([
      401, 200,
    ]);
    // Guessing at an open screen is guessing.
    for (let i = 0; i < 10; i++) await put('not this one', 'another long one');
    expect((await put('another long one', 'a third long one')).status).toBe(429);
  });

  it('refuses its own host in another scheme, a foreign page that is only referred to, and what is not JSON', async () => {
    const agent = await room.as('chief');
    const before = await room.db('posts').count();
    const post = () => agent.post('/api/posts');
    const own = JSON.stringify({ title: 'Planted' });
    expect(
      (await post().set('Origin', room.url.replace('http:', 'https:')).send({ title: 'Planted' })).status,
    ).toBe(403);
    expect((await post().set('Referer', 'https://evil.example/page').send({ title: 'Planted' })).status).toBe(
      403,
    );
    expect((await post().set('Content-Type', 'text/plain').send(own)).body).toMatchObject({
      code: 'not-json',
      detail: 'Send JSON, and say so: Content-Type: application/json.',
    });
    expect(
      (await post().set('Content-Type', 'application/x-www-form-urlencoded').send('title=Planted')).status,
    ).toBe(400);
    expect(await room.db('posts').count()).toEqual(before);
  });

  it('takes a write from its own pages and from programs', async () => {
    const agent = await room.as('chief');
    expect(
      (
        await agent
          .post('/api/posts')
          .set({ 'Sec-Fetch-Site': 'same-origin', Origin: room.url })
          .send({ title: 'Own page' })
      ).status,
    ).toBe(201);
    expect((await agent.post('/api/posts').send({ title: 'A program' })).status).toBe(201);
  });

  it('adds and changes people, ends the sessions of a closed account, and guards one’s own', async () => {
    const chief = await room.as('chief');
    const added = await chief.post('/api/people').send({
      name: 'Nel Ames',
      email: 'nel@test.example',
      password: PASSWORD,
      role: 'editor',
      categories: [2],
    });
    expect(added.body).toMatchObject({ name: 'Nel Ames', role: 'editor', categories: [2] });
    expect(
      (
        await chief.post('/api/people').send({
          name: 'Twin',
          email: 'NEL@test.example',
          password: PASSWORD,
          role: 'reader',
          categories: [],
        })
      ).body.code,
    ).toBe('taken');
    const nel = room.nobody();
    await nel.post('/api/session').send({ email: 'nel@test.example', password: PASSWORD });
    expect((await nel.get('/api/today')).status).toBe(200);
    expect((await chief.patch(`/api/people/${added.body.id}`).send({ active: false })).status).toBe(200);
    expect((await nel.get('/api/today')).status).toBe(401);
    expect((await chief.patch(`/api/people/${room.ids.chief}`).send({ role: 'reader' })).body.code).toBe(
      'invalid',
    );
    expect((await chief.patch('/api/people/99999').send({ active: false })).status).toBe(404);
  });

  it('hides the demo people without the demo', async () => {
    expect((await room.nobody().get('/api/demo/people')).status).toBe(404);
  });
});

describe('first start', () => {
  it('asks for the managing editor once, even when two people try at the same time', async () => {
    const room = await Newsroom.make({ people: false });
    try {
      expect((await room.nobody().get('/api/session')).body.needsSetup).toBe(true);
      const body = {
        blogTitle: 'New Lock',
        zone: 'Europe/London',
        name: 'First',
        email: 'first@test.example',
        password: PASSWORD,
      };
      expect(
        (
          await room
            .nobody()
            .post('/api/setup')
            .send({ ...body, zone: 'Mars/Olympus' })
        ).status,
      ).toBe(400);
      expect(
        (
          await room
            .nobody()
            .post('/api/setup')
            .send({ ...body, password: 'short' })
        ).status,
      ).toBe(400);
      const answers = await Promise.all([
        room.nobody().post('/api/setup').send(body),
        room
          .nobody()
          .post('/api/setup')
          .send({ ...body, email: 'second@test.example' }),
      ]);
      expect(answers.map((a) => a.status).sort()).toEqual([201, 409]);
      expect(answers.find((a) => a.status === 201)!.body).toMatchObject({
        me: { role: 'managing editor' },
        needsSetup: false,
      });
      expect(await room.db('blogs').pluck('title')).toEqual(['New Lock']);
    } finally {
      await room.close();
    }
  });
});
