import { Newsroom, PASSWORD } from '../testing/newsroom.js';

describe('accounts', () => {
  let room: Newsroom;
  beforeAll(async () => { room = await Newsroom.make(); });
  afterAll(() => room.close());

  it('signs in with a new session id, and says who is there', async () => {
    const agent = room.nobody();
    expect((await agent.get('/api/session')).body).toMatchObject({ me: null, blog: null, needsSetup: false });
    const answer = await agent.post('/api/session').set('Cookie', 'key_roster=s%3Aplanted.x').send({ email: ' Chief@TEST.example ', password: PASSWORD });
    expect(answer.body).toMatchObject({ me: { role: 'managing editor', initials: 'CT' }, blog: { title: 'Test Lock', zone: 'Europe/London' } });
    expect(answer.headers['set-cookie']?.[0]).toMatch(/^key_roster=(?!s%3Aplanted).*HttpOnly; SameSite=Lax/);
    expect(answer.text).not.toMatch(/password|hash|argon/i);
  });

  it('keeps passwords as argon2id hashes only', async () => {
    const hashes = await room.db('people').pluck<string[]>('password_hash');
    expect(hashes.every((h) => h.startsWith('$argon2id$'))).toBe(true);
    expect(new Set(hashes).size).toBe(hashes.length);
  });

  it('gives one sentence for a wrong password and for an unknown address', async () => {
    const wrong = await room.nobody().post('/api/session').send({ email: 'chief@test.example', password: 'wrong' });
    const unknown = await room.nobody().post('/api/session').send({ email: 'nobody@test.example', password: 'wrong' });
    expect(wrong.status).toBe(401);
    expect(unknown.body).toEqual(wrong.body);
    expect(wrong.headers['content-type']).toMatch(/application\/problem\+json/);
  });

  it('stops guessing after ten tries, for the right password too', async () => {
    const guess = (password: string) => room.nobody().post('/api/session').send({ email: 'otherwriter@test.example', password });
    for (let i = 0; i < 10; i++) expect((await guess(`guess ${i}`)).status).toBe(401);
    const refused = await guess(PASSWORD);
    expect(refused.status).toBe(429);
    expect(refused.body.code).toBe('too-many');
    expect((await room.nobody().post('/api/session').send({ email: 'writer@test.example', password: PASSWORD })).status).toBe(200);
  });

  it('signs out here, and everywhere', async () => {
    const [one, two] = [room.nobody(), room.nobody()];
    for (const agent of [one, two]) await agent.post('/api/session').send({ email: 'proofreader@test.example', password: PASSWORD });
    expect((await one.delete('/api/session')).status).toBe(204);
    expect((await one.get('/api/today')).status).toBe(401);
    expect((await two.get('/api/today')).status).toBe(200);
    await one.post('/api/session').send({ email: 'proofreader@test.example', password: PASSWORD });
    expect((await one.delete('/api/sessions')).status).toBe(204);
    expect((await two.get('/api/today')).status).toBe(401);
    expect((await one.get('/api/today')).status).toBe(401);
  });

  it.each([
    ['a foreign origin', { Origin: 'https://evil.example' }],
    ['a cross-site fetch', { 'Sec-Fetch-Site': 'cross-site' }],
    ['a neighbouring site', { 'Sec-Fetch-Site': 'same-site', Origin: 'https://other.example' }],
    ['a null origin', { Origin: 'null' }],
  ])('refuses a write with %s', async (_, headers) => {
    const answer = await (await room.as('chief')).post('/api/posts').set(headers as Record<string, string>).send({ title: 'Planted' });
    expect(answer.status).toBe(403);
    expect(answer.body.code).toBe('other-site');
  });

  it('takes a write from its own pages and from programs', async () => {
    const agent = await room.as('chief');
    expect((await agent.post('/api/posts').set({ 'Sec-Fetch-Site': 'same-origin', Origin: room.url }).send({ title: 'Own page' })).status).toBe(201);
    expect((await agent.post('/api/posts').send({ title: 'A program' })).status).toBe(201);
  });

  it('adds and changes people, ends the sessions of a closed account, and guards one’s own', async () => {
    const chief = await room.as('chief');
    const added = await chief.post('/api/people').send({ name: 'Nel Ames', email: 'nel@test.example', password: PASSWORD, role: 'editor', categories: [2] });
    expect(added.body).toMatchObject({ name: 'Nel Ames', role: 'editor', categories: [2] });
    expect((await chief.post('/api/people').send({ name: 'Twin', email: 'NEL@test.example', password: PASSWORD, role: 'reader', categories: [] })).body.code).toBe('taken');
    const nel = room.nobody();
    await nel.post('/api/session').send({ email: 'nel@test.example', password: PASSWORD });
    expect((await nel.get('/api/today')).status).toBe(200);
    expect((await chief.patch(`/api/people/${added.body.id}`).send({ active: false })).status).toBe(200);
    expect((await nel.get('/api/today')).status).toBe(401);
    expect((await chief.patch(`/api/people/${room.ids.chief}`).send({ role: 'reader' })).body.code).toBe('invalid');
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
      const body = { blogTitle: 'New Lock', zone: 'Europe/London', name: 'First', email: 'first@test.example', password: PASSWORD };
      expect((await room.nobody().post('/api/setup').send({ ...body, zone: 'Mars/Olympus' })).status).toBe(400);
      expect((await room.nobody().post('/api/setup').send({ ...body, password: 'short' })).status).toBe(400);
      const answers = await Promise.all([room.nobody().post('/api/setup').send(body), room.nobody().post('/api/setup').send({ ...body, email: 'second@test.example' })]);
      expect(answers.map((a) => a.status).sort()).toEqual([201, 409]);
      expect(answers.find((a) => a.status === 201)!.body).toMatchObject({ me: { role: 'managing editor' }, needsSetup: false });
      expect(await room.db('blogs').pluck('title')).toEqual(['New Lock']);
    } finally {
      await room.close();
    }
  });
});
