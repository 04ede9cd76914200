import { createHmac } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { figuresOf, startStandins, type Manners, type Received, type Running } from './index.js';

const USUAL: Manners = { slowMs: 0, answer: 'usual', perMinute: 0, losesAnswers: false };
let running: Running;
let folder: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'standins-'));
  running = await startStandins({ port: 0, smtpPort: 0, folder });
});
afterAll(() => running.stop());
afterEach(() => running.store.behave('towline', USUAL));

const entry = (properties: Record<string, unknown[]>) => JSON.stringify({ type: ['h-entry'], properties });
const post = (body: string, more: Record<string, string> = {}) =>
  fetch(`${running.url}/towline/micropub`, {
    method: 'POST',
    headers: { authorization: 'Bearer towline-token', 'content-type': 'application/json', ...more },
    body,
  });

describe('Micropub', () => {
  it('creates entries from JSON and from forms, and says where they are', async () => {
    // Micropub, W3C Recommendation 2017: 3.2 form, 3.3 JSON, 3.3.2 201 with Location, 3.8 errors.
    const json = await post(entry({ content: ['Frost on the beams.'], category: ['winter'] }));
    expect([json.status, json.headers.get('location')]).toEqual([
      201,
      expect.stringMatching(/\/towline\/[0-9a-f-]{8}$/),
    ]);
    const form = await fetch(`${running.url}/towline/micropub`, {
      method: 'POST',
      headers: { authorization: 'Bearer towline-token' },
      body: new URLSearchParams({ h: 'entry', content: 'By form.' }),
    });
    expect(form.status).toBe(201);
    expect(
      (await fetch(`${running.url}/towline/micropub`, { method: 'POST', body: entry({ content: ['x'] }) }))
        .status,
    ).toBe(401);
    const bad = await post(entry({}));
    expect([bad.status, ((await bad.json()) as { error: string }).error]).toEqual([400, 'invalid_request']);
    expect((await post(entry({ content: ['x'.repeat(301)] }))).status).toBe(400);
    const source = await fetch(
      `${running.url}/towline/micropub?q=source&url=${encodeURIComponent(json.headers.get('location')!)}`,
      { headers: { authorization: 'Bearer towline-token' } },
    );
    expect(await source.json()).toMatchObject({
      type: ['h-entry'],
      properties: { content: ['Frost on the beams.'] },
    });
  });

  it('takes the time an entry was published at, when it has passed', async () => {
    const at = async (published: string) =>
      (
        (await (
          await fetch(
            (await post(entry({ content: [`Of ${published}`], published: [published] }))).headers.get(
              'location',
            )!,
            { headers: { accept: 'application/json' } },
          )
        ).json()) as Received
      ).at;
    expect(await at('2026-01-05T08:00:00Z')).toBe('2026-01-05T08:00:00.000Z');
    expect(Date.parse(await at('2999-01-01T00:00:00Z'))).toBeLessThanOrEqual(Date.now());
  });

  it('knows a thing again by its key where it says so', async () => {
    const [one, two] = [
      await post(entry({ content: ['Once.'] }), { 'idempotency-key': '"k1"' }),
      await post(entry({ content: ['Once.'] }), { 'idempotency-key': '"k1"' }),
    ];
    expect(one.headers.get('location')).toBe(two.headers.get('location'));
    expect(running.store.of('towline').filter((r) => r.text === 'Once.')).toHaveLength(1);
  });

  it('behaves as it is told', async () => {
    running.store.behave('towline', { ...USUAL, perMinute: 1 });
    await post(entry({ content: ['First of the minute.'] }));
    const second = await post(entry({ content: ['Second of the minute.'] }));
    expect([second.status, Number(second.headers.get('retry-after')) > 0]).toEqual([429, true]);
    running.store.behave('towline', { ...USUAL, losesAnswers: true });
    await expect(post(entry({ content: ['Taken and not told.'] }))).rejects.toThrow();
    expect(running.store.of('towline').some((r) => r.text === 'Taken and not told.')).toBe(true);
    for (const [answer, status] of [
      ['unauthorised', 401],
      ['refused', 400],
      ['broken', 503],
      ['nonsense', 200],
    ] as const) {
      running.store.behave('towline', { ...USUAL, answer });
      expect((await post(entry({ content: ['x'] }))).status).toBe(status);
    }
  });

  it('keeps what it received over a restart', async () => {
    const before = running.store.of('towline').length;
    const again = await startStandins({ port: 0, smtpPort: 0, folder });
    expect(again.store.of('towline')).toHaveLength(before);
    await again.stop();
  });
});

describe('pages', () => {
  it('show what came as its readers would see it, and let nothing in it run', async () => {
    await post(
      entry({
        name: ['<script>alert(1)</script>'],
        content: ['See https://halfwaylock.example/a?b=1&c=2 <img src=x onerror=alert(1)>'],
      }),
    );
    const page = await (await fetch(`${running.url}/towline/`, { headers: { accept: 'text/html' } })).text();
    expect(page).not.toMatch(/<script|<img src=x/);
    expect(page).toContain('&#60;script&#62;');
    expect((await fetch(`${running.url}/nowhere/`)).status).toBe(404);
    expect((await fetch(`${running.url}/pictures/..%2f..%2fetc`)).status).toBe(404);
  });

  it('take new manners from a form', async () => {
    await fetch(`${running.url}/towline/manners`, {
      method: 'POST',
      redirect: 'manual',
      body: new URLSearchParams({ slowMs: '120', answer: 'broken', perMinute: '3', losesAnswers: 'on' }),
    });
    expect(running.store.manners('towline')).toEqual({
      slowMs: 120,
      answer: 'broken',
      perMinute: 3,
      losesAnswers: true,
    });
    expect(await (await fetch(`${running.url}/towline/manners`)).text()).toContain('value="broken" selected');
  });
});

describe('readers', () => {
  const thing = (more: Partial<Received> = {}): Received => ({
    id: 'abc',
    outlet: 'towline',
    at: '2026-11-25T12:10:00.000Z',
    key: '',
    title: '',
    text: 'Six turns of the flywheel clear the housing.',
    html: '',
    tags: ['pumps'],
    photos: [],
    replyTo: '',
    link: 'https://halfwaylock.example/x',
    ...more,
  });
  const after = (days: number) => new Date(Date.parse('2026-11-25T12:10:00Z') + days * 86_400_000);

  it('react the same each time, more over the days, and then no more', () => {
    expect(figuresOf(thing(), 4000, after(1))).toEqual(figuresOf(thing(), 4000, after(1)));
    const views = [0, 0.25, 1, 3, 9, 40].map((d) => figuresOf(thing(), 4000, after(d)).views);
    expect([...views].sort((a, b) => a - b)).toEqual(views);
    expect([views[0], views[5]! - views[4]!]).toEqual([0, expect.any(Number)]);
    expect(views[5]! - views[4]!).toBeLessThan(views[5]! * 0.02);
  });

  it('look more at noon than at night, pass pictures on, answer questions, and click only on links', () => {
    const total = (more: Partial<Received>) => {
      let sum = { views: 0, passedOn: 0, replies: 0, clicks: 0 };
      for (let i = 0; i < 60; i++) {
        const f = figuresOf(thing({ id: `t${i}`, ...more }), 4000, after(9));
        sum = {
          views: sum.views + f.views,
          passedOn: sum.passedOn + f.passedOn,
          replies: sum.replies + f.replies,
          clicks: sum.clicks + f.clicks,
        };
      }
      return sum;
    };
    expect(total({}).views).toBeGreaterThan(2 * total({ at: '2026-11-25T02:10:00.000Z' }).views);
    expect(total({ photos: [{ url: 'x', alt: 'y' }] }).passedOn).toBeGreaterThan(total({}).passedOn);
    expect(total({ text: 'Do six turns of the flywheel clear the housing?' }).replies).toBeGreaterThan(
      total({}).replies,
    );
    expect(total({ link: '' }).clicks).toBe(0);
  });
});

describe('WebSub', () => {
  let publisher: Server;
  let items = [{ id: 'one', title: 'One', content_text: 'First.', url: 'https://halfwaylock.example/one' }];
  const base = () => `http://127.0.0.1:${(publisher.address() as AddressInfo).port}`;
  beforeAll(async () => {
    publisher = createServer((_req, res) => {
      res.setHeader('content-type', 'application/feed+json');
      res.setHeader('link', `<${running.url}/hub>; rel="hub", <${base()}/feed>; rel="self"`);
      res.end(JSON.stringify({ items }));
    });
    await new Promise<void>((done) => publisher.listen(0, '127.0.0.1', done));
  });
  afterAll(() => new Promise((done) => publisher.close(done)));
  const until = async (holds: () => boolean) => {
    for (let i = 0; i < 100 && !holds(); i++) await new Promise((done) => setTimeout(done, 30));
    expect(holds()).toBe(true);
  };

  it('is subscribed to with a challenge, and hands on what is published, signed', async () => {
    // WebSub, W3C Recommendation 2018: 4 discovery, 5.1 and 5.3 subscription and verification, 7
    // distribution, 8 signatures.
    await fetch(`${running.url}/chandlers-row/subscribe`, {
      method: 'POST',
      body: new URLSearchParams({ topic: `${base()}/feed` }),
    });
    await until(() => running.hubLog.some((l) => l === `subscribe of ${base()}/feed: confirmed`));
    items = [
      { id: 'two', title: 'Two', content_text: 'Second.', url: 'https://halfwaylock.example/two' },
      ...items,
    ];
    expect(
      (
        await fetch(`${running.url}/hub`, {
          method: 'POST',
          body: new URLSearchParams({ 'hub.mode': 'publish', 'hub.url': `${base()}/feed` }),
        })
      ).status,
    ).toBe(202);
    await until(() => running.store.of('chandlers-row').length === 2);
    // What is not signed as agreed is taken and not used.
    const forged = JSON.stringify({ items: [{ id: 'three', title: 'Forged' }] });
    const send = (signature: string) =>
      fetch(`${running.url}/chandlers-row/callback`, {
        method: 'POST',
        headers: { 'content-type': 'application/feed+json', 'x-hub-signature': signature },
        body: forged,
      });
    expect((await send('sha256=00')).status).toBe(202);
    expect(running.store.of('chandlers-row')).toHaveLength(2);
    await send(`sha256=${createHmac('sha256', 'row-secret').update(forged).digest('hex')}`);
    expect(running.store.of('chandlers-row')).toHaveLength(3);
    expect(
      (await fetch(`${running.url}/chandlers-row/callback?hub.topic=https://other.example/&hub.challenge=x`))
        .status,
    ).toBe(404);
    expect(
      (
        await fetch(`${running.url}/hub`, {
          method: 'POST',
          body: new URLSearchParams({ 'hub.mode': 'dance' }),
        })
      ).status,
    ).toBe(400);
  });
});

describe('the notebook', () => {
  it('tells the page that a note is about, and takes mentions of its own', async () => {
    const told: string[] = [];
    const other = createServer((req, res) => {
      if (req.method === 'POST') {
        req.on('data', (part: Buffer) => told.push(part.toString()));
        req.on('end', () => res.writeHead(202).end());
        return;
      }
      res.writeHead(200, { 'content-type': 'text/html' }).end('<link rel="webmention" href="/take">');
    });
    await new Promise<void>((ready) => other.listen(0, '127.0.0.1', ready));
    const about = `http://127.0.0.1:${(other.address() as AddressInfo).port}/post`;
    const write = (fields: Record<string, string>) =>
      fetch(`${running.url}/notebook/`, { method: 'POST', body: new URLSearchParams(fields) });
    const list = await (await write({ about, text: 'Worth <reading>.' })).text();
    expect(list).toContain('(told)');
    expect(told).toEqual([
      new URLSearchParams({ source: `${running.url}/notebook/1`, target: about }).toString(),
    ]);
    expect(await (await fetch(`${running.url}/notebook/1`)).text()).toContain('Worth &#60;reading&#62;.');
    expect((await write({ about: 'nowhere', text: 'x' })).status).toBe(400);
    const mention = (target: string) =>
      fetch(`${running.url}/notebook/webmention`, {
        method: 'POST',
        body: new URLSearchParams({ source: about, target }),
      });
    expect((await mention(`${running.url}/notebook/1`)).status).toBe(202);
    expect((await mention('https://elsewhere.example/')).status).toBe(400);
    expect(await (await fetch(`${running.url}/notebook/`)).text()).toContain('mentions');
    await new Promise((done) => other.close(done));
  });
});
