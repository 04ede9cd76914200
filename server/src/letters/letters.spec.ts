import { HtmlValidate } from 'html-validate';
import { simpleParser } from 'mailparser';
import { findPerson } from '../accounts/who.js';
import { editPosts } from '../posts/edit.js';
import { release } from '../posts/release.js';
import { eventually, fromNow } from '../testing/newsroom.js';
import { deliverLetter } from './send.js';
import {
  KEY,
  asReader,
  box,
  draft,
  out,
  postId,
  put,
  room,
  seen,
  send,
  subscribers,
  useLetters,
} from './testing.js';

useLetters();

describe('a letter', () => {
  it('reaches everybody on the list once, with all that a list owes its readers', async () => {
    await put('ada@example.org', 'bo@example.org', 'cy@example.org');
    await room
      .db('subscribers')
      .insert({ blog_id: 1, email: 'asked@example.org', state: 'asked', how: 'form' });
    const letter = await draft(postId);
    expect(letter).toMatchObject({ subject: 'Ice on the pound', state: 'draft', subscribers: 3 });
    const changed = await room.call('editor', 'put', `/api/letters/${letter.id}`, {
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
    const late = { subject: 'Other', intro: '', whole: false, postIds: [] };
    expect((await room.call('editor', 'put', `/api/letters/${letter.id}`, late)).status).toBe(409);
  });

  it('is refused without a subject, for nobody, and with what not everybody may read', async () => {
    const waits = await room.cleared('Not out yet');
    const letter = await draft(postId, waits.id);
    expect(letter.posts.map((p) => p.withheld)).toEqual(['', 'It is not published.']);
    await put('ada@example.org');
    const refused = await send(letter);
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      'Not everybody may read “Not out yet”. Remove it, or wait until readers see it.',
    ]);
    const preview = await room.call('editor', 'get', `/api/letters/${letter.id}/preview`);
    expect(preview.body.text).not.toContain('NOT OUT YET');
    const change = async (body: object, { version } = letter) =>
      (await room.as('editor'))
        .put(`/api/letters/${letter.id}`)
        .set('If-Match', `"${version}"`)
        .send({ subject: 'S', intro: '', whole: false, postIds: [postId], ...body });
    expect((await change({ subject: 'Two\r\nBcc: x@y.example' })).status).toBe(400);
    const empty = await change({ subject: '' });
    expect((await send(empty.body)).body.detail).toBe('A letter needs a subject.');
    expect((await change({})).status).toBe(412);
    await room.db('subscribers').delete();
    const good = await change({}, empty.body);
    expect((await send(good.body)).body.detail).toContain('Nobody is on the list');
    expect(box.raw).toEqual([]);
    // A hidden post is no way to read it.
    expect((await room.call('otherEditor', 'post', '/api/letters', { postIds: [99999] })).status).toBe(404);
  });

  it('is tried by its writer alone, with a way out that takes nobody off', async () => {
    await put('ada@example.org');
    const letter = await draft(postId);
    const tried = await room.call('editor', 'post', `/api/letters/${letter.id}/trial`);
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

  it('goes on later where a mail server says so, and drops nobody at the first refusal', async () => {
    await put('busy@example.org', 'gone@example.org', 'fine@example.org');
    box.refuses = (to) => (to.startsWith('busy') ? 451 : to.startsWith('gone') ? 550 : null);
    const letter = await draft(postId);
    await send(letter);
    const waits = await eventually(async () => {
      const now = await seen(letter.id);
      return now.nextTryAt !== null && now;
    });
    expect(waits).toMatchObject({
      state: 'sending',
      counts: { sent: 1, failed: 1, waiting: 1, deferred: 1, bounced: 1 },
    });
    expect((await subscribers()).counts).toMatchObject({ active: 3, bounced: 0 });
    box.refuses = () => null;
    await room.db('letter_sends').update({ due_at: room.db.fn.now() });
    await deliverLetter(room.db, letter.id, room.running.services.settings);
    expect((await out(letter.id)).counts).toMatchObject({ sent: 2, failed: 1 });
    expect(box.raw).toHaveLength(2);
  });

  it('is in doubt only for whom a process that died was handing it to, and asks a person', async () => {
    await put('a@example.org', 'b@example.org', 'c@example.org');
    const letter = await draft(postId);
    // As a process leaves it that is killed while it delivers one.
    await room.db('blogs').update({ sending_stopped_at: room.db.fn.now() });
    await send(letter);
    // The job that sending began has looked and found it stopped: no process holds the letter now.
    const jobs = () => room.db('graphile_worker.jobs').where({ key: `letter:${letter.id}` });
    await eventually(async () => (await jobs()).length === 0);
    const [first] = await room.db('letter_sends').orderBy('id').pluck('id');
    await room.db('letter_sends').where({ id: first }).update({ state: 'handing' });
    await room.db('letter_sends').whereNot({ id: first }).update({ state: 'waiting' });
    await room.db('blogs').update({ sending_stopped_at: null });
    await deliverLetter(room.db, letter.id, room.running.services.settings);
    expect((await out(letter.id)).counts).toMatchObject({ sent: 2, unsure: 1 });
    expect(box.raw).toHaveLength(2);
    // Two at once are two that find one to do.
    await Promise.all([1, 2].map(() => deliverLetter(room.db, letter.id, room.running.services.settings)));
    expect(box.raw).toHaveLength(2);
    const settled = await room.call('editor', 'post', `/api/letters/${letter.id}/doubt`, { again: true });
    expect(settled.status).toBe(201);
    expect((await out(letter.id)).counts).toMatchObject({ sent: 3, unsure: 0 });
    expect(box.raw).toHaveLength(3);
    expect(
      (await room.call('editor', 'post', `/api/letters/${letter.id}/doubt`, { again: false })).status,
    ).toBe(410);
  });

  it('goes on neither without a mail server nor with what was withdrawn meanwhile', async () => {
    await put('a@example.org');
    const post = await room.scheduled(fromNow(-60), 'Soon withdrawn');
    await release(room.db, post.id);
    const letter = await draft(post.id);
    await room.db('blogs').update({ sending_stopped_at: room.db.fn.now() });
    await send(letter);
    await deliverLetter(room.db, letter.id, { ...room.running.services.settings, mailServer: null });
    expect(await seen(letter.id)).toMatchObject({
      state: 'stopped',
      note: 'No mail server is set up (MAIL_SERVER).',
    });
    await room.db('blogs').update({ sending_stopped_at: null });
    await room.move('chief', post.id, { to: 'withdrawn' });
    const refused = await room.call('editor', 'post', `/api/letters/${letter.id}/resume`);
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
    for (const letter of letters) await deliverLetter(room.db, letter.id, room.running.services.settings);
    expect(box.raw).toHaveLength(1);
  });

  it('stops and goes on, leaving out who left meanwhile', async () => {
    await put('a@example.org', 'b@example.org');
    const letter = await draft(postId);
    await room.db('blogs').update({ sending_stopped_at: room.db.fn.now() });
    await send(letter);
    expect((await room.call('editor', 'post', `/api/letters/${letter.id}/stop`)).body.state).toBe('stopped');
    await room.db('blogs').update({ sending_stopped_at: null });
    await deliverLetter(room.db, letter.id, room.running.services.settings);
    expect(box.raw).toEqual([]);
    await room.db('subscribers').where({ email: 'a@example.org' }).update({ state: 'left' });
    await room.call('editor', 'post', `/api/letters/${letter.id}/resume`);
    expect((await out(letter.id)).counts).toMatchObject({ sent: 1, left: 1 });
    expect(box.raw).toHaveLength(1);
  });

  it('that goes with a release is announced on its post, and in a batch that schedules it', async () => {
    await put('a@example.org', 'b@example.org');
    const post = await room.cleared('Mails itself');
    const ofPost = async () => (await room.call('editor', 'get', `/api/posts/${post.id}/letter`)).body;
    await room.change('chief', post.id, { mailAtRelease: true, access: 'members' });
    expect(await ofPost()).toEqual({
      subscribers: 2,
      withheld: 'Its post is for members only; nothing of it goes out.',
      letter: null,
    });
    await room.change('chief', post.id, { access: 'everyone', runAt: '2036-12-01T08:00' });
    expect(await ofPost()).toMatchObject({ withheld: '' });
    const changes = [{ kind: 'stage', to: 'scheduled' }];
    const preview = await room.call('editor', 'post', '/api/batches', { changes, ids: [post.id] });
    expect([preview.status, preview.body.letters]).toEqual([201, { letters: 1, subscribers: 2 }]);
    // Released while only members may read it, its letter is a draft that says why; the post leads to it.
    await room.change('chief', post.id, { access: 'members' });
    await room.move('chief', post.id, { to: 'scheduled', runAt: fromNow(-1) });
    await release(room.db, post.id);
    await eventually(async () => (await ofPost()).letter?.state === 'draft');
    expect((await ofPost()).letter.note).toContain('not everybody may read its post');
    expect(box.raw).toEqual([]);
    // Another blog's, and one that is not theirs to see, are not found.
    expect((await room.call('editor', 'get', '/api/posts/99999/letter')).status).toBe(404);
  });
});
