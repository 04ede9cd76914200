import request from 'supertest';
import { release } from '../posts/release.js';
import { mailComments } from '../mail/comments.js';
import { LetterBox } from '../testing/letter-box.js';
import { Newsroom, eventually, fromNow } from '../testing/newsroom.js';

describe('comments', () => {
  let room: Newsroom;
  let postId: number;
  let path: string;
  const settings = async (change: object) => {
    const chief = await room.as('chief');
    const done = await chief.patch('/api/site').send(change);
    expect(done.status).toBe(200);
  };
  beforeAll(async () => {
    room = await Newsroom.make({ trustedProxies: ['loopback'] });
    const post = await room.scheduled(fromNow(-60), 'Ice on the Tolver pound');
    await release(room.db, post.id);
    postId = post.id;
    path = `/${(await room.see('chief', post.id)).slug}`;
    await settings({ comments: true });
  });
  afterAll(() => room.close());

  let addresses = 0;
  /** Sends a comment; each from an address of its own unless it is said. */
  const say = (
    text: string,
    more: Record<string, unknown> = {},
    cookie = '',
    from = `10.0.0.${++addresses}`,
  ) =>
    request(room.url)
      .post('/comment')
      .type('form')
      .set('X-Forwarded-For', from)
      .set('Cookie', cookie)
      .redirects(0)
      .send({ post: postId, name: 'Ada', email: '', text, website: '', ...more });
  const page = async () => (await request(room.url).get(path)).text;
  const list = async (query = '') => (await (await room.as('editor')).get(`/api/comments${query}`)).body;
  const move = async (ids: number[], to: string) =>
    (await room.as('editor')).post('/api/comments/moves').send({ ids, to });
  const idOf = async (text: string): Promise<number> =>
    (await room.db('comments').where({ text }).first<{ id: number }>('id')).id;
  const mark = (answer: request.Response) => answer.headers['set-cookie']![0]!.split(';')[0]!;

  it('wait when they are the first of somebody, and pass when they are known', async () => {
    expect(await page()).toContain('Nobody has said anything yet.');
    const first = await say('We were frozen in there for a week.');
    expect([first.status, first.text]).toEqual([
      200,
      expect.stringContaining('once somebody of the blog has read it'),
    ]);
    expect(await page()).not.toContain('frozen in there');
    expect(first.headers['set-cookie']![0]).toMatch(/^kr_commenter_1=[\w-]{43}; .*HttpOnly; .*SameSite=Lax/i);
    const held = await list('?state=held');
    expect(held.comments).toEqual([expect.objectContaining({ name: 'Ada', state: 'held', known: false })]);
    expect((await move([held.comments[0].id], 'approved')).body).toEqual({
      moveId: expect.any(Number),
      moved: 1,
    });
    await eventually(async () => (await page()).includes('frozen in there'));
    const second = await say('And the year after, too.', {}, mark(first));
    expect([second.status, second.headers['location']]).toEqual([
      303,
      expect.stringMatching(/#comment-\d+$/),
    ]);
    await eventually(async () => (await page()).includes('the year after, too'));
    // The name and address of somebody known make nobody known.
    const borrowed = await say('I am Ada, let me in.', { name: 'Ada', email: 'ada@example.org' });
    expect(borrowed.status).toBe(200);
  });

  it('are taken for spam by the filter and by a field that nobody sees, and nothing in the answer says so', async () => {
    const plain = await say('A quiet word about the lock.');
    const spam = await say('Cheap pills, free spins, click now http://spin-pills.biz');
    const trapped = await say('A nice word.', { website: 'https://x.example' });
    expect([spam.status, spam.text]).toEqual([plain.status, plain.text]);
    expect([trapped.status, trapped.text]).toEqual([plain.status, plain.text]);
    expect((await list('?state=spam')).comments.map((c: { text: string }) => c.text)).toEqual([
      'A nice word.',
      'Cheap pills, free spins, click now http://spin-pills.biz',
    ]);
  });

  it('show as words whatever is in them', async () => {
    const hostile = `<script>alert(1)</script> <img src=x onerror=alert(2)> "'& {{7*7}} <%= 1 %>\u202etxt\u0000`;
    await say(hostile, { name: '<b>Eve</b>' });
    const held = (await list()).comments.find((c: { name: string }) => c.name === '<b>Eve</b>');
    expect(held.text).toBe(`<script>alert(1)</script> <img src=x onerror=alert(2)> "'& {{7*7}} <%= 1 %>txt`);
    await move([held.id], 'approved');
    const html = await eventually(async () => {
      const text = await page();
      return text.includes('Eve') && text;
    });
    expect(html).not.toMatch(/<script>alert|<img src=x|<b>Eve/);
    expect(html).toContain('&lt;script&gt;alert(1)&lt;/script&gt;');
    await move([held.id], 'refused');
  });

  it('keep what was typed when something is amiss, and say what', async () => {
    for (const [more, sentence] of [
      [{ text: ' \n ' }, 'There are no words in it yet.'],
      [{ name: '' }, 'Say by which name you are called.'],
      [{ email: 'nobody' }, 'That is not an e-mail address'],
      [{ text: 'x'.repeat(5001) }, 'It has 5001 characters; 5000 are the most.'],
    ] as const) {
      const answer = await say('Worth keeping.', more);
      expect([answer.status, answer.text.includes(sentence)]).toEqual([400, true]);
      if (!('text' in more)) expect(answer.text).toContain('Worth keeping.</textarea>');
    }
    expect((await say('x', { text: ['a', 'b'] })).status).toBe(400);
    const elsewhere = await say('From another site.').set('Origin', 'https://evil.example');
    expect(elsewhere.status).toBe(403);
  });

  it('come a few at a time from one address', async () => {
    const answers = await Promise.all(
      Array.from({ length: 20 }, (_, i) => say(`Flood ${i}`, {}, '', '10.9.9.9')),
    );
    expect(answers.filter((a) => a.status === 200).length).toBe(4);
    expect(answers.filter((a) => a.status === 429).length).toBe(16);
    expect(answers.find((a) => a.status === 429)!.text).toContain('Nothing is lost');
    expect((await room.db('comments').where('text', 'like', 'Flood %')).length).toBe(4);
  });

  it('are answered one deep, by staff with a mark', async () => {
    const id = await idOf('We were frozen in there for a week.');
    expect((await request(room.url).get(`/comment/${id}`)).text).toContain('Answer Ada');
    expect((await say('So were we.', { parent: id, name: 'Bo' })).status).toBe(200);
    const answerId = await idOf('So were we.');
    // One that waits is answered by nobody, and an answer has none.
    expect((await say('Me too.', { parent: answerId })).status).toBe(404);
    await move([answerId], 'approved');
    expect((await say('Me too.', { parent: answerId })).status).toBe(404);
    const staff = await (
      await room.as('editor')
    )
      .post(`/api/comments/${answerId}/answers`)
      .send({ text: 'The pilot came.' });
    expect([staff.status, staff.body.parent.id, staff.body.by.name]).toEqual([201, id, 'editor Test']);
    const html = await eventually(async () => {
      const text = await page();
      return text.includes('The pilot came.') && text;
    });
    expect(html).toMatch(/<b>editor Test<\/b> <span class="mark">of the blog<\/span>/);
    expect(html).toMatch(/<span class="mark">of the blog|So were we/);
  });

  it('are moved together, and back, but for what somebody else moved meanwhile', async () => {
    const held = (await list('?state=held')).comments.map((c: { id: number }) => c.id);
    expect(held.length).toBeGreaterThan(3);
    const moved = await move(held, 'refused');
    expect(moved.body.moved).toBe(held.length);
    expect((await list()).counts.held).toBe(0);
    await move([held[0]], 'spam');
    const undo = async () =>
      (await room.as('chief')).post(`/api/comments/moves/${moved.body.moveId}/undo`).send({});
    expect((await undo()).body).toEqual({ restored: held.length - 1, left: 1 });
    expect((await undo()).status).toBe(410);
    expect((await list('?state=held')).comments.map((c: { id: number }) => c.id)).toEqual(held.slice(1));
    expect((await move(held, 'held')).body.moved).toBe(1);
    expect((await move([99_999], 'approved')).body).toEqual({ moveId: null, moved: 0 });
    // Where all were moved again since, nothing comes back.
    const all = await move(held, 'refused');
    await move(held, 'held');
    const nothing = await (
      await room.as('chief')
    )
      .post(`/api/comments/moves/${all.body.moveId}/undo`)
      .send({});
    expect([nothing.status, nothing.body]).toEqual([201, { restored: 0, left: held.length }]);
  });

  it('need both switches, close in time, and stay away from who may not read the post', async () => {
    const works = async () => (await say('One more.')).status;
    await settings({ comments: false });
    await eventually(async () => !(await page()).includes('comment-form'));
    expect(await page()).not.toContain('frozen in there');
    expect(await works()).toBe(404);
    await settings({ comments: true });
    await room.change('chief', postId, { comments: false });
    await eventually(async () => !(await page()).includes('comment-form'));
    expect(await works()).toBe(404);
    await room.change('chief', postId, { comments: true });
    await room
      .db('all_posts')
      .where({ id: postId })
      .update({ run_at: room.db.raw(`now() - interval '9 days'`) });
    await settings({ commentsCloseDays: 8 });
    await eventually(async () => (await page()).includes('Comments on this post are closed.'));
    expect(await page()).toContain('frozen in there');
    expect(await works()).toBe(404);
    await settings({ commentsCloseDays: null, members: true });
    await room.change('chief', postId, { access: 'members' });
    expect(await works()).toBe(404);
    expect(
      (await request(room.url).get(`/comment/${await idOf('We were frozen in there for a week.')}`)).status,
    ).toBe(404);
    await room.change('chief', postId, { access: 'everyone' });
    expect(await works()).toBe(200);
  });

  it('stand in a panel only while they show', async () => {
    const chief = await room.as('chief');
    const panel = { kind: 'recent comments', shown: true, title: '', text: '', links: [], count: 9 };
    await chief.patch('/api/site').send({ panels: [panel] });
    const front = async () => (await request(room.url).get('/')).text;
    await eventually(async () => /Lately said[^]*Ada/.test(await front()));
    await room.change('chief', postId, { access: 'staff' });
    await eventually(async () => !(await front()).includes('Lately said'));
    await room.change('chief', postId, { access: 'everyone' });
    await eventually(async () => (await front()).includes('Lately said'));
  });

  it('are told to who wrote the post, once, unless they wish for none', async () => {
    const untold = () => room.db('comments').whereNull('told_at').whereIn('state', ['held', 'approved']);
    expect((await untold()).length).toBeGreaterThan(0);
    const send = (mailServer = 'smtp://127.0.0.1:1') =>
      mailComments(room.db, { postId }, { mailServer, mailFrom: 'x@y.example', publicUrl: 'http://x' });
    // A server that is away leaves them for the next try.
    await expect(send()).rejects.toThrow(/ECONNREFUSED/);
    expect((await untold()).length).toBeGreaterThan(0);
    const box = await LetterBox.open();
    const waiting = (await untold()).length;
    expect(await send(box.url)).toBe(1);
    const [letter] = box.letters;
    const { email } = await room
      .db('people')
      .where({ id: room.ids.writer })
      .first<{ email: string }>('email');
    expect(letter).toContain(`<${email}>`);
    // A subject with other than ASCII is in Q encoding (RFC 2047, 4.2).
    expect(letter).toContain(`Subject: =?UTF-8?Q?${waiting}_comments_on_`);
    expect(letter).toContain('A quiet word about the lock.');
    expect(letter).toContain(`/desk/posts/${postId}`);
    expect(await untold()).toEqual([]);
    // What was told is told once.
    expect([await send(box.url), box.raw.length]).toEqual([0, 1]);
    await room.db('comments').update({ told_at: null });
    await (await room.as('writer')).patch('/api/me').send({ mailComments: false });
    expect(await send(box.url)).toBe(0);
    expect([await untold(), box.raw.length]).toEqual([[], 1]);
    await box.close();
  });

  it('are for who moderates', async () => {
    for (const who of ['writer', 'proofreader'] as const) {
      expect((await (await room.as(who)).get('/api/comments')).status).toBe(403);
      expect(
        (await (await room.as(who)).post('/api/comments/moves').send({ ids: [1], to: 'approved' })).status,
      ).toBe(403);
    }
    const id = await idOf('So were we.');
    expect((await (await room.as('editor')).delete(`/api/comments/${id}`)).status).toBe(403);
    await (await room.as('chief')).delete(`/api/comments/${id}`).expect(204);
  });
});
