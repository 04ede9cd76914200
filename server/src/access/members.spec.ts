import request from 'supertest';
import { requestLink } from './members.js';
import { LetterBox } from '../testing/letter-box.js';
import { Newsroom, eventually } from '../testing/newsroom.js';

describe('members', () => {
  let room: Newsroom;
  let box: LetterBox;
  beforeAll(async () => {
    box = await LetterBox.open();
    room = await Newsroom.make({ jobs: true, mailServer: box.url });
    await (await room.as('chief')).patch('/api/site').send({ members: true });
  });
  afterAll(async () => {
    await room.close();
    await box.close();
  });

  const ask = (email: string, more: object = {}) =>
    request(room.url)
      .post('/sign-in')
      .type('form')
      .send({ email, back: '/frost-steps', ...more });
  const linkFor = async (email: string) => {
    const letter = await eventually(async () => box.raw.find((l) => l.includes(`To: ${email}`)));
    box.raw.splice(box.raw.indexOf(letter), 1);
    // Quoted-printable breaks long lines.
    return /\/sign-in\/[\w-]{43}/.exec(letter.replace(/=\r\n/g, ''))![0];
  };
  const members = async () => (await (await room.as('chief')).get('/api/members')).body.members;

  it('sign up and in by a link, once, on as many devices as they like', async () => {
    const asked = await ask('Reader@Example.org');
    expect([asked.status, asked.text]).toEqual([200, expect.stringContaining('Look into your mail')]);
    const link = await linkFor('reader@example.org');
    // A program that follows links in mails uses nothing up.
    for (let i = 0; i < 2; i++)
      expect((await request(room.url).get(link)).text).toContain('<button type="submit">Sign in');
    expect(await members()).toEqual([]);
    const used = await request(room.url).post(link).redirects(0);
    expect([used.status, used.headers['location']]).toEqual([303, '/frost-steps']);
    const cookie = used.headers['set-cookie']![0]!;
    expect(cookie).toMatch(/^kr_member_1=[\w-]{43}; .*HttpOnly/);
    expect(await members()).toEqual([
      expect.objectContaining({ email: 'reader@example.org', blocked: false }),
    ]);
    // Used twice it leads nowhere.
    expect((await request(room.url).post(link)).status).toBe(410);
    expect((await request(room.url).get(link)).status).toBe(410);
    const mine = cookie.split(';')[0]!;
    const page = await request(room.url).get('/sign-in').set('Cookie', mine);
    expect(page.text).toContain('You are signed in');
    const out = await request(room.url).post('/sign-out').set('Cookie', mine).redirects(0);
    expect(out.headers['set-cookie']![0]).toMatch(/^kr_member_1=; Max-Age=0/);
    expect((await request(room.url).get('/sign-in').set('Cookie', mine)).text).toContain('Send me a link');
  });

  it('keep the earlier of their first visits, whatever the device', async () => {
    const { identities } = room.running.services;
    await (await room.as('chief')).post('/api/serials').send({ title: 'S', intro: '' });
    const post = await room.cleared('A part');
    await room
      .db('serial_parts')
      .insert({ serial_id: 1, post_id: post.id, position: 0, days: 3, hours: 0, minutes: 0 });
    await identities.refresh();
    const at = Date.now() - 10 * 24 * 3_600_000;
    await ask('early@example.org');
    await request(room.url)
      .post(await linkFor('early@example.org'))
      .set('Cookie', `kr_visit_1=${identities.newVisit(1, at)}`);
    await ask('early@example.org');
    const second = await request(room.url)
      .post(await linkFor('early@example.org'))
      .redirects(0);
    const [member] = (await members()).filter((m: { email: string }) => m.email === 'early@example.org');
    expect(Date.parse(member.firstVisit)).toBe(Math.floor(at / 60_000) * 60_000);
    const { reader } = await identities.of(second.headers['set-cookie']![0]!.split(';')[0]!, 1);
    expect(reader.rights).toMatchObject({ member: true, withheld: [] });
  });

  it('are refused late, tampered and foreign links', async () => {
    await ask('late@example.org');
    const link = await linkFor('late@example.org');
    await room.db('member_links').update({ expires_at: room.db.raw(`now() - interval '1 second'`) });
    const late = await request(room.url).post(link).redirects(0);
    expect([late.status, late.headers['set-cookie']]).toEqual([410, undefined]);
    expect((await request(room.url).post(`${link.slice(0, -1)}x`)).status).toBe(410);
    const elsewhere = await request(room.url)
      .post('/sign-in')
      .type('form')
      .set('Origin', 'https://evil.example')
      .send({ email: 'a@example.org' });
    expect(elsewhere.status).toBe(403);
  });

  it('get a few letters and no more, however many ask at once, and programs none', async () => {
    const before = box.raw.length;
    await Promise.all(Array.from({ length: 12 }, () => ask('flood@example.org')));
    await ask('program@example.org', { website: 'https://spam.example' });
    const kept = await room
      .db('member_links')
      .whereIn('email', ['flood@example.org', 'program@example.org'])
      .pluck('email');
    expect(kept).toEqual(['flood@example.org', 'flood@example.org', 'flood@example.org']);
    await eventually(async () => box.raw.length >= before + 3);
    for (const wrong of ['', 'nobody', 'a@b', 'x@example.org\r\nBcc: y@example.org', 'a'.repeat(300)])
      expect([wrong, [400, 429].includes((await ask(wrong)).status)]).toEqual([wrong, true]);
  });

  it('are shut out at once when they are blocked or deleted, and nobody new comes when that is closed', async () => {
    await room.db('member_links').delete();
    const chief = await room.as('chief');
    const [{ id }] = (await members()).filter((m: { email: string }) => m.email === 'early@example.org');
    expect((await chief.patch(`/api/members/${id}`).send({ blocked: true })).body.blocked).toBe(true);
    expect(await room.db('member_sessions').where({ member_id: id })).toEqual([]);
    await chief.patch('/api/site').send({ members: false });
    box.empty();
    const links = async (email: string) => {
      await room.db.transaction((trx) =>
        requestLink(
          trx,
          { blogId: 1, email, back: '/', newMembers: false },
          (secret) => `http://x/sign-in/${secret}`,
        ),
      );
      return (await room.db('member_links').where({ email })).length;
    };
    expect(await links('early@example.org')).toBe(0);
    expect(await links('new@example.org')).toBe(0);
    expect(await links('reader@example.org')).toBe(1);
    await chief.delete(`/api/members/${id}`).expect(204);
    expect((await members()).map((m: { email: string }) => m.email)).toEqual(['reader@example.org']);
    for (const who of ['editor', 'writer'] as const)
      expect((await (await room.as(who)).get('/api/members')).status).toBe(403);
  });
});
