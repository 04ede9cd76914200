import { HtmlValidate } from 'html-validate';
import { simpleParser } from 'mailparser';
import { createTransport } from 'nodemailer';
import request from 'supertest';
import type { LetterView, SubscribersPage } from '@keyroster/contract';
import { findPerson } from '../accounts/who.js';
import { editPosts } from '../posts/edit.js';
import { release } from '../posts/release.js';
import { LetterBox } from '../testing/letter-box.js';
import { Newsroom, eventually, fromNow, type Who } from '../testing/newsroom.js';
import { openMailIn } from './incoming.js';
import { handOver } from './send.js';
import { askForLetter, forgetUnconfirmed } from './sign-up.js';

const KEY = /\/letter\/(?:leave|confirm)\/([0-9a-f-]{36})/;

describe('the letter', () => {
  let room: Newsroom;
  let box: LetterBox;
  let postId: number;
  beforeAll(async () => {
    box = await LetterBox.open();
    room = await Newsroom.make({ jobs: true, mailServer: box.url });
    const post = await room.scheduled(fromNow(-60), 'Ice on the pound');
    await release(room.db, post.id);
    postId = post.id;
  });
  afterAll(async () => {
    await room.close();
    await box.close();
  });
  beforeEach(async () => {
    box.empty();
    box.refuses = () => null;
    await room.db('letters').delete();
    await room.db('subscribers').delete();
  });

  const asReader = (path: string, form: object | null = null) =>
    form === null ? request(room.url).get(path) : request(room.url).post(path).type('form').send(form);
  const subscribers = async (): Promise<SubscribersPage> =>
    (await (await room.as('chief')).get('/api/subscribers')).body;
  const put = async (...emails: string[]) => {
    await room
      .db('subscribers')
      .insert(
        emails.map((email) => ({ blog_id: 1, email, name: 'A reader', state: 'active', how: 'import' })),
      );
  };
  const call = async (
    who: Who,
    method: 'get' | 'post' | 'put' | 'delete',
    path: string,
    body: object = {},
  ) => {
    const agent = await room.as(who);
    return method === 'get' ? agent.get(path) : agent[method](path).send(body);
  };
  const draft = async (...postIds: number[]): Promise<LetterView> =>
    (await call('editor', 'post', '/api/letters', { postIds })).body;
  const send = async ({ id, version }: LetterView) =>
    call('editor', 'post', `/api/letters/${id}/send`, { version });
  const seen = async (id: number): Promise<LetterView> =>
    (await call('editor', 'get', `/api/letters/${id}`)).body;
  const out = (id: number) =>
    eventually(async () => {
      const letter = await seen(id);
      return letter.state === 'sent' && letter;
    });

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
      const ask = () => room.db.transaction((trx) => askForLetter(trx, often));
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
      const added = await call('chief', 'post', '/api/subscribers', { email: 'Bo@Example.org', name: 'Bo' });
      expect([added.status, added.body.state]).toEqual([201, 'asked']);
      await eventually(async () => box.letters.some((l) => l.includes('bo@example.org')));
      expect(
        (await call('chief', 'post', '/api/subscribers', { email: 'bo@example.org', name: '' })).status,
      ).toBe(409);
      const injected = { email: 'x@example.org', name: 'X\r\nBcc: y@example.org' };
      expect((await call('chief', 'post', '/api/subscribers', injected)).status).toBe(400);
      const agent = await room.as('chief');
      const { id } = added.body;
      expect((await agent.patch(`/api/subscribers/${id}`).send({ left: true })).body.state).toBe('left');
      await agent.delete(`/api/subscribers/${id}`).expect(204);
      expect((await agent.delete(`/api/subscribers/${id}`)).status).toBe(404);
    });
  });

  describe('sent', () => {
    it('reaches everybody on the list once, with all that a list owes its readers', async () => {
      await put('ada@example.org', 'bo@example.org', 'cy@example.org');
      await room
        .db('subscribers')
        .insert({ blog_id: 1, email: 'asked@example.org', state: 'asked', how: 'form' });
      const letter = await draft(postId);
      expect(letter).toMatchObject({ subject: 'Ice on the pound', state: 'draft', subscribers: 3 });
      const changed = await call('editor', 'put', `/api/letters/${letter.id}`, {
        version: letter.version,
        subject: 'Éclusiers & ice ☂ this week',
        intro: 'Dear all,\n\nit froze. <b>Not bold.</b>',
        whole: true,
        postIds: [postId],
      });
      expect(changed.status).toBe(200);
      expect((await send(changed.body)).body.state).toBe('sending');
      const sent = await out(letter.id);
      expect(sent.counts).toMatchObject({ sent: 3, waiting: 0, failed: 0, unsure: 0, opened: null });
      const mails = await Promise.all(box.raw.map((raw) => simpleParser(raw)));
      const to = mails.map((m) => (m.to as { value: { address: string }[] }).value[0]!.address).sort();
      expect(to).toEqual(['ada@example.org', 'bo@example.org', 'cy@example.org']);
      // Fields that must stand once (RFC 5322, 3.6), and lines of at most 998 octets (2.1.1).
      for (const raw of box.raw) {
        const [head] = raw.split('\r\n\r\n');
        for (const name of ['From', 'To', 'Subject', 'Date', 'Message-ID', 'List-Id', 'List-Unsubscribe'])
          expect([name, head!.match(new RegExp(`^${name}:`, 'gim'))?.length]).toEqual([name, 1]);
        expect(head).toMatch(/^MIME-Version: 1\.0$/m);
        expect(Math.max(...raw.split('\r\n').map((l) => Buffer.byteLength(l)))).toBeLessThanOrEqual(998);
        expect(raw.replace(/\r\n/g, '')).not.toMatch(/[\r\n]/);
      }
      const [mail] = mails;
      expect(mail!.subject).toBe('Éclusiers & ice ☂ this week');
      expect(mail!.text).toContain('it froze. <b>Not bold.</b>');
      expect(mail!.text).toContain('Open the paddle slowly.');
      expect(mail!.html).toContain('it froze. &lt;b&gt;Not bold.&lt;/b&gt;');
      // RFC 8058, section 3.1: both fields, an https or http address in the first, and this value in the second.
      const headers = new Map(mail!.headerLines.map((h) => [h.key, h.line.replace(/\s+/g, ' ')]));
      expect(headers.get('list-unsubscribe-post')).toBe('List-Unsubscribe-Post: List-Unsubscribe=One-Click');
      expect(headers.get('list-unsubscribe')).toMatch(
        /^List-Unsubscribe: <http:\/\/127\.0\.0\.1[^>]*\/letter\/leave\/[0-9a-f-]{36}>, ?<mailto:leave\+[0-9a-f-]{36}@[^>]+>$/,
      );
      expect(headers.get('list-id')).toMatch(/^List-ID: "?Test Lock"? <letter-1\.[a-z0-9.-]+>$/i);
      // A key of their own each.
      expect(new Set(box.letters.map((l) => KEY.exec(l)![1])).size).toBe(3);
      const report = await new HtmlValidate({
        extends: ['html-validate:standard'],
        rules: { 'no-inline-style': 'off', 'long-title': 'off' },
      }).validateString(mail!.html as string);
      expect(report.results.flatMap((r) => r.messages.map((m) => m.message))).toEqual([]);
      // It stays as it was sent.
      expect((await send(sent)).status).toBe(409);
      const late = { version: sent.version, subject: 'Other', intro: '', whole: false, postIds: [] };
      expect((await call('editor', 'put', `/api/letters/${letter.id}`, late)).status).toBe(409);
    });

    it('is refused without a subject, for nobody, and with what not everybody may read', async () => {
      const waits = await room.cleared('Not out yet');
      const letter = await draft(postId, waits.id);
      expect(letter.posts.map((p) => p.withheld)).toEqual(['', 'It is not before readers.']);
      await put('ada@example.org');
      const refused = await send(letter);
      expect([refused.status, refused.body.detail]).toEqual([
        409,
        'Not everybody may read “Not out yet”. Take it out, or wait until readers see it.',
      ]);
      const preview = await call('editor', 'get', `/api/letters/${letter.id}/preview`);
      expect(preview.body.text).not.toContain('NOT OUT YET');
      const change = (body: object) =>
        call('editor', 'put', `/api/letters/${letter.id}`, {
          version: letter.version,
          subject: 'S',
          intro: '',
          whole: false,
          postIds: [postId],
          ...body,
        });
      expect((await change({ subject: 'Two\r\nBcc: x@y.example' })).status).toBe(400);
      const empty = await change({ subject: '' });
      expect((await send(empty.body)).body.detail).toBe('A letter needs a subject.');
      expect((await change({})).status).toBe(412);
      await room.db('subscribers').delete();
      const good = await change({ version: letter.version + 1 });
      expect((await send(good.body)).body.detail).toContain('Nobody is on the list');
      expect(box.raw).toEqual([]);
      // A hidden post is no way to read it.
      expect((await call('otherEditor', 'post', '/api/letters', { postIds: [99999] })).status).toBe(404);
    });

    it('is tried by its writer alone, with a way out that takes nobody off', async () => {
      await put('ada@example.org');
      const letter = await draft(postId);
      const tried = await call('editor', 'post', `/api/letters/${letter.id}/trial`);
      const { email } = await room
        .db('people')
        .where({ id: room.ids.editor })
        .first<{ email: string }>('email');
      expect([tried.status, tried.body]).toEqual([201, { to: email }]);
      expect(box.letters).toHaveLength(1);
      expect(box.letters[0]).toContain('Subject: Trial: Ice on the pound');
      const link = `/letter/leave/${KEY.exec(box.letters[0]!)![1]}`;
      expect((await asReader(link, {})).status).toBe(404);
      expect((await subscribers()).counts.active).toBe(1);
    });

    it('goes on later where the mail server asks for patience, and drops whom it does not know', async () => {
      await put('busy@example.org', 'gone@example.org', 'fine@example.org');
      box.refuses = (to) => (to.startsWith('busy') ? 451 : to.startsWith('gone') ? 550 : null);
      const letter = await draft(postId);
      await send(letter);
      const waits = await eventually(async () => {
        const now = await seen(letter.id);
        return now.note !== '' && now;
      });
      expect(waits).toMatchObject({
        state: 'sending',
        counts: { sent: 1, failed: 1, waiting: 1, bounced: 1 },
      });
      expect(waits.note).toContain('asks to try later (451)');
      expect((await subscribers()).counts).toMatchObject({ active: 2, bounced: 1 });
      box.refuses = () => null;
      await handOver(room.db, letter.id, room.running.services.settings);
      expect((await out(letter.id)).counts).toMatchObject({ sent: 2, failed: 1 });
      expect(box.raw).toHaveLength(2);
    });

    it('is in doubt only for whom a process that died was handing it to, and asks a person', async () => {
      await put('a@example.org', 'b@example.org', 'c@example.org');
      const letter = await draft(postId);
      // As a process leaves it that is killed while it hands one over.
      await room.db('blogs').update({ sending_stopped_at: room.db.fn.now() });
      await send(letter);
      // The job that sending began has looked and found it stopped: no process holds the letter now.
      const jobs = () => room.db('graphile_worker.jobs').where({ key: `letter:${letter.id}` });
      await eventually(async () => (await jobs()).length === 0);
      const [first] = await room.db('letter_sends').orderBy('id').pluck('id');
      await room.db('letter_sends').where({ id: first }).update({ state: 'handing' });
      await room.db('letter_sends').whereNot({ id: first }).update({ state: 'waiting' });
      await room.db('blogs').update({ sending_stopped_at: null });
      await handOver(room.db, letter.id, room.running.services.settings);
      expect((await out(letter.id)).counts).toMatchObject({ sent: 2, unsure: 1 });
      expect(box.raw).toHaveLength(2);
      // Two at once are two that find one to do.
      await Promise.all([1, 2].map(() => handOver(room.db, letter.id, room.running.services.settings)));
      expect(box.raw).toHaveLength(2);
      const settled = await call('editor', 'post', `/api/letters/${letter.id}/doubt`, { again: true });
      expect(settled.status).toBe(201);
      expect((await out(letter.id)).counts).toMatchObject({ sent: 3, unsure: 0 });
      expect(box.raw).toHaveLength(3);
      expect((await call('editor', 'post', `/api/letters/${letter.id}/doubt`, { again: false })).status).toBe(
        410,
      );
    });

    it('goes on neither without a mail server nor with what was withdrawn meanwhile', async () => {
      await put('a@example.org');
      const post = await room.scheduled(fromNow(-60), 'Soon withdrawn');
      await release(room.db, post.id);
      const letter = await draft(post.id);
      await room.db('blogs').update({ sending_stopped_at: room.db.fn.now() });
      await send(letter);
      await handOver(room.db, letter.id, { ...room.running.services.settings, mailServer: null });
      expect(await seen(letter.id)).toMatchObject({
        state: 'stopped',
        note: 'No mail server is set up (MAIL_SERVER).',
      });
      await room.db('blogs').update({ sending_stopped_at: null });
      await room.move('chief', post.id, { to: 'withdrawn' });
      const refused = await call('editor', 'post', `/api/letters/${letter.id}/resume`);
      expect([refused.status, refused.body.detail]).toEqual([
        409,
        expect.stringContaining('Not everybody may read “Soon withdrawn”.'),
      ]);
      expect(box.raw).toEqual([]);
    });

    it('stops by itself with a post that not everybody may read any more', async () => {
      await put('a@example.org');
      const post = await room.scheduled(fromNow(-60), 'Soon for members');
      await release(room.db, post.id);
      await room.db('blogs').update({ sending_stopped_at: room.db.fn.now() });
      const letters = [await draft(post.id), await draft(postId)];
      for (const letter of letters) await send(letter);
      await room.change('chief', post.id, { excerpt: 'Nothing of who reads it.' });
      expect((await seen(letters[0]!.id)).state).toBe('sending');
      await room.change('chief', post.id, { access: 'members' });
      expect(await seen(letters[0]!.id)).toMatchObject({
        state: 'stopped',
        note: 'Stopped: not everybody may read “Soon for members” any more.',
      });
      expect((await seen(letters[1]!.id)).state).toBe('sending');
      // The bin takes a post from its readers too.
      const binned = await room.scheduled(fromNow(-60), 'Soon binned');
      await release(room.db, binned.id);
      const third = await draft(binned.id);
      await send(third);
      const chief = (await findPerson(room.db, room.ids.chief, 1))!;
      await room.db.transaction((trx) => editPosts(trx, 1, chief, [binned.id], () => [{ kind: 'bin' }]));
      expect((await seen(third.id)).state).toBe('stopped');
      await room.db('blogs').update({ sending_stopped_at: null });
      for (const letter of letters) await handOver(room.db, letter.id, room.running.services.settings);
      expect(box.raw).toHaveLength(1);
    });

    it('stops and goes on, leaving out who left meanwhile', async () => {
      await put('a@example.org', 'b@example.org');
      const letter = await draft(postId);
      await room.db('blogs').update({ sending_stopped_at: room.db.fn.now() });
      await send(letter);
      expect((await call('editor', 'post', `/api/letters/${letter.id}/stop`)).body.state).toBe('stopped');
      await room.db('blogs').update({ sending_stopped_at: null });
      await handOver(room.db, letter.id, room.running.services.settings);
      expect(box.raw).toEqual([]);
      await room.db('subscribers').where({ email: 'a@example.org' }).update({ state: 'left' });
      await call('editor', 'post', `/api/letters/${letter.id}/resume`);
      expect((await out(letter.id)).counts).toMatchObject({ sent: 1, left: 1 });
      expect(box.raw).toHaveLength(1);
    });
  });

  describe('in the hands of its readers', () => {
    const sentTo = async (...emails: string[]) => {
      await put(...emails);
      const letter = await draft(postId);
      await send(letter);
      await out(letter.id);
      const keys = await room
        .db('letter_sends as s')
        .join('subscribers as b', 'b.id', 's.subscriber_id')
        .orderBy('b.id')
        .pluck<string[]>('s.key');
      return { id: letter.id, keys };
    };

    it('takes them off the list by a button, and by one click of their mail program, not by a link', async () => {
      const { id, keys } = await sentTo('a@example.org', 'b@example.org');
      expect((await asReader(`/letter/leave/${keys[0]}`)).text).toContain('Unsubscribe');
      expect((await subscribers()).counts).toMatchObject({ active: 2, left: 0 });
      await asReader(`/letter/leave/${keys[0]}`, {}).expect(200);
      // As a mail program posts it (RFC 8058, section 3.2), twice.
      for (let i = 0; i < 2; i++)
        await asReader(`/letter/leave/${keys[1]}`, { 'List-Unsubscribe': 'One-Click' }).expect(200);
      expect((await subscribers()).counts).toMatchObject({ active: 0, left: 2 });
      expect((await seen(id)).counts.unsubscribed).toBe(2);
    });

    it('counts what was opened and clicked only where the blog allows it', async () => {
      const first = await sentTo('a@example.org');
      expect(box.letters[0]).not.toMatch(/letter\/(?:seen|to)\//);
      expect((await asReader(`/letter/seen/${first.keys[0]}.gif`)).headers['content-type']).toBe('image/gif');
      expect((await seen(first.id)).counts).toMatchObject({ opened: null, clicked: null });
      await room.db('letters').delete();
      await room.db('subscribers').delete();
      box.empty();
      const { version } = (await (await room.as('chief')).get('/api/site')).body;
      const settings = { letterOpens: true, letterClicks: true };
      await (await room.as('chief')).patch('/api/site').send({ version, settings }).expect(200);
      const { id, keys } = await sentTo('a@example.org');
      for (let i = 0; i < 2; i++) await asReader(`/letter/seen/${keys[0]}.gif`);
      const followed = await asReader(`/letter/to/${keys[0]}/1`);
      expect([followed.status, followed.headers['location']]).toEqual([
        302,
        expect.stringMatching(/^http:\/\/127\.0\.0\.1[^/]*\/ice-pound/),
      ]);
      expect((await asReader(`/letter/to/${keys[0]}/99`)).status).toBe(404);
      const now = await seen(id);
      expect(now.counts).toMatchObject({ opened: 1, clicked: 1 });
      expect(now.clicks).toEqual([{ url: followed.headers['location'], clicks: 1 }]);
      // What is only looked at in the newsroom counts nothing.
      const { html } = (await call('editor', 'get', `/api/letters/${id}/preview`)).body;
      expect(html).not.toContain('/letter/seen/');
    });

    it('comes back where nobody is, and takes them off who ask by mail', async () => {
      const { id, keys } = await sentTo('gone@example.org', 'slow@example.org', 'leaves@example.org');
      const incoming = (await openMailIn(room.db, { host: '127.0.0.1', port: 0 }))!;
      const post = createTransport({ host: '127.0.0.1', port: incoming.port, ignoreTLS: true });
      const report = (to: string, status: string) =>
        post.sendMail({
          envelope: { from: '', to: `bounce+${to}@127.0.0.1` },
          raw: [
            'From: mailer@mx.example',
            `To: <bounce+${to}@127.0.0.1>`,
            'Subject: Undelivered',
            'MIME-Version: 1.0',
            'Content-Type: multipart/report; report-type=delivery-status; boundary="b"',
            '',
            '--b',
            'Content-Type: text/plain',
            '',
            'It could not be delivered.',
            '--b',
            'Content-Type: message/delivery-status',
            '',
            'Reporting-MTA: dns; mx.example',
            '',
            'Final-Recipient: rfc822; x@example.org',
            'Action: failed',
            `Status: ${status}`,
            'Diagnostic-Code: smtp; 550 no such user',
            '',
            '--b--',
            '',
          ].join('\r\n'),
        });
      await report(keys[0]!, '5.1.1');
      await report(keys[0]!, '5.1.1');
      await report(keys[1]!, '4.4.7');
      const leaves = {
        from: 'x@example.org',
        to: `leave+${keys[2]}@127.0.0.1`,
        subject: 'leave',
        text: 'leave',
      };
      await post.sendMail(leaves);
      await expect(post.sendMail({ ...leaves, to: 'someone@127.0.0.1' })).rejects.toThrow(/550/);
      expect((await subscribers()).subscribers.map((s) => [s.email, s.state, s.bounces])).toEqual([
        ['leaves@example.org', 'left', 0],
        ['slow@example.org', 'active', 1],
        ['gone@example.org', 'bounced', 1],
      ]);
      expect((await seen(id)).counts).toMatchObject({ bounced: 2, failed: 2, sent: 1, unsubscribed: 1 });
      post.close();
      await incoming.close();
    });
  });

  it('goes to the whole list at the release of a post that says so, once', async () => {
    await put('a@example.org', 'b@example.org');
    const post = await room.cleared('The first thaw');
    await room.change('chief', post.id, { mailAtRelease: true });
    await room.move('editor', post.id, { to: 'scheduled', runAt: fromNow(1) });
    const letter = await eventually(async () => {
      const [made] = (await call('editor', 'get', '/api/letters')).body;
      return made?.state === 'sent' && made;
    });
    expect(letter).toMatchObject({ subject: 'The first thaw', atRelease: true, counts: { sent: 2 } });
    expect(box.letters.every((l) => l.includes('Open the paddle slowly.'))).toBe(true);
    await room.move('chief', post.id, { to: 'withdrawn' });
    await room.move('chief', post.id, { to: 'published' });
    expect((await call('editor', 'get', '/api/letters')).body).toHaveLength(1);
    // What is for members is mailed to nobody, and says so.
    const inner = await room.cleared('For members');
    await room.change('chief', inner.id, { mailAtRelease: true, access: 'members' });
    await room.move('editor', inner.id, { to: 'scheduled', runAt: fromNow(1) });
    const waits = await eventually(async () => {
      const [made] = (await call('editor', 'get', '/api/letters')).body;
      return made?.subject === 'For members' && made.state === 'draft' && made;
    });
    expect(waits.note).toContain('not everybody may read its post');
    expect(box.raw).toHaveLength(2);
  });
});
