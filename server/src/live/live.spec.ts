import { eventually, Newsroom, type Who } from '../testing/newsroom.js';

describe('live events', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  /** Opens a stream, and says when it has ended, and what was told on it until then. */
  async function open(who: Who) {
    const response = await fetch(`${room.url}/api/events`, { headers: { Cookie: await room.cookieOf(who) } });
    const told: { postId: number | null; kind: string }[] = [];
    let ended = false;
    void (async () => {
      for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>)
        for (const match of Buffer.from(chunk)
          .toString()
          .matchAll(/^data: (.*)$/gm))
          told.push(JSON.parse(match[1]!) as (typeof told)[number]);
      ended = true;
    })().catch(() => (ended = true));
    return { told, hasEnded: () => Promise.resolve(ended) };
  }

  it('end with the session, with the account and with the role, for whom they belong to alone', async () => {
    const others = await open('editor');
    const signedOut = await open('otherWriter');
    await (await room.as('otherWriter')).delete('/api/session');
    await eventually(signedOut.hasEnded);

    const closed = await open('writer');
    await (await room.as('chief')).patch(`/api/people/${room.ids.writer}`).send({ active: false });
    await eventually(closed.hasEnded);

    const changed = await open('otherEditor');
    await (await room.as('chief')).patch(`/api/people/${room.ids.otherEditor}`).send({ role: 'proofreader' });
    await eventually(changed.hasEnded);
    expect(await others.hasEnded()).toBe(false);
  });

  it('say to a proofreader that something happened, and of posts they may not see not to which', async () => {
    const stream = await open('proofreader');
    const hidden = await room.pitch('chief', 'Not yet for everybody');
    const shown = await room.pitch('chief', 'To be read');
    await room.change('chief', shown.id, { proofreaderId: room.ids.proofreader });
    await room.change('chief', shown.id, { excerpt: 'Read me.' });
    await eventually(() => Promise.resolve(stream.told.some((e) => e.postId === shown.id)));
    expect(stream.told.some((e) => e.postId === hidden.id)).toBe(false);
    expect(stream.told.some((e) => e.kind === 'post' && e.postId === null)).toBe(true);
    const editor = await listen({ 'Last-Event-ID': '1' }, (e) => e.some((x) => x.postId === hidden.id));
    expect(editor.events.map((e) => e.postId)).toContain(hidden.id);
  });

  /** Reads a stream of server-sent events until `enough` says so. */
  async function listen(
    headers: Record<string, string>,
    enough: (events: { id: number; postId: number }[]) => boolean,
    ready?: () => Promise<void>,
  ) {
    const cookie = await room.cookieOf('editor');
    const stop = new AbortController();
    const response = await fetch(`${room.url}/api/events`, {
      headers: { Cookie: cookie, ...headers },
      signal: stop.signal,
    });
    expect(response.headers.get('content-type')).toMatch(/^text\/event-stream/);
    const events: { id: number; postId: number; kind: string }[] = [];
    const raw: string[] = [];
    const started = Date.now();
    void ready?.();
    for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
      const text = Buffer.from(chunk).toString();
      raw.push(text);
      for (const match of text.matchAll(/^data: (.*)$/gm))
        events.push(JSON.parse(match[1]!) as (typeof events)[number]);
      if (enough(events) || Date.now() - started > 5000) break;
    }
    stop.abort();
    return { events, raw: raw.join(''), took: Date.now() - started };
  }

  it('tells within a second what another person changed, and never the content', async () => {
    const heard = await listen(
      {},
      (e) => e.length >= 1,
      async () => {
        await room.pitch('chief', 'A secret title');
      },
    );
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

  it('is told that anything may have changed when more was missed than is worth telling', async () => {
    const [{ id: seen } = { id: 0 }] = await room.db('events').max<{ id: number }[]>('id as id');
    await room.db.raw(
      `
        insert into
          events (blog_id, kind, post_id)
        select 1, 'post', 1 from generate_series(1, 700)
      `,
    );
    const [{ id: newest } = { id: 0 }] = await room.db('events').max<{ id: number }[]>('id as id');
    const heard = await listen({ 'Last-Event-ID': String(seen) }, (e) => e.length > 0);
    expect(heard.events).toEqual([
      { id: newest, kind: 'batch', postId: null, version: null, personId: null },
    ]);
  });

  it('comes back after the database ended its connection', async () => {
    const listeners = () =>
      room
        .db('pg_stat_activity')
        .whereRaw(`datname = current_database() and query ilike 'listen%'`)
        .pluck<number[]>('pid');
    const ended = await listeners();
    await room.db.raw('select pg_terminate_backend(pid) from unnest(?::int[]) pid', [ended]);
    await eventually(async () => {
      const now = await listeners();
      return now.length > 0 && !now.some((pid) => ended.includes(pid));
    });
    const heard = await listen(
      {},
      (e) => e.length >= 1,
      async () => {
        await room.pitch('chief', 'After the break');
      },
    );
    expect(heard.events.length).toBeGreaterThan(0);
  });
});
