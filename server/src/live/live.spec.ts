import { Newsroom } from '../testing/newsroom.js';

describe('live events', () => {
  let room: Newsroom;
  beforeAll(async () => { room = await Newsroom.make(); });
  afterAll(() => room.close());

  /** Reads a stream of server-sent events until `enough` says so. */
  async function listen(headers: Record<string, string>, enough: (events: { id: number; postId: number }[]) => boolean, ready?: () => Promise<void>) {
    const agent = await room.as('editor');
    const cookie = (agent as unknown as { jar: { getCookies(o: object): { toValueString(): string } } }).jar.getCookies({ domain: '127.0.0.1', path: '/', secure: false, script: false }).toValueString();
    const stop = new AbortController();
    const response = await fetch(`${room.url}/api/events`, { headers: { Cookie: cookie, ...headers }, signal: stop.signal });
    expect(response.headers.get('content-type')).toMatch(/^text\/event-stream/);
    const events: { id: number; postId: number; kind: string }[] = [];
    const raw: string[] = [];
    const started = Date.now();
    void ready?.();
    for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
      const text = Buffer.from(chunk).toString();
      raw.push(text);
      for (const match of text.matchAll(/^data: (.*)$/gm)) events.push(JSON.parse(match[1]!) as (typeof events)[number]);
      if (enough(events) || Date.now() - started > 5000) break;
    }
    stop.abort();
    return { events, raw: raw.join(''), took: Date.now() - started };
  }

  it('tells within a second what another person changed, and never the content', async () => {
    const heard = await listen({}, (e) => e.length >= 1, async () => { await room.pitch('chief', 'A secret title'); });
    expect(heard.events[0]).toMatchObject({ kind: 'post', version: 1, personId: room.ids.chief });
    expect(heard.raw).not.toContain('secret');
    expect(heard.raw).toMatch(/^id: \d+$/m);
  });

  it('catches up from the last event that was seen', async () => {
    const one = await room.pitch('chief', 'Missed one');
    const two = await room.pitch('chief', 'Missed two');
    const heard = await listen({ 'Last-Event-ID': '1' }, (e) => e.some((x) => x.postId === two.id));
    expect(heard.events.map((e) => e.postId)).toEqual(expect.arrayContaining([one.id, two.id]));
  });

  it('comes back after the database ended its connection', async () => {
    await room.db.raw(`select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and query ilike 'listen%'`);
    await new Promise((done) => setTimeout(done, 1800));
    const heard = await listen({}, (e) => e.length >= 1, async () => { await room.pitch('chief', 'After the break'); });
    expect(heard.events.length).toBeGreaterThan(0);
  });
});
