import { randomBytes } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { imageSize } from 'image-size';
import sharp from 'sharp';
import { Webhook } from 'standardwebhooks';
import type {
  NewOutlet,
  OutletView,
  PiecesMade,
  RolloutView,
  SendView,
  SendWhole,
  UpdateView,
} from '@keyroster/contract';
import { USUAL_LIMITS, type OutletKind, type PieceKind } from '@keyroster/core';
import { STAND_INS, startStandins, type Manners, type Running } from '@keyroster/standins';
import { keepWallTimes } from '../posts/release.js';
import { keepDueTimes } from './follow.js';
import { Newsroom, eventually, fromNow, type Who } from '../testing/newsroom.js';
import { encrypt, decrypt } from './encrypt.js';
import { sendPiece, planOverdueSends } from './send.js';
import { isOpenAddress } from './transport/call.js';
import { signature } from './transport/webhook.js';

let standins: Running;
let room: Newsroom;
const outlets = new Map<string, OutletView>();
const USUAL: Manners = { slowMs: 0, answer: 'usual', perMinute: 0, losesAnswers: false };
const call = async (
  who: Who,
  method: 'get' | 'post' | 'patch' | 'put' | 'delete',
  path: string,
  body?: object,
  ifMatch?: number,
) => {
  let asked = (await room.as(who))[method](path);
  if (ifMatch !== undefined) asked = asked.set('If-Match', String(ifMatch));
  return body ? asked.send(body) : asked;
};
const PACED = { perHour: null, perDay: null, quiet: null };
const outlet = (slug: string, kind: OutletKind, more: Partial<NewOutlet> = {}): NewOutlet => ({
  name: STAND_INS.find((s) => s.slug === slug)!.name,
  kind,
  protocol: 'micropub',
  address: `${standins.url}/${slug}/micropub`,
  settings: {},
  limits: { ...USUAL_LIMITS[kind], ...PACED },
  voice: '',
  knowsKeys: STAND_INS.find((s) => s.slug === slug)!.knowsKeys,
  credentials: { token: STAND_INS.find((s) => s.slug === slug)!.token },
  ...more,
});

const TEXT = [
  'A stern gland that drips is doing its work and needs no more than a look.',
  'Lift the boards and watch the gland with the engine in gear for a full minute.',
  'Two drops a minute under way is right, and none at all means that it runs hot.',
  'Slacken both nuts, slide the collar back and pick out the old rings with a corkscrew tool.',
];
/** Each post has sentences of its own, so that what came of it can be told from the others. */
const textOf = (title: string) => TEXT.map((t) => t.replace(/\.$/, `, says ${title}.`));
async function published(title = 'Packing a stern gland'): Promise<number> {
  const post = await room.cleared(title);
  await (
    await room.as('chief')
  )
    .put(`/api/posts/${post.id}/body`)
    .set('If-Match', String((await room.see('chief', post.id)).version))
    .send({
      body: {
        type: 'doc',
        content: textOf(title).map((text) => ({ type: 'paragraph', content: [{ type: 'text', text }] })),
      },
    });
  await room.move('editor', post.id, { to: 'scheduled', runAt: fromNow(-60) });
  await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
  return post.id;
}
async function make(
  postId: number,
  kind: PieceKind,
  slug: string,
  more: object = {},
): Promise<RolloutView['pieces'][number]> {
  const answer = await call('chief', 'post', `/api/posts/${postId}/pieces`, {
    asks: [
      {
        kind,
        outletId: outlets.get(slug)!.id,
        instruction: '',
        style: 'wedge',
        shape: 'square',
        timing: { kind: 'same hour', minutes: 0 },
        ...more,
      },
    ],
  });
  const { made, refused } = answer.body as PiecesMade;
  if (!made?.[0]) throw new Error(answer.text + refused?.join());
  return piece(postId, made[0]);
}
const rollout = async (postId: number, who: Who = 'chief') =>
  (await call(who, 'get', `/api/posts/${postId}/rollout`)).body as RolloutView;
const piece = async (postId: number, id: number) => (await rollout(postId)).pieces.find((p) => p.id === id)!;
const approve = (id: number, approved = true, who: Who = 'chief') =>
  call(who, 'post', `/api/pieces/${id}/approval`, { approved });
const became = async (postId: number, id: number, state: string) =>
  eventually(async () => {
    const p = await piece(postId, id);
    return p.send?.state === state ? p : null;
  });

beforeAll(async () => {
  standins = await startStandins({ port: 0, smtpPort: 0, folder: mkdtempSync(join(tmpdir(), 'standins-')) });
  room = await Newsroom.make({
    jobs: true,
    privateOutlets: [standins.url, `127.0.0.1:${standins.smtpPort}`],
  });
  // The hub and the partner ask for the feeds where the server really is.
  await room.db('blogs').update({ home: room.url });
  for (const made of [
    outlet('towline', 'short-post network'),
    outlet('porthole', 'picture network'),
    outlet('slipway', 'professional network'),
    outlet('ropewalk', 'shop’s news page', { protocol: 'webhook', address: `${standins.url}/ropewalk/hook` }),
    outlet('chandlers-row', 'partner site', {
      protocol: 'feed',
      address: `${standins.url}/hub`,
      credentials: {},
    }),
    outlet('friday-letter', 'newsletter', {
      protocol: 'mail',
      address: 'list@friday.example',
      settings: { host: '127.0.0.1', port: standins.smtpPort, from: 'Test Lock <letter@test.example>' },
      credentials: { user: 'letters', password: 'letters-password' },
    }),
  ]) {
    const answer = await call('chief', 'post', '/api/outlets', made);
    if (answer.status !== 201) throw new Error(answer.text);
    outlets.set(STAND_INS.find((s) => s.name === made.name)!.slug, answer.body as OutletView);
  }
});
afterAll(async () => {
  await room.close();
  await standins.stop();
});
afterEach(() => {
  for (const { slug } of STAND_INS) standins.store.behave(slug, USUAL);
});

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

describe('outlets', () => {
  it('keep credentials sealed, and never say them', async () => {
    const row = await room
      .db('outlets')
      .where({ id: outlets.get('towline')!.id })
      .first<{ credentials: Buffer }>('credentials');
    expect(row!.credentials.toString('latin1')).not.toContain('towline-token');
    expect(JSON.stringify((await call('chief', 'get', '/api/outlets')).body)).not.toContain('towline-token');
    expect(
      ((await call('writer', 'get', '/api/outlets')).body as OutletView[]).every(
        (o) => o.address === '' && Object.keys(o.settings).length === 0,
      ),
    ).toBe(true);
    const sealed = await room.db.transaction((trx) => encrypt(trx, { token: 'x' }));
    sealed[sealed.length - 1]! ^= 1;
    await expect(decrypt(room.db, sealed)).rejects.toThrow();
  });

  it('are the managing editor’s to add, with sentences for what is missing', async () => {
    expect((await call('editor', 'post', '/api/outlets', outlet('slipway', 'special'))).status).toBe(403);
    expect(
      (
        await call('chief', 'post', '/api/outlets', {
          ...outlet('slipway', 'special'),
          name: 'X',
          address: 'nowhere',
        })
      ).body.detail,
    ).toBe('Give the address where it takes pieces; it begins with https://.');
    expect(
      (
        await call('chief', 'post', '/api/outlets', {
          ...outlet('slipway', 'newsletter'),
          name: 'Y',
          protocol: 'mail',
          address: 'list@a.example',
        })
      ).body.detail,
    ).toBe('Give the mail server.');
    const twice = await call('chief', 'post', '/api/outlets', {
      ...outlet('slipway', 'special'),
      name: outlets.get('towline')!.name.toUpperCase(),
    });
    expect([twice.status, twice.body.detail]).toEqual([409, 'There is already an outlet of that name.']);
  });
});

describe('pieces', () => {
  it('follow their post: its version, its release, its withdrawal', async () => {
    const post = await room.cleared('Follows');
    const answer = await call('writer', 'post', `/api/posts/${post.id}/pieces`, {
      asks: [
        {
          kind: 'short post',
          outletId: outlets.get('towline')!.id,
          instruction: '',
          style: 'wedge',
          shape: 'square',
          timing: { kind: 'next day', time: '12:30' },
        },
      ],
    });
    const id = (answer.body as PiecesMade).made[0]!;
    expect((await piece(post.id, id)).dueLocal).toBeNull();
    expect((await approve(id, true, 'writer')).status).toBe(403);
    await approve(id);
    await room.move('editor', post.id, { to: 'scheduled', runAt: '2041-03-02T08:00' });
    expect((await piece(post.id, id)).dueLocal).toBe('2041-03-03T12:30:00');
    await room.change('chief', post.id, { runAt: '2041-07-08T08:00' } as never);
    const moved = await piece(post.id, id);
    expect(moved.dueLocal).toBe('2041-07-09T12:30:00');
    expect((await room.db('sends').where({ piece_id: id }).first<{ due_at: string }>('due_at'))!.due_at).toBe(
      '2041-07-09T11:30:00Z',
    );
    expect(
      (await call('chief', 'get', '/api/planner/pieces?from=2041-07-01&to=2041-07-31')).body,
    ).toMatchObject([{ id, local: '2041-07-09T12:30:00', outlet: 'Towline', state: 'waiting' }]);
    await room.move('editor', post.id, { to: 'cleared' });
    expect((await piece(post.id, id)).dueLocal).toBeNull();
    const out = await published('Withdrawn later');
    const late = await make(out, 'short post', 'towline', { timing: { kind: 'next month', time: '09:00' } });
    await approve(late.id);
    await room.move('chief', out, { to: 'withdrawn', note: 'A mistake.' });
    expect((await piece(out, late.id)).send).toMatchObject({
      state: 'stopped',
      error: 'Its post was withdrawn.',
    });
  });

  it('of a post for staff only stay in the house, wherever they are on their way', async () => {
    const id = await published('For our eyes');
    const item = await make(id, 'newsletter item', 'chandlers-row');
    const waiting = await make(id, 'short post', 'towline', {
      timing: { kind: 'next month', time: '09:00' },
    });
    await approve(item.id);
    await became(id, item.id, 'sent');
    await approve(waiting.id);
    const feed = async () => (await fetch(outlets.get('chandlers-row')!.feeds!.json)).text();
    expect(await feed()).toContain('says For our eyes');
    await room.change('chief', id, { access: 'staff' } as never);
    expect(await feed()).not.toContain('says For our eyes');
    const late = await make(id, 'short post', 'towline');
    expect((await approve(late.id)).body.detail).toBe('Its post is for staff only; nothing of it goes out.');
    // All at once says why, too.
    const all = await call('chief', 'post', `/api/posts/${id}/rollout/approval`, { approved: true });
    expect([all.status, all.body.detail]).toEqual([
      400,
      'Its post is for staff only; nothing of it goes out.',
    ]);
    await room
      .db('pieces')
      .where({ id: waiting.id })
      .update({ due_at: fromNow(-1) });
    await room
      .db('sends')
      .where({ piece_id: waiting.id })
      .update({ due_at: fromNow(-1) });
    const { send } = await piece(id, waiting.id);
    await sendPiece(room.db, send!.id, room.running.services.settings);
    expect((await became(id, waiting.id, 'stopped'))!.send!.error).toBe(
      'Its post is for staff only; nothing of it goes out.',
    );
  });

  it('read out the words that are drawn, also after these were changed', async () => {
    const id = await published('Read out');
    const card = await make(id, 'picture card', 'porthole');
    expect(card.alt).toContain(card.words);
    await call('chief', 'patch', `/api/pieces/${card.id}`, { words: 'Two drops a minute' }, card.version);
    expect((await piece(id, card.id)).alt).toBe('A square card with the words “Two drops a minute”.');
    await call(
      'chief',
      'patch',
      `/api/pieces/${card.id}`,
      { words: 'Three', alt: 'A card in green' },
      card.version + 1,
    );
    expect((await piece(id, card.id)).alt).toBe('A card in green');
  });

  it('whose pictures cannot be made so light fail with a sentence', async () => {
    const id = await published('Heavy');
    const limitTo = (bytes: number) =>
      room.db.raw(`update outlets set limits = jsonb_set(limits, '{pictureBytes}', ?) where id = ?`, [
        String(bytes),
        outlets.get('porthole')!.id,
      ]);
    await limitTo(1000);
    const card = await make(id, 'picture card', 'porthole');
    await approve(card.id);
    expect((await became(id, card.id, 'failed'))!.send!.error).toMatch(
      /^A picture cannot be made as light as \S+ takes \(1 kB\)\.$/,
    );
    await limitTo(outlets.get('porthole')!.limits.pictureBytes!);
  });

  it('say when their post moved on, and are rebuilt; a person’s words only when they say so', async () => {
    const id = await published('Moves on');
    const made = await make(id, 'short post', 'towline', { timing: { kind: 'next month', time: '09:00' } });
    expect(made.moved.what).toBe('nothing');
    const used = made.standing.map((at) => textOf('Moves on')[at]!);
    const text = textOf('Moves on').map((t) =>
      t === used[0] ? t.replace(/\.$/, ', as everyone knows.') : t,
    );
    await (
      await room.as('chief')
    )
      .put(`/api/posts/${id}/body`)
      .set('If-Match', String((await room.see('chief', id)).version))
      .send({
        body: {
          type: 'doc',
          content: text.map((t) => ({ type: 'paragraph', content: [{ type: 'text', text: t }] })),
        },
      });
    // Pieces are made of what readers see; what an update would leave behind is said before it.
    expect((await piece(id, made.id)).moved.what).toBe('nothing');
    const update = (await call('chief', 'get', `/api/posts/${id}/update`)).body as UpdateView;
    expect(update.behind).toMatchObject([{ id: made.id, kind: 'short post', sent: false }]);
    expect((await room.update('chief', id)).status).toBe(200);
    const stale = await piece(id, made.id);
    expect(stale.moved).toMatchObject({
      what: 'used',
      used: [{ was: used[0], is: expect.stringMatching(/as everyone knows/) }],
    });
    const rebuilt = await call('chief', 'post', `/api/pieces/${made.id}/versions`, {}, stale.version);
    expect((rebuilt.body as RolloutView).pieces[0]).toMatchObject({
      moved: { what: 'nothing' },
      parts: [expect.stringMatching(/as everyone knows/)],
      edited: false,
    });
    const edited = (
      await call('chief', 'patch', `/api/pieces/${made.id}`, { parts: ['My own words.'] }, stale.version + 1)
    ).body as RolloutView;
    expect(edited.pieces[0]).toMatchObject({ edited: true, parts: ['My own words.'] });
    expect(
      (
        await call(
          'chief',
          'post',
          `/api/pieces/${made.id}/versions`,
          { another: true },
          edited.pieces[0]!.version,
        )
      ).status,
    ).toBe(409);
    expect((await call('chief', 'patch', `/api/pieces/${made.id}`, { parts: ['Too late.'] }, 1)).status).toBe(
      412,
    );
    const another = (
      await call(
        'chief',
        'post',
        `/api/pieces/${made.id}/versions`,
        { another: true, overwrite: true },
        edited.pieces[0]!.version,
      )
    ).body as RolloutView;
    expect(another.pieces[0]!.standing.some((u) => made.standing.includes(u))).toBe(false);
    expect(another.pieces[0]!.versions.map((v) => v.opening)).toContain('My own words.');
    const back = (
      await call(
        'chief',
        'post',
        `/api/pieces/${made.id}/restored`,
        { version: edited.pieces[0]!.version },
        another.pieces[0]!.version,
      )
    ).body as RolloutView;
    expect(back.pieces[0]).toMatchObject({ parts: ['My own words.'], edited: true });
    expect((await call('chief', 'delete', `/api/pieces/${made.id}`)).body).toMatchObject({ pieces: [] });
  });

  it('come from patterns, which a rollout can be kept as', async () => {
    const id = await published('Patterned');
    await make(id, 'short post', 'towline', { timing: { kind: 'same day', time: '12:30' } });
    await make(id, 'quote card', 'porthole', {
      timing: { kind: 'weekday', weekday: 5, time: '17:00' },
      style: 'ruled',
      shape: 'portrait',
    });
    const kept = (
      await call('chief', 'post', '/api/rollout-patterns/kept', {
        postId: id,
        name: 'Evergreen how-to',
        formatId: null,
        categoryId: 1,
      })
    ).body as { id: number; stops: unknown[] }[];
    expect(kept[0]!.stops).toHaveLength(2);
    const other = await published('Another');
    expect((await rollout(other)).patterns[0]).toMatchObject({ name: 'Evergreen how-to', categoryId: 1 });
    expect(
      (
        (await call('chief', 'post', `/api/posts/${other}/rollout`, { patternId: kept[0]!.id }))
          .body as PiecesMade
      ).made,
    ).toHaveLength(2);
    expect((await rollout(other)).pieces.map((p) => [p.kind, p.style, p.shape])).toContainEqual([
      'quote card',
      'ruled',
      'portrait',
    ]);
  });

  it('are not for those who may not: other writers, proofreaders, readers', async () => {
    const id = await published('Closed doors');
    const ask = {
      asks: [
        {
          kind: 'short post',
          outletId: outlets.get('towline')!.id,
          instruction: '',
          style: 'wedge',
          shape: 'square',
          timing: { kind: 'same hour', minutes: 0 },
        },
      ],
    };
    expect((await call('otherWriter', 'post', `/api/posts/${id}/pieces`, ask)).status).toBe(403);
    expect((await call('otherEditor', 'post', `/api/posts/${id}/pieces`, ask)).status).toBe(403);
    expect((await call('proofreader', 'post', `/api/posts/${id}/pieces`, ask)).status).toBe(403);
    expect((await call('reader', 'get', `/api/posts/${id}/rollout`)).status).toBe(403);
    expect(
      (
        await call('chief', 'post', `/api/posts/${id}/pieces`, {
          asks: [{ ...ask.asks[0], kind: 'gallery' }],
        })
      ).body,
    ).toEqual({ made: [], refused: ['Gallery for Towline: The post has no pictures to caption.'] });
    const log = (await call('writer', 'get', '/api/sends?state=sent')).body as SendView[];
    expect(log.length).toBeGreaterThan(3);
  });

  it('keep their wall times with those of their post when the rules of a zone change', async () => {
    const post = await room.scheduled('2031-07-07T08:00', 'Under other rules');
    const after = await make(post.id, 'short post', 'towline', {
      timing: { kind: 'same hour', minutes: 30 },
    });
    const dated = await make(post.id, 'question', 'towline', {
      timing: { kind: 'date', local: '2031-07-09T09:00:00' },
    });
    const times = async () => [
      (await room.see('chief', post.id)).runAt,
      ...(await room.db('pieces').whereIn('id', [after.id, dated.id]).orderBy('id').pluck('due_at')),
    ];
    const right = ['2031-07-07T07:00:00Z', '2031-07-07T07:30:00Z', '2031-07-09T08:00:00Z'];
    expect(await times()).toEqual(right);
    // As they would stand had they been planned before London's summer time was an hour ahead.
    await room.db('all_posts').where({ id: post.id }).update({ run_at: '2031-07-07T08:00:00Z' });
    await room.db('pieces').where({ id: after.id }).update({ due_at: '2031-07-07T08:30:00Z' });
    await room.db('pieces').where({ id: dated.id }).update({ due_at: '2031-07-09T09:00:00Z' });
    await keepWallTimes(room.db);
    expect((await times()).slice(0, 2)).toEqual(right.slice(0, 2));
    await keepDueTimes(room.db);
    expect(await times()).toEqual(right);
    expect(
      await room
        .db('graphile_worker.jobs')
        .where({ key: `release:${post.id}` })
        .pluck('run_at'),
    ).toEqual([right[0]]);
  });

  it('of older posts are proposed in a rotation and made', async () => {
    const id = await published('Old and good');
    await room.db('all_posts').where({ id }).update({
      run_local: '2026-01-05 08:00',
      run_at: '2026-01-05T08:00:00Z',
      released_at: '2026-01-05T08:00:00Z',
    });
    await room.db('post_reads').insert({ post_id: id, day: '2026-02-01', reads: 900 });
    const proposed = (await call('chief', 'get', '/api/evergreens?restDays=30')).body as {
      id: number;
      outletId: number;
      local: string;
      why: string;
    }[];
    expect(proposed.map((p) => p.id)).toEqual([id]);
    expect(proposed[0]!.why).toMatch(/^900 reads/);
    const made = (
      await call('chief', 'post', '/api/evergreens', {
        stops: [{ postId: id, outletId: proposed[0]!.outletId, local: proposed[0]!.local }],
        kind: 'question',
        instruction: 'warm',
      })
    ).body as PiecesMade;
    expect((await piece(id, made.made[0]!)).dueLocal).toBe(proposed[0]!.local);
  });
});
