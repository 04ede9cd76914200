import { createHash } from 'node:crypto';
import { addDays } from '@keyroster/core';
import type {
  BatchPreview,
  ChoreView,
  InviteMade,
  InviteView,
  LoadView,
  OwnSession,
  PersonPage,
} from '@keyroster/contract';
import { mailDigest, planDigests } from '../mail/digest.js';
import { clockOf } from '../slots/clock.js';
import { LetterBox } from '../testing/letter-box.js';
import { eventually, fromNow, jobsDone, Newsroom, PASSWORD, type Who } from '../testing/newsroom.js';

describe('the roster', () => {
  let room: Newsroom;
  let today: string;
  let box: LetterBox;
  beforeAll(async () => {
    box = await LetterBox.open();
    room = await Newsroom.make({ jobs: true, mailServer: box.url });
    today = (await clockOf(room.db, 1)).today;
  });
  afterAll(async () => {
    await room.close();
    await box.close();
  });
  const page = async (who: Who, of: Who) =>
    (await (await room.as(who)).get(`/api/people/${room.ids[of]}`)).body as PersonPage;

  describe('invitations', () => {
    const invite = async (email: string, more: object = {}) =>
      (await room.as('chief'))
        .post('/api/invites')
        .send({ name: 'Newly Come', email, role: 'editor', categories: [1], ...more });
    const secretOf = (made: InviteMade) => made.address.split('#')[1]!;
    const accept = (secret: string, password = 'a password to begin with') =>
      room.nobody().post('/api/invites/accept').send({ secret, name: 'Newly Come', password });

    it('are mailed, followed once, and give what they are for', async () => {
      const made = (await invite('new@test.example')).body as InviteMade;
      expect(made).toMatchObject({ state: 'open', mailed: true, email: 'new@test.example' });
      const letter = await eventually(() =>
        Promise.resolve(box.letters.find((l) => l.includes('invites you'))),
      );
      expect(letter).toContain(made.address);
      const secret = secretOf(made);
      const seen = await room.nobody().post('/api/invites/see').send({ secret });
      expect(seen.body).toMatchObject({ blog: 'Test Lock', role: 'editor', by: 'chief Test' });
      const agent = room.nobody();
      const taken = await agent
        .post('/api/invites/accept')
        .send({ secret, name: 'Newly Come', password: 'a password to begin with' });
      expect([taken.status, taken.body.me.role, taken.body.me.categories]).toEqual([201, 'editor', [1]]);
      expect((await agent.get('/api/session')).body.me.email).toBe('new@test.example');
      const again = await accept(secret);
      expect([again.status, again.body.detail]).toEqual([
        410,
        'This invitation was used already. Sign in with your password.',
      ]);
      const list = (await (await room.as('chief')).get('/api/invites')).body as InviteView[];
      expect(list.find((i) => i.id === made.id)!.state).toBe('used');
      expect((await invite('new@test.example')).status).toBe(409);
    });

    it('of which two follow one at once give one account', async () => {
      const secret = secretOf((await invite('twice@test.example')).body as InviteMade);
      const answers = await Promise.all([accept(secret), accept(secret), accept(secret)]);
      expect(answers.map((a) => a.status).sort()).toEqual([201, 410, 410]);
    });

    it('end by themselves, when taken back, when made anew, and with the right of who made them', async () => {
      const late = (await invite('late@test.example')).body as InviteMade;
      await room
        .db('invites')
        .where({ id: late.id })
        .update({ expires_at: room.db.raw(`now() - interval '1 s'`) });
      expect((await accept(secretOf(late))).body.detail).toMatch(/^This invitation has expired/);
      const back = (await invite('back@test.example')).body as InviteMade;
      expect((await (await room.as('chief')).delete(`/api/invites/${back.id}`)).status).toBe(204);
      expect((await accept(secretOf(back))).status).toBe(404);
      const first = (await invite('anew@test.example')).body as InviteMade;
      const second = (await invite('anew@test.example')).body as InviteMade;
      expect((await accept(secretOf(first))).status).toBe(404);
      // The last managing editor cannot be made anything else, so there is another meanwhile.
      await room
        .db('memberships')
        .where({ person_id: room.ids.otherEditor })
        .update({ role: 'managing editor' });
      await room.db('memberships').where({ person_id: room.ids.chief }).update({ role: 'editor' });
      expect((await accept(secretOf(second))).body.detail).toMatch(/no longer manages this newsroom/);
      await room.db('memberships').where({ person_id: room.ids.chief }).update({ role: 'managing editor' });
      await room.db('memberships').where({ person_id: room.ids.otherEditor }).update({ role: 'editor' });
    });

    it('are kept as a digest, and cannot be guessed at will', async () => {
      const made = (await invite('kept@test.example')).body as InviteMade;
      const row = await room.db('invites').where({ id: made.id }).first<{ secret_sha256: string }>();
      expect(row.secret_sha256).toBe(createHash('sha256').update(secretOf(made)).digest('hex'));
      await room.db('sign_in_failures').delete();
      const tries = await Promise.all(
        Array.from({ length: 14 }, (_, i) => accept(`guessed-secret-number-${10 + i}`)),
      );
      expect(tries.filter((t) => t.status === 404)).toHaveLength(10);
      expect(tries.filter((t) => t.status === 429)).toHaveLength(4);
      await room.db('sign_in_failures').delete();
    });

    it('are the managing editor’s alone', async () => {
      for (const who of ['editor', 'writer', 'proofreader', 'reader'] as const) {
        const agent = await room.as(who);
        expect((await agent.get('/api/invites')).status).toBe(403);
        expect(
          (
            await agent
              .post('/api/invites')
              .send({ name: 'x', email: 'x@y.zz', role: 'reader', categories: [] })
          ).status,
        ).toBe(403);
      }
    });
  });

  describe('a page', () => {
    it('is changed by its owner and the managing editor', async () => {
      const change = async (who: Who, of: Who, body: object) =>
        (await room.as(who)).patch(`/api/people/${room.ids[of]}/profile`).send(body);
      const mine = await change('writer', 'writer', {
        biography: 'Writes about weirs.',
        zone: 'Australia/Sydney',
        links: [{ label: 'Home', url: 'https://weirs.example/' }],
        notify: 'digest',
        digestHour: 7,
      });
      expect(mine.body).toMatchObject({
        biography: 'Writes about weirs.',
        zone: 'Australia/Sydney',
        links: [{ label: 'Home', url: 'https://weirs.example/' }],
        wishes: { notify: 'digest', digestHour: 7 },
      });
      expect((await page('chief', 'writer')).wishes).toBeNull();
      expect((await change('chief', 'writer', { biography: 'Knows weirs.' })).body.biography).toBe(
        'Knows weirs.',
      );
      expect((await change('chief', 'writer', { notify: 'none' })).status).toBe(403);
      expect((await change('otherWriter', 'writer', { biography: 'No.' })).status).toBe(403);
      expect((await change('writer', 'writer', { zone: 'Nowhere/Here' })).status).toBe(400);
      expect((await change('writer', 'writer', { pictureId: 99 })).status).toBe(400);
      expect(
        (await change('writer', 'writer', { links: [{ label: 'Bad', url: 'javascript:alert(1)' }] })).status,
      ).toBe(400);
      await change('writer', 'writer', { notify: 'today' });
    });

    it('tells what somebody has in hand, and hides what is hidden from who asks', async () => {
      const post = await room.pitch('chief', 'In hand', { categoryId: 1, bylineId: room.ids.otherWriter });
      await room.move('chief', post.id, { to: 'commissioned' });
      const titles = (of: PersonPage) => of.inHand.map((h) => [h.title, h.as]);
      expect(titles(await page('chief', 'otherWriter'))).toEqual([['In hand', 'writer']]);
      expect(titles(await page('proofreader', 'otherWriter'))).toEqual([]);
      expect((await page('proofreader', 'otherWriter')).email).toBeNull();
      expect((await (await room.as('chief')).get('/api/people/99999')).status).toBe(404);
      expect((await (await room.as('reader')).get(`/api/people/${room.ids.writer}`)).status).toBe(403);
    });

    it('names the categories that somebody writes', async () => {
      const chief = await room.as('chief');
      const changed = await chief.patch(`/api/people/${room.ids.writer}`).send({ writes: [2, 1] });
      expect(changed.status).toBe(200);
      expect((await page('writer', 'writer')).writes).toEqual([1, 2]);
      expect((await chief.patch(`/api/people/${room.ids.writer}`).send({ writes: [77] })).status).toBe(400);
      await chief.patch(`/api/people/${room.ids.writer}`).send({ writes: [] });
    });
  });

  it('reassigns what somebody has in hand as a batch, previewed, applied and undone', async () => {
    const posts = [
      await room.pitch('chief', 'Byline theirs', { categoryId: 1, bylineId: room.ids.writer }),
      await room.pitch('chief', 'Proof theirs', { categoryId: 1, bylineId: room.ids.editor }),
    ];
    await room.move('chief', posts[0]!.id, { to: 'commissioned', runAt: `${addDays(today, 20)}T08:00` });
    await room.change('chief', posts[1]!.id, { proofreaderId: room.ids.writer });
    const out = await room.scheduled(fromNow(86_400), 'Stays credited');
    const ask = async (who: Who, body: object) =>
      (await room.as(who)).post(`/api/people/${room.ids.writer}/reassign`).send(body);
    expect((await ask('writer', { to: room.ids.otherWriter })).status).toBe(403);
    expect((await ask('chief', { to: room.ids.writer })).body.detail).toMatch(/somebody else/);
    expect((await ask('chief', { to: room.ids.reader })).status).toBe(400);
    expect(
      (await ask('chief', { to: room.ids.otherWriter, from: '2026-12-02', until: '2026-12-01' })).status,
    ).toBe(400);
    const some = await ask('chief', {
      to: room.ids.otherWriter,
      from: addDays(today, 19),
      until: addDays(today, 21),
    });
    expect([some.status, (some.body as BatchPreview).counts.changes]).toEqual([201, 1]);
    const all = (await ask('chief', { to: room.ids.otherWriter })).body as BatchPreview;
    expect(all.counts.changes).toBe(3);
    const chief = await room.as('chief');
    await chief.post(`/api/batches/${all.id}/apply`).send({});
    await eventually(async () => (await chief.get(`/api/batches/${all.id}`)).body.state === 'applied');
    expect((await room.see('chief', posts[0]!.id)).byline?.id).toBe(room.ids.otherWriter);
    expect((await room.see('chief', posts[1]!.id)).proofreader?.id).toBe(room.ids.otherWriter);
    await chief.post(`/api/batches/${all.id}/undo`).send({});
    expect((await room.see('chief', posts[0]!.id)).byline?.id).toBe(room.ids.writer);
    expect((await room.see('chief', posts[1]!.id)).proofreader?.id).toBe(room.ids.writer);
    expect((await room.see('chief', out.id)).byline?.id).toBe(room.ids.writer);
    // An editor changes what is theirs to change; the rest is refused post by post.
    const theirs = (await ask('otherEditor', { to: room.ids.otherWriter })).body as BatchPreview;
    expect(theirs.counts.changes).toBe(0);
  });

  it('reassigns the chores that name somebody, with posts or without, and gives them back', async () => {
    const post = await room.pitch('chief', 'Has a chore of theirs', {
      categoryId: 1,
      bylineId: room.ids.editor,
    });
    await room.move('chief', post.id, { to: 'commissioned', runAt: `${addDays(today, 40)}T08:00` });
    const chief = await room.as('chief');
    const add = async (text: string) =>
      (
        (
          await chief.post(`/api/posts/${post.id}/chores`).send({
            chore: { text, assignee: 'person', personId: room.ids.proofreader, daysBefore: 2, holds: false },
          })
        ).body as ChoreView[]
      ).find((c) => c.text === text)!;
    const [open, done] = [await add('Ask the lawyer'), await add('Ask her again')];
    await chief.patch(`/api/chores/${done.id}`).send({ done: true });
    const ask = async (who: Who) =>
      (await room.as(who))
        .post(`/api/people/${room.ids.proofreader}/reassign`)
        .send({ to: room.ids.otherWriter, from: addDays(today, 39), until: addDays(today, 41) });
    // Who does not plan the post finds nothing to reassign.
    expect((await ask('otherEditor')).body.detail).toMatch(/nothing to reassign/);
    const preview = (await ask('chief')).body as BatchPreview;
    expect([preview.counts.changes, preview.chores]).toEqual([0, 1]);
    const whose = async (id: number) =>
      ((await chief.get(`/api/posts/${post.id}/chores`)).body as ChoreView[]).find((c) => c.id === id)!.person
        ?.id;
    expect(await whose(open.id)).toBe(room.ids.proofreader);
    await chief.post(`/api/batches/${preview.id}/apply`).send({});
    await eventually(async () => (await chief.get(`/api/batches/${preview.id}`)).body.state === 'applied');
    expect(await whose(open.id)).toBe(room.ids.otherWriter);
    expect(await whose(done.id)).toBe(room.ids.proofreader);
    const undone = await chief.post(`/api/batches/${preview.id}/undo`).send({});
    expect(undone.body).toMatchObject({ state: 'applied', chores: 1 });
    expect(await whose(open.id)).toBe(room.ids.proofreader);
  });

  it('tells loads by week, and of what the figures rest on', async () => {
    const load = (await (await room.as('writer')).get('/api/load?weeks=6')).body as LoadView;
    expect(load.weeks).toHaveLength(6);
    expect(load.people.map((p) => p.person.name)).toContain('writer Test');
    expect(load.people.every((p) => p.loads.length === 6)).toBe(true);
    const writer = load.people.find((p) => p.person.id === room.ids.writer)!;
    expect(writer.loads.reduce((sum, l) => sum + l.posts, 0)).toBeGreaterThan(0);
    expect((await (await room.as('reader')).get('/api/load')).status).toBe(403);
    expect((await (await room.as('writer')).get('/api/load?weeks=0')).status).toBe(400);
  });

  it('shows people where they are signed in, and ends it on one device', async () => {
    const other = room.nobody();
    await other
      .post('/api/session')
      .set('User-Agent', 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0')
      .send({ email: 'otherwriter@test.example', password: PASSWORD });
    const mine = await room.as('otherWriter');
    const list = (await mine.get('/api/sessions')).body as OwnSession[];
    const [elsewhere] = list.filter((s) => s.device.includes('Firefox'));
    expect(list.filter((s) => s.current)).toHaveLength(1);
    const { rows } = await room.db.raw<{ rows: { sid: string }[] }>('select sid from session');
    expect(rows.some((r) => list.some((s) => s.id === r.sid))).toBe(false);
    expect(
      (await (await room.as('writer')).post('/api/sessions/end').send({ session: elsewhere!.id })).status,
    ).toBe(404);
    expect((await mine.post('/api/sessions/end').send({ session: elsewhere!.id })).status).toBe(204);
    expect((await other.get('/api/posts')).status).toBe(401);
    expect((await mine.get('/api/posts')).status).toBe(200);
  });

  describe('a digest', () => {
    const settings = () => room.running.services.settings;
    it('goes once a day at the hour where somebody is, and only to who wishes it', async () => {
      box.empty();
      // In one transaction it is the same moment throughout, so that no hour can turn in between.
      await room.db.transaction(async (trx) => {
        const hourIn = (hours: number) =>
          trx.raw(`(extract(hour from now() at time zone 'Australia/Sydney')::int + ?) % 24`, [hours]);
        for (const [who, hours] of [
          ['writer', 0],
          ['otherWriter', 5],
        ] as const)
          await trx('memberships')
            .where({ person_id: room.ids[who] })
            .update({ notify: 'digest', zone: 'Australia/Sydney', digest_hour: hourIn(hours) });
        await planDigests(trx);
        await planDigests(trx);
      });
      const letter = await eventually(() =>
        Promise.resolve(box.letters.find((l) => l.includes('What needs you'))),
      );
      expect(letter).toContain('To: writer Test <writer@test.example>');
      expect(letter).toContain('Byline theirs');
      await jobsDone(room);
      expect(box.letters.filter((l) => l.includes('What needs you'))).toHaveLength(1);
    });
    it('does not go to who changed their mind, or whom nothing needs', async () => {
      await room.db('memberships').where({ person_id: room.ids.writer }).update({ notify: 'none' });
      expect(await mailDigest(room.db, { personId: room.ids.writer, blogId: 1 }, settings())).toBe(false);
      await room.db('memberships').where({ person_id: room.ids.proofreader }).update({ notify: 'digest' });
      expect(await mailDigest(room.db, { personId: room.ids.proofreader, blogId: 1 }, settings())).toBe(
        false,
      );
    });
  });
});
