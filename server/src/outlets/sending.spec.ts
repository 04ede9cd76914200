import { randomBytes } from 'node:crypto';
import { imageSize } from 'image-size';
import sharp from 'sharp';
import { Webhook } from 'standardwebhooks';
import type { OutletView, RolloutView, SendWhole } from '@keyroster/contract';
import { eventually } from '../testing/newsroom.js';
import { sendPiece, planOverdueSends } from './send.js';
import { isOpenAddress } from './transport/call.js';
import { signature } from './transport/webhook.js';
import {
  standins,
  room,
  outlets,
  USUAL,
  call,
  outlet,
  published,
  make,
  rollout,
  piece,
  approve,
  became,
  useOutlets,
  textOf,
} from './testing.js';

useOutlets();

describe('sending', () => {
  it('speaks Micropub: entries, threads that answer each other, pictures by the media endpoint', async () => {
    // W3C Recommendation “Micropub”, 23 May 2017: 3.3 create, 3.6 media endpoint, 3.7.1 config; the stand-in
    // refuses what does not follow it.
    const id = await published();
    const [short, thread, card] = [
      await make(id, 'short post', 'towline'),
      await make(id, 'thread', 'slipway'),
      await make(id, 'picture card', 'porthole', { style: 'wave' }),
    ];
    expect(
      (await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true })).status,
    ).toBe(200);
    const sent = await Promise.all([short, thread, card].map((p) => became(id, p.id, 'sent')));
    const [atTowline] = standins.store.of('towline').filter((r) => r.text === short.parts[0]);
    expect(atTowline).toMatchObject({
      replyTo: '',
      link: `${room.url}/${(await room.see('chief', id)).slug!}`,
    });
    expect(sent[0]!.send!.url).toBe(`${standins.url}/towline/${atTowline!.id}`);
    const parts = standins.store.of('slipway').filter((r) => thread.parts.includes(r.text));
    expect(parts.map((p) => p.text)).toEqual(thread.parts);
    parts.slice(1).forEach((p, i) => expect(p.replyTo).toBe(`${standins.url}/slipway/${parts[i]!.id}`));
    const atPorthole = standins.store.of('porthole').at(-1)!;
    expect(atPorthole.photos).toEqual([{ url: expect.stringContaining('/pictures/'), alt: card.alt }]);
    // An independent reader measures the picture.
    expect(
      imageSize(Buffer.from(await (await fetch(atPorthole.photos[0]!.url)).arrayBuffer())),
    ).toMatchObject({ width: 1080, height: 1080, type: 'png' });
    expect(
      await (await fetch(`${standins.url}/towline/`, { headers: { accept: 'text/html' } })).text(),
    ).toContain('A stern gland that drips');
  });

  it('tries again what could not be drawn, of which nothing can have arrived', async () => {
    const id = await published('Undrawn');
    const timing = { kind: 'same hour', minutes: 59 };
    const card = await make(id, 'picture card', 'porthole', { timing });
    const before = standins.store.of('porthole').length;
    expect((await approve(card.id)).status).toBe(200);
    const due = async (style: string) => {
      await room.db('pieces').where({ id: card.id }).update({ style });
      const [send] = await room
        .db('sends')
        .where({ piece_id: card.id })
        .update({ due_at: room.db.fn.now(), next_at: null })
        .returning<{ id: number }[]>('id');
      await sendPiece(room.db, send!.id, room.running.services.settings);
      return room.db('sends').where({ id: send!.id }).first<object>('state', 'error');
    };
    expect(await due('none that is known')).toEqual({
      state: 'waiting',
      error: 'Its pictures could not be drawn. Nothing was sent.',
    });
    expect(await due('wedge')).toMatchObject({ state: 'sent' });
    expect(standins.store.of('porthole')).toHaveLength(before + 1);
  });

  it('hands pictures in no heavier than the outlet takes, in the shape that was asked for', async () => {
    const id = await published('Pictured');
    const noise = await sharp(randomBytes(1600 * 1200 * 3), {
      raw: { width: 1600, height: 1200, channels: 3 },
    })
      .jpeg({ quality: 90 })
      .toBuffer();
    const media = (await (await room.as('chief')).post('/api/media').attach('file', noise, 'lock.jpg'))
      .body as { id: number };
    await eventually(async () =>
      room.db('media_sizes').where({ media_id: media.id, kind: 'portrait.jpg' }).first('kind'),
    );
    const body = {
      type: 'doc',
      content: [
        ...textOf('Pictured').map((text) => ({ type: 'paragraph', content: [{ type: 'text', text }] })),
        { type: 'picture', attrs: { media: media.id, alt: 'Grain, and nothing else', caption: 'Noise' } },
      ],
    };
    expect(
      (
        await (
          await room.as('chief')
        )
          .put(`/api/posts/${id}/body`)
          .set('If-Match', String((await room.see('chief', id)).version))
          .send({ body })
      ).status,
    ).toBe(200);
    expect((await room.update('chief', id)).status).toBe(200);
    await call('chief', 'patch', `/api/outlets/${outlets.get('porthole')!.id}`, {
      limits: { ...outlets.get('porthole')!.limits, pictureBytes: 90_000 },
    });
    const made = await make(id, 'gallery', 'porthole', { shape: 'portrait' });
    expect(made.parts[0]).toMatch(/^Noise\. /);
    await approve(made.id);
    await became(id, made.id, 'sent');
    const [photo] = standins.store.of('porthole').at(-1)!.photos;
    const bytes = Buffer.from(await (await fetch(photo!.url)).arrayBuffer());
    const { width, height } = imageSize(bytes);
    expect([bytes.length <= 90_000, (height / width).toFixed(2), photo!.alt]).toEqual([
      true,
      '1.25',
      'Grain, and nothing else',
    ]);
  });

  it('mails, signs webhooks, and puts pieces into a feed whose hub is told', async () => {
    const id = await published('Three ways out');
    // W3C Recommendation “WebSub”, 23 January 2018: discovery by Link headers, verification of intent, signed
    // distribution.
    expect(
      await (
        await fetch(`${standins.url}/chandlers-row/subscribe`, {
          method: 'POST',
          body: new URLSearchParams({ topic: outlets.get('chandlers-row')!.feeds!.json }),
        })
      ).text(),
    ).toMatch(/^Subscribed/);
    await eventually(async () => standins.hubLog.some((l) => l.includes('confirmed')));
    const [letter, hook, item] = [
      await make(id, 'newsletter letter', 'friday-letter'),
      await make(id, 'short post', 'ropewalk'),
      await make(id, 'newsletter item', 'chandlers-row'),
    ];
    await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    await Promise.all([letter, hook, item].map((p) => became(id, p.id, 'sent')));
    const mail = standins.store.of('friday-letter').at(-1)!;
    expect([mail.title, mail.text.trim()]).toEqual(['Three ways out', letter.parts[0]]);
    expect(mail.html).toContain('<a href=');
    expect(standins.store.of('ropewalk').at(-1)!.text).toBe(hook.parts[0]);
    const shown = await eventually(async () =>
      standins.store.of('chandlers-row').find((r) => r.text === item.parts[0]),
    );
    expect(shown!.title).toBe('Three ways out');
    const atom = await fetch(outlets.get('chandlers-row')!.feeds!.atom);
    expect([atom.headers.get('link'), atom.headers.get('x-robots-tag')]).toEqual([
      `<${standins.url}/hub>; rel="hub", <${outlets.get('chandlers-row')!.feeds!.atom}>; rel="self"`,
      'noindex',
    ]);
    expect(await atom.text()).toContain('<title type="html"><![CDATA[Three ways out]]></title>');
  });

  it('takes a piece out of its feed when its post is withdrawn, and shows nothing that was not sent', async () => {
    const id = await published('For a while');
    const [item, held] = [
      await make(id, 'newsletter item', 'chandlers-row'),
      await make(id, 'picture card', 'chandlers-row'),
    ];
    await approve(item.id);
    await became(id, item.id, 'sent');
    const feed = async () =>
      (await (await fetch(outlets.get('chandlers-row')!.feeds!.json)).json()) as {
        version: string;
        items: { content_text: string }[];
      };
    expect((await feed()).version).toBe('https://jsonfeed.org/version/1.1');
    expect((await feed()).items.map((i) => i.content_text)).toContain(item.parts[0]);
    expect((await feed()).items.map((i) => i.content_text)).not.toContain(held.parts[0]);
    const picture = `${room.url}/outlets/chandlers-row/pictures/${held.id}.png`;
    expect((await fetch(picture)).status).toBe(404);
    await approve(held.id);
    await became(id, held.id, 'sent');
    expect([(await fetch(picture)).status, (await fetch(picture)).headers.get('content-type')]).toEqual([
      200,
      'image/png',
    ]);
    await room.move('chief', id, { to: 'withdrawn', note: 'A mistake.' });
    expect((await feed()).items.map((i) => i.content_text)).not.toContain(item.parts[0]);
    expect((await fetch(picture)).status).toBe(404);
    for (const path of [
      '/outlets/nowhere.json',
      '/outlets/towline.json',
      '/outlets/chandlers-row.txt',
      '/outlets/chandlers-row/pictures/x.png',
    ])
      expect([path, (await fetch(`${room.url}${path}`)).status]).toEqual([path, 404]);
  });

  it('signs as an independent implementation of Standard Webhooks expects', () => {
    const secret = 'whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw';
    const at = Math.floor(Date.now() / 1000);
    const headers = {
      'webhook-id': 'msg_1',
      'webhook-timestamp': String(at),
      'webhook-signature': signature(secret, 'msg_1', at, '{"a":1}'),
    };
    expect(new Webhook(secret).verify('{"a":1}', headers)).toEqual({ a: 1 });
    expect(() => new Webhook(secret).verify('{"a":2}', headers)).toThrow();
  });

  it('that loses the answer is asked again by its key, and nothing doubles', async () => {
    const id = await published('Lost and found');
    const made = await make(id, 'short post', 'towline');
    standins.store.behave('towline', { ...USUAL, losesAnswers: true });
    await approve(made.id);
    await eventually(async () => standins.store.of('towline').some((r) => r.text === made.parts[0]));
    standins.store.behave('towline', USUAL);
    const sent = await became(id, made.id, 'sent');
    expect(standins.store.of('towline').filter((r) => r.text === made.parts[0])).toHaveLength(1);
    const { log } = (await call('chief', 'get', `/api/sends/${sent.send!.id}`)).body as SendWhole;
    expect(log.map((l) => l.outcome)).toEqual(['unsure', 'sent']);
  });

  it('where the outlet cannot tell, says that it may have been sent, and asks a person', async () => {
    const id = await published('Perhaps');
    const made = await make(id, 'short post', 'porthole');
    standins.store.behave('porthole', { ...USUAL, losesAnswers: true });
    await approve(made.id);
    const unsure = await became(id, made.id, 'unsure');
    expect(unsure.send!.error).toMatch(/hung up before it answered/);
    standins.store.behave('porthole', USUAL);
    await planOverdueSends(room.db);
    await new Promise((done) => setTimeout(done, 600));
    expect(standins.store.of('porthole').filter((r) => r.text === made.parts[0])).toHaveLength(1);
    expect(
      (await call('writer', 'post', `/api/sends/${unsure.send!.id}/answer`, { there: true })).status,
    ).toBe(403);
    const said = (await call('chief', 'post', `/api/sends/${unsure.send!.id}/answer`, { there: true }))
      .body as SendWhole;
    expect([said.state, said.log.at(-1)!.sentence]).toEqual(['sent', 'chief Test looked: it is there.']);
    expect(
      (await call('chief', 'post', `/api/sends/${unsure.send!.id}/answer`, { there: false })).status,
    ).toBe(400);
  });

  it('goes on with a thread after the part that was in doubt', async () => {
    const id = await published('Unravelled');
    const made = await make(id, 'thread', 'porthole');
    expect(made.parts.length).toBeGreaterThan(1);
    standins.store.behave('porthole', { ...USUAL, losesAnswers: true });
    await approve(made.id);
    const unsure = await became(id, made.id, 'unsure');
    standins.store.behave('porthole', USUAL);
    await call('chief', 'post', `/api/sends/${unsure.send!.id}/answer`, { there: true });
    await became(id, made.id, 'sent');
    expect(
      standins.store
        .of('porthole')
        .filter((r) => made.parts.includes(r.text))
        .map((r) => r.text),
    ).toEqual(made.parts);
  });

  it(
    'waits when it is told to slow down or the outlet is out of order, and refuses what ' +
      'a person must mend',
    async () => {
      const id = await published('Slow water');
      const [slow, wrong, away] = [
        await make(id, 'short post', 'towline', { instruction: 'without link' }),
        await make(id, 'short post', 'slipway'),
        await make(id, 'short post', 'ropewalk'),
      ];
      standins.store.behave('towline', { ...USUAL, answer: 'broken' });
      standins.store.behave('slipway', { ...USUAL, answer: 'unauthorised' });
      standins.store.behave('ropewalk', { ...USUAL, answer: 'elsewhere' });
      await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
      const [refused, led] = [await became(id, wrong.id, 'failed'), await became(id, away.id, 'failed')];
      expect([refused.send!.error, led.send!.error]).toEqual([
        'Slipway does not accept the credentials (401).',
        'Ropewalk Stores leads elsewhere, to http://10.0.0.1/inside. That is not followed; ' +
          'mend the outlet’s address if it moved.',
      ]);
      const waits = await eventually(async () => {
        const p = await piece(id, slow.id);
        return p.send?.error ? p : null;
      });
      expect([waits.send!.state, waits.send!.error]).toEqual([
        'waiting',
        'Towline is out of order (503); whether it took the piece is not known. It is asked again by its key.',
      ]);
      for (const slug of ['towline', 'slipway', 'ropewalk']) standins.store.behave(slug, USUAL);
      for (const p of [slow, wrong])
        await call('chief', 'post', `/api/sends/${(await piece(id, p.id)).send!.id}/again`, {});
      await Promise.all([slow, wrong].map((p) => became(id, p.id, 'sent')));
      expect(standins.store.of('towline').filter((r) => r.text === slow.parts[0])).toHaveLength(1);
    },
  );

  it('stops at the switch and at a paused outlet, and goes on after', async () => {
    const id = await published('Paused');
    const [a, b] = [await make(id, 'short post', 'towline'), await make(id, 'short post', 'slipway')];
    expect((await call('writer', 'put', '/api/sending', { stopped: true })).status).toBe(403);
    expect((await call('editor', 'put', '/api/sending', { stopped: true })).body).toMatchObject({
      stopped: true,
      by: 'editor Test',
    });
    await call('editor', 'patch', `/api/outlets/${outlets.get('slipway')!.id}`, { paused: true });
    expect(
      (await call('editor', 'patch', `/api/outlets/${outlets.get('slipway')!.id}`, { name: 'Mine' })).status,
    ).toBe(403);
    await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    await new Promise((done) => setTimeout(done, 900));
    expect((await rollout(id)).pieces.map((p) => p.send!.state)).toEqual(['waiting', 'waiting']);
    await call('editor', 'put', '/api/sending', { stopped: false });
    await became(id, a.id, 'sent');
    expect((await piece(id, b.id)).send!.state).toBe('waiting');
    await call('editor', 'patch', `/api/outlets/${outlets.get('slipway')!.id}`, { paused: false });
    await became(id, b.id, 'sent');
  });

  it('keeps to the outlet’s pace', async () => {
    const id = await published('Paced');
    await call('chief', 'patch', `/api/outlets/${outlets.get('ropewalk')!.id}`, {
      limits: { ...outlets.get('ropewalk')!.limits, perHour: 1 },
    });
    await room
      .db('sends')
      .where({ outlet_id: outlets.get('ropewalk')!.id, state: 'sent' })
      .update({ sent_at: room.db.raw(`now() - interval '2 hours'`) });
    const [a, b] = [await make(id, 'short post', 'ropewalk'), await make(id, 'question', 'ropewalk')];
    expect(new Set((await rollout(id)).clashes.map((c) => c.what))).toEqual(new Set(['hour']));
    await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    await eventually(async () => (await rollout(id)).pieces.some((p) => p.send!.state === 'sent'));
    const other = await eventually(async () =>
      (await rollout(id)).pieces.find((p) => p.send!.state === 'waiting' && p.send!.nextAt),
    );
    expect(Date.parse(other!.send!.nextAt!)).toBeGreaterThan(Date.now() + 3_500_000);
    expect([a.id, b.id]).toContain(other!.id);
    const spread = (await call('chief', 'post', `/api/posts/${id}/rollout/spread`, {})).body as RolloutView;
    expect(spread.clashes).toEqual([]);
  });

  it('killed between the call and its answer is not sent twice', async () => {
    const id = await published('Killed');
    const [known, unknown] = [
      await make(id, 'short post', 'slipway'),
      await make(id, 'short post', 'porthole'),
    ];
    await call('chief', 'put', '/api/sending', { stopped: true });
    await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    // As a process leaves them that died after the outlet took the piece.
    for (const p of [known, unknown]) {
      const send = (await piece(id, p.id)).send!;
      const { key } = (await room.db('sends').where({ id: send.id }).first<{ key: string }>('key'))!;
      standins.store.add({
        outlet: p === known ? 'slipway' : 'porthole',
        key: `"${key}-1"`,
        title: '',
        text: p.parts[0]!,
        html: '',
        tags: [],
        photos: [],
        replyTo: '',
        link: '',
      });
      await room
        .db('sends')
        .where({ id: send.id })
        .update({ state: 'sending', claimed_at: room.db.raw(`now() - interval '5 minutes'`) });
    }
    await call('chief', 'put', '/api/sending', { stopped: false });
    await planOverdueSends(room.db);
    await became(id, known.id, 'sent');
    expect((await piece(id, unknown.id)).send).toMatchObject({
      state: 'unsure',
      error: 'The newsroom stopped while it was being sent. It may have been sent.',
    });
    expect(
      [standins.store.of('slipway'), standins.store.of('porthole')].map(
        (l) => l.filter((r) => [known.parts[0], unknown.parts[0]].includes(r.text)).length,
      ),
    ).toEqual([1, 1]);
    await Promise.all([
      sendPiece(room.db, (await piece(id, known.id)).send!.id, room.running.services.settings),
      sendPiece(room.db, (await piece(id, known.id)).send!.id, room.running.services.settings),
    ]);
    expect(standins.store.of('slipway').filter((r) => r.text === known.parts[0])).toHaveLength(1);
  });

  it('never calls private networks that the settings do not name', async () => {
    expect(
      [
        '127.0.0.1',
        '10.1.2.3',
        '192.168.0.1',
        '169.254.169.254',
        '::1',
        '::ffff:127.0.0.1',
        'fd00::1',
        '0.0.0.0',
        '100.64.0.1',
      ].filter(isOpenAddress),
    ).toEqual([]);
    expect(['93.184.215.14', '2606:2800:21f:cb07::1'].every(isOpenAddress)).toBe(true);
    const bad = (
      await call('chief', 'post', '/api/outlets', {
        ...outlet('towline', 'short-post network'),
        name: 'Inside',
        address: 'http://127.0.0.1:1/micropub',
      })
    ).body as OutletView;
    expect((await call('chief', 'post', `/api/outlets/${bad.id}/trials`, {})).body.sentence).toMatch(
      /within a private network/,
    );
    const named = (
      await call('chief', 'patch', `/api/outlets/${bad.id}`, { address: 'http://localhost:1/micropub' })
    ).body as OutletView;
    expect((await call('chief', 'post', `/api/outlets/${named.id}/trials`, {})).body.sentence).toMatch(
      /within a private network/,
    );
    expect(
      (await call('chief', 'post', `/api/outlets/${outlets.get('towline')!.id}/trials`, {})).body.sentence,
    ).toBe('Towline knows us and takes pictures.');
    expect(
      (await call('chief', 'post', `/api/outlets/${outlets.get('friday-letter')!.id}/trials`, {})).body
        .sentence,
    ).toBe('The Friday Letter takes letters from us.');
  });

  it('is harmless to an outlet that answers nonsense', async () => {
    const id = await published('Nonsense');
    const made = await make(id, 'short post', 'porthole');
    standins.store.behave('porthole', { ...USUAL, answer: 'nonsense' });
    await approve(made.id);
    expect((await became(id, made.id, 'unsure')).send!.error).toMatch(/not Micropub/);
    await call('chief', 'post', `/api/sends/${(await piece(id, made.id)).send!.id}/answer`, { there: false });
    standins.store.behave('porthole', USUAL);
  });
});
