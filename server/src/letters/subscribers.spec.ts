import { eventually, type Who } from '../testing/newsroom.js';
import { requestLetter, forgetUnconfirmed } from './sign-up.js';
import { KEY, asReader, box, postId, put, room, subscribers, useLetters } from './testing.js';

useLetters();

describe('asked for by a reader', () => {
  it('comes once they said yes in a letter, by a button and not by a link alone', async () => {
    const asked = await asReader(`/letter?post=${postId}`, { email: ' Ada@Example.org ' });
    expect([asked.status, asked.text]).toEqual([200, expect.stringContaining('Look into your mail')]);
    expect((await subscribers()).subscribers).toMatchObject([
      { email: 'ada@example.org', state: 'asked', post: { id: postId } },
    ]);
    const [letter] = await eventually(async () => box.letters.length > 0 && box.letters);
    const link = `/letter/confirm/${KEY.exec(letter!)![1]}`;
    expect((await asReader(link)).text).toContain('Yes, send me the letter');
    expect((await subscribers()).counts).toMatchObject({ asked: 1, active: 0 });
    expect((await asReader(link, {})).text).toContain('You are on the list');
    expect((await subscribers()).counts).toMatchObject({ asked: 0, active: 1 });
    expect((await asReader('/letter/confirm/1b4e28ba-2fa1-11d2-883f-0016d3cca427', {})).status).toBe(404);
    // Asked again, the same is answered and nothing is mailed.
    box.empty();
    expect((await asReader('/letter', { email: 'ada@example.org' })).text).toBe(
      (await asReader('/letter', { email: 'new@example.org' })).text,
    );
    await eventually(async () => box.letters.length > 0);
    expect(box.letters.filter((l) => l.includes('ada@example.org'))).toEqual([]);
  });

  it('is asked about three times a day, however often somebody asks', async () => {
    const often = { blogId: 1, email: 'often@example.org', postId: null };
    const ask = () => room.db.transaction((trx) => requestLetter(trx, often));
    for (let i = 0; i < 3; i++) {
      await ask();
      await eventually(async () => box.letters.length === i + 1);
    }
    await Promise.all([ask(), ask(), ask()]);
    const [row] = await room.db('subscribers').where({ email: 'often@example.org' });
    expect(row.asked_letters).toBe(3);
    expect(await room.db('graphile_worker.jobs').where({ task_identifier: 'confirmation' })).toEqual([]);
    expect(box.letters).toHaveLength(3);
  });

  it.each(['', 'nobody', 'a@b@c', `${'x'.repeat(250)}@example.org`, 'a@b.example\r\nBcc: c@d.example'])(
    'is refused for %j',
    async (email) => {
      expect((await asReader('/letter', { email })).status).toBe(400);
      expect((await subscribers()).subscribers).toEqual([]);
    },
  );
});

describe('subscribers', () => {
  const bring = async (text: string | Buffer, who: Who = 'chief') =>
    (await room.as(who)).post('/api/subscribers/import').attach('file', Buffer.from(text), 'list.csv');

  it('come from a file, each once, with what is wrong told by line', async () => {
    await put('known@example.org');
    await room
      .db('subscribers')
      .insert({ blog_id: 1, email: 'left@example.org', state: 'left', how: 'form' });
    const brought = await bring(
      'Name;E-mail\r\nAda;ADA@example.org\r\n"Bo; the\r\nsecond";bo@example.org\r\nCy;nobody\r\n' +
        'Ada again;ada@example.org\r\nK;known@example.org\r\nL;left@example.org\r\n;\r\n',
    );
    expect([brought.status, brought.body]).toEqual([
      201,
      {
        added: 2,
        known: 2,
        erased: 0,
        repeated: 1,
        wrong: [{ line: 5, text: 'Cy, nobody' }, expect.objectContaining({ line: 9 })],
        wrongCount: 2,
      },
    ]);
    const { subscribers: all } = await subscribers();
    expect(all.map((s) => [s.email, s.name, s.state])).toEqual([
      ['bo@example.org', 'Bo; the second', 'active'],
      ['ada@example.org', 'Ada', 'active'],
      // Whoever left the list is not put back on it by a file.
      ['left@example.org', '', 'left'],
      ['known@example.org', 'A reader', 'active'],
    ]);
    expect((await bring('only@example.org\nnone')).body).toMatchObject({ added: 1, wrongCount: 1 });
    expect((await bring('name\nAda')).status).toBe(400);
    expect((await bring(Buffer.from([0, 1, 2, 0, 255]))).status).toBe(415);
    expect((await bring('a@example.org', 'editor')).status).toBe(403);
  });

  it('come fifty thousand at once, and go out again as a file that spreadsheets do not run', async () => {
    const lines = Array.from({ length: 50_000 }, (_, i) =>
      i % 100 === 99 ? `wrong ${i}` : `"=cmd ${i}",reader${i % 49_000}@example.org`,
    );
    const brought = await bring(`name,email\n${lines.join('\n')}`);
    expect(brought.status).toBe(201);
    expect(brought.body.wrongCount).toBe(500);
    expect(brought.body.wrong).toHaveLength(50);
    expect(brought.body.added + brought.body.repeated).toBe(49_500);
    const csv = await (await room.as('chief')).get('/api/subscribers.csv');
    expect(csv.text.split('\r\n')).toHaveLength(brought.body.added + 2);
    expect(csv.text).toContain("\r\nreader0@example.org,'=cmd 0,active,import,");
    expect(csv.text.startsWith('\ufeff')).toBe(true);
  });

  it('come back from their own file as they were, whatever their names begin with', async () => {
    const names = ['=cmd@x', "'=cmd", "''+1", '@home', '-5', "'quoted'", 'Ann "the" Ice', 'a; b, c'];
    await room.db('subscribers').insert(
      names.map((name, i) => ({
        blog_id: 1,
        email: `r${i}@example.org`,
        name,
        state: 'active',
        how: 'form',
      })),
    );
    const { text } = await (await room.as('chief')).get('/api/subscribers.csv');
    await room.db('subscribers').delete();
    expect((await bring(text)).body).toMatchObject({ added: names.length, wrongCount: 0 });
    expect(await room.db('subscribers').orderBy('id').pluck('name')).toEqual(names);
  });

  it('come from a file with bad lines, which are named and skipped', async () => {
    const brought = await bring(
      'name,email\nAda,ada@example.org\n"Bo,bo@example.org\n"Cy" <cy@example.org>\n"Dot" <a@b>\n' +
        `Ed,"Ed Old" <ed@example.org>\n"F ""the"" F",f@example.org\n${'G,g@example.org\n'.repeat(30)}`,
    );
    expect(brought.body).toMatchObject({
      added: 5,
      repeated: 29,
      wrong: [
        { line: 3, text: '"Bo,bo@example.org' },
        { line: 5, text: '"Dot" <a@b>' },
      ],
    });
    expect((await subscribers()).subscribers.map((s) => [s.email, s.name]).reverse()).toEqual([
      ['ada@example.org', 'Ada'],
      ['cy@example.org', 'Cy'],
      ['ed@example.org', 'Ed Old'],
      ['f@example.org', 'F "the" F'],
      ['g@example.org', 'G'],
    ]);
  });

  it('who were deleted stay out of later files, and come back by themselves', async () => {
    await put('gone@example.org');
    const { id } = (await subscribers()).subscribers[0]!;
    await (await room.as('chief')).delete(`/api/subscribers/${id}`).expect(204);
    expect((await bring('gone@example.org\nnew@example.org')).body).toMatchObject({
      added: 1,
      known: 0,
      erased: 1,
    });
    const again = await room.call('chief', 'post', '/api/subscribers', {
      email: 'gone@example.org',
      name: '',
    });
    expect([again.status, again.body.detail]).toEqual([409, expect.stringContaining('sign up again')]);
    const [kept] = await room.db('erased_subscribers');
    expect(JSON.stringify(kept)).not.toContain('gone');
    await asReader('/letter', { email: 'gone@example.org' });
    const [letter] = await eventually(async () => box.letters.length > 0 && box.letters);
    await asReader(`/letter/confirm/${KEY.exec(letter!)![1]}`, {});
    expect((await subscribers()).counts.active).toBe(2);
    expect(await room.db('erased_subscribers')).toEqual([]);
  });

  it('of a million lines are refused before they are read, and of many are read while others are answered', async () => {
    const many = 'r@example.org\n'.repeat(1_000_000);
    const refused = await bring(many);
    expect([refused.status, refused.body.detail]).toEqual([413, expect.stringContaining('1,000,001 lines')]);
    const half = Array.from({ length: 100_000 }, (_, i) => `reader${i}@example.org`).join('\n');
    let brought: Awaited<ReturnType<typeof bring>> | undefined;
    const bringing = bring(half).then((reply) => (brought = reply));
    let answered = 0;
    // Read at once, the list would have held up everybody until its answer.
    while (!brought) {
      await (await room.as('editor')).get('/api/tags').expect(200);
      if (!brought) answered += 1;
    }
    await bringing;
    expect(brought.body.added).toBe(100_000);
    expect(answered).toBeGreaterThan(10);
  });

  it('of an import that is cancelled are none, and how far it is can be seen by its sender alone', async () => {
    const key = '2f1b7c1e-7a1b-4c3d-9e2f-1a2b3c4d5e6f';
    const lines = Array.from({ length: 150_000 }, (_, i) => `reader${i}@example.org`).join('\n');
    const chief = await room.as('chief');
    const sending = chief
      .post(`/api/subscribers/import?task=${key}`)
      .attach('file', Buffer.from(lines), 'list.csv');
    const ended = sending.then(
      () => 'answered',
      () => 'ended',
    );
    const task = async (who: Who) => (await (await room.as(who)).get(`/api/tasks?key=${key}`)).body.task;
    const seen = await eventually(async () => {
      const now = await task('chief');
      return now?.done > 0 && now;
    });
    expect(seen).toMatchObject({ place: 0, total: 150_000 });
    expect(await task('editor')).toBeNull();
    sending.abort();
    await ended;
    await eventually(async () => (await task('chief')) === null);
    await eventually(async () => Number((await room.db('subscriber_imports').count())[0]!['count']) === 0);
    expect((await subscribers()).counts.active).toBe(0);
  });

  it('who never said yes are forgotten after a month', async () => {
    const asked = (email: string, days: number, state = 'asked') => ({
      ...{ blog_id: 1, email, state, how: 'form' },
      asked_at: room.db.raw(`now() - make_interval(days => ?)`, [days]),
    });
    await room
      .db('subscribers')
      .insert([
        asked('old@example.org', 31),
        asked('new@example.org', 29),
        asked('on@example.org', 90, 'active'),
      ]);
    expect(await forgetUnconfirmed(room.db)).toBe(1);
    expect((await subscribers()).subscribers.map((s) => s.email)).toEqual([
      'on@example.org',
      'new@example.org',
    ]);
  });

  it('are put down by the newsroom only to be asked, taken off and deleted', async () => {
    const added = await room.call('chief', 'post', '/api/subscribers', {
      email: 'Bo@Example.org',
      name: 'Bo',
    });
    expect([added.status, added.body.state]).toEqual([201, 'asked']);
    await eventually(async () => box.letters.some((l) => l.includes('bo@example.org')));
    expect(
      (await room.call('chief', 'post', '/api/subscribers', { email: 'bo@example.org', name: '' })).status,
    ).toBe(409);
    const injected = { email: 'x@example.org', name: 'X\r\nBcc: y@example.org' };
    expect((await room.call('chief', 'post', '/api/subscribers', injected)).status).toBe(400);
    const agent = await room.as('chief');
    const { id } = added.body;
    expect((await agent.patch(`/api/subscribers/${id}`).send({ left: true })).body.state).toBe('left');
    await agent.delete(`/api/subscribers/${id}`).expect(204);
    expect((await agent.delete(`/api/subscribers/${id}`)).status).toBe(404);
  });
});
