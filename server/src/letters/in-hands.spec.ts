import { createTransport } from 'nodemailer';
import { eventually, fromNow } from '../testing/newsroom.js';
import { openMailIn } from './incoming.js';
import {
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
      const settings = { letterOpens: true, letterClicks: true };
      await (await room.as('chief')).patch('/api/site').send(settings).expect(200);
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
      const { html } = (await room.call('editor', 'get', `/api/letters/${id}/preview`)).body;
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
        ['slow@example.org', 'active', 0],
        ['gone@example.org', 'active', 1],
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
      const [made] = (await room.call('editor', 'get', '/api/letters')).body;
      return made?.state === 'sent' && made;
    });
    expect(letter).toMatchObject({ subject: 'The first thaw', atRelease: true, counts: { sent: 2 } });
    expect(box.letters.every((l) => l.includes('Open the paddle slowly.'))).toBe(true);
    await room.move('chief', post.id, { to: 'withdrawn' });
    await room.move('chief', post.id, { to: 'published' });
    expect((await room.call('editor', 'get', '/api/letters')).body).toHaveLength(1);
    // What is for members is mailed to nobody, and says so.
    const inner = await room.cleared('For members');
    await room.change('chief', inner.id, { mailAtRelease: true, access: 'members' });
    await room.move('editor', inner.id, { to: 'scheduled', runAt: fromNow(1) });
    const waits = await eventually(async () => {
      const [made] = (await room.call('editor', 'get', '/api/letters')).body;
      return made?.subject === 'For members' && made.state === 'draft' && made;
    });
    expect(waits.note).toContain('not everybody may read its post');
    expect(box.raw).toHaveLength(2);
  });
});
