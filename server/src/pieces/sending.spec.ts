import { randomBytes } from 'node:crypto';
import { imageSize } from 'image-size';
import sharp from 'sharp';
import { Webhook } from 'standardwebhooks';
import type { OutletView } from '@keyroster/contract';
import { eventually } from '../testing/newsroom.js';
import { sendPiece } from './send.js';
import { isOpenAddress } from '../outlets/transport/call.js';
import { signature } from '../outlets/transport/webhook.js';
import {
  standins,
  room,
  outlets,
  USUAL,
  call,
  outlet,
  published,
  make,
  piece,
  approve,
  became,
  textOf,
  useOutlets,
} from '../outlets/testing.js';

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
    ).toBe('The Friday Letter accepts letters from us.');
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
