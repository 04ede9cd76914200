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
