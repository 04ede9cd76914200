import type { Response } from 'express';
import pg from 'pg';
import type { LiveEvent } from '@keyroster/contract';
import { seesEverything } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import { connectionOf, type Db, type Trx } from '../db/connect.js';
import { log } from '../log.js';

export interface BlogEvent extends LiveEvent {
  blogId: number;
}

/**
 * Ids are handed out before they are committed, so a catch-up reaches a little further back; clients only
 * refetch, so a double does no harm.
 */
const CATCH_UP_MARGIN = 50;
const MAX_MISSED = 500;
const BEAT_MS = 20_000;
const RETRY_MS = 1000;

interface Told {
  blogId: number;
  kind: LiveEvent['kind'];
  postId?: number;
  version?: number;
  personId?: number | null;
}

/** Writes that something changed. Commits with the change, and PostgreSQL tells every process. */
export async function emit(trx: Trx, ...events: Told[]): Promise<void> {
  if (events.length === 0) return;
  await trx('events').insert(
    events.map((e) => ({
      blog_id: e.blogId,
      kind: e.kind,
      post_id: e.postId ?? null,
      version: e.version ?? null,
      person_id: e.personId ?? null,
    })),
  );
}

/** Who reads a stream: it ends with their session, and when their role changes. */
export interface StreamOwner {
  person: CurrentPerson;
  sessionId: string;
  /** When the session ends of itself, in milliseconds. */
  until: number;
}

/** What the notifier has to ask others: who somebody is by now, and which posts they may see. */
export interface Asks {
  personById(id: number, blogId: number): Promise<CurrentPerson | null>;
  seenOf(person: CurrentPerson, postIds: readonly number[]): Promise<Set<number>>;
}

/** More than this unread, and the stream is cut: its reader comes back with the last id it saw. */
const MAX_UNREAD_BYTES = 64 * 1024;

/** One LISTEN connection for the process, fanned out to its streams and listeners. */
export class Notifier {
  private client: pg.Client | null = null;
  private stopped = false;
  private readonly streams = new Map<Response, StreamOwner>();
  /** What waits to be told to those who do not see every post, in order. */
  private asked: Promise<void> = Promise.resolve();
  private readonly listeners = new Set<(event: BlogEvent | 'gap') => void>();
  /** Who wants to know what is told on other channels: with its payload, or `gap` after a lost connection. */
  private readonly channels = new Map<string, (payload: string | 'gap') => void>([
    ['key_roster_ended', (id) => this.endWhere((o) => o.sessionId === id)],
  ]);
  private beat: NodeJS.Timeout | undefined;

  constructor(
    private readonly databaseUrl: string,
    private readonly db: Db,
    private readonly asks: Asks,
  ) {}

  async start(): Promise<void> {
    await this.listen();
    this.beat = setInterval(() => {
      for (const [stream, owner] of this.streams)
        if (owner.until <= Date.now()) this.end(stream);
        else this.write(stream, ': here\n\n');
    }, BEAT_MS);
    this.beat.unref();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearInterval(this.beat);
    for (const stream of this.streams.keys()) stream.end();
    await this.client?.end().catch(() => undefined);
  }

  /** `gap` is told after a lost connection: anything may have changed. */
  onEvent(listener: (event: BlogEvent | 'gap') => void): void {
    this.listeners.add(listener);
  }

  /** Listens to a channel of the database beside that of the events. Asked for before the start. */
  onChannel(name: string, listener: (payload: string | 'gap') => void): void {
    const known = this.channels.get(name);
    this.channels.set(name, (payload) => {
      known?.(payload);
      listener(payload);
    });
  }

  /** Turns a response into a stream of the blog's events, first those missed since `lastId`. */
  async join(res: Response, owner: StreamOwner, lastId: number | null): Promise<void> {
    const { blogId } = owner.person;
    res.writeHead(200, {
      'Content-Type': 'text/event-stream; charset=utf-8',
      'Cache-Control': 'no-store',
      'X-Accel-Buffering': 'no',
      Connection: 'keep-alive',
    });
    res.write('retry: 1000\n\n');
    this.streams.set(res, owner);
    res.on('close', () => this.streams.delete(res));
    if (lastId === null) return;
    const missed = await this.db('events')
      .where({ blog_id: blogId })
      .where('id', '>', lastId - CATCH_UP_MARGIN)
      .orderBy('id')
      .limit(MAX_MISSED + 1)
      .select<BlogEvent[]>('id', 'kind', 'post_id as postId', 'version', 'person_id as personId');
    if (missed.length <= MAX_MISSED) {
      const seen = await this.asks.seenOf(owner.person, [...new Set(missed.flatMap((e) => e.postId ?? []))]);
      for (const event of missed) this.write(res, frame(masked(event, seen)));
      return;
    }
    // Too many to announce one by one: every open screen fetches again.
    const newest = await this.db('events').where({ blog_id: blogId }).max<{ max: number }>('id').first();
    res.write(frame({ id: newest!.max, kind: 'batch', postId: null, version: null, personId: null }));
  }

  private async listen(): Promise<void> {
    const client = new pg.Client(connectionOf(this.databaseUrl));
    const lost = (error?: Error) => {
      if (this.client !== client) return;
      this.client = null;
      if (this.stopped) return;
      log.warn({ err: error }, 'live connection lost');
      setTimeout(() => void this.again(), RETRY_MS).unref();
    };
    client.on('error', lost);
    client.on('end', () => lost());
    client.on('notification', ({ channel, payload }) => {
      const listener = this.channels.get(channel);
      if (listener) listener(payload ?? '');
      else this.spread(JSON.parse(payload ?? '{}') as BlogEvent);
    });
    this.client = client;
    try {
      await client.connect();
      await client.query(['key_roster', ...this.channels.keys()].map((name) => `listen ${name}`).join('; '));
    } catch (error) {
      this.client = null;
      throw error;
    }
  }

  private async again(): Promise<void> {
    if (this.stopped) return;
    try {
      await this.listen();
      for (const listener of this.listeners) listener('gap');
      for (const listener of this.channels.values()) listener('gap');
      // Streams end, and their clients come back with the last id they saw.
      for (const stream of this.streams.keys()) this.end(stream);
    } catch {
      setTimeout(() => void this.again(), RETRY_MS).unref();
    }
  }

  private spread(event: BlogEvent): void {
    for (const listener of this.listeners) listener(event);
    const some: [Response, StreamOwner][] = [];
    for (const [stream, owner] of this.streams) {
      if (owner.person.blogId !== event.blogId) continue;
      if (event.postId === null || seesEverything(owner.person.role)) this.write(stream, frame(event));
      else some.push([stream, owner]);
    }
    if (some.length > 0) this.later(() => this.sendSeen(event, some));
    if (event.kind === 'people') this.later(() => this.endChanged(event.blogId));
  }

  private later(work: () => Promise<void>): void {
    this.asked = this.asked
      .then(work)
      .catch((error: unknown) => log.warn({ err: error }, 'streams that were not told'));
  }

  private async sendSeen(event: BlogEvent, to: readonly [Response, StreamOwner][]): Promise<void> {
    for (const [stream, { person }] of to)
      this.write(stream, frame(masked(event, await this.asks.seenOf(person, [event.postId!]))));
  }

  /** Whose account was closed, or whose role or categories are others now: their streams end. */
  private async endChanged(blogId: number): Promise<void> {
    const ids = [...this.streams.values()].filter((o) => o.person.blogId === blogId).map((o) => o.person.id);
    for (const id of new Set(ids)) {
      const now = await this.asks.personById(id, blogId);
      this.endWhere(
        ({ person }) =>
          person.id === id &&
          person.blogId === blogId &&
          (now === null || now.role !== person.role || now.categories.join() !== person.categories.join()),
      );
    }
  }

  private endWhere(ended: (owner: StreamOwner) => boolean): void {
    for (const [stream, owner] of this.streams) if (ended(owner)) this.end(stream);
  }

  private end(stream: Response): void {
    this.streams.delete(stream);
    stream.end();
  }

  private write(stream: Response, text: string): void {
    if (stream.writableEnded) return;
    if (stream.writableLength > MAX_UNREAD_BYTES) stream.destroy();
    else stream.write(text);
  }
}

/** To whom may not see a post, something happened, and not where. */
const masked = (event: LiveEvent, seen: ReadonlySet<number>): LiveEvent =>
  event.postId === null || seen.has(event.postId) ? event : { ...event, postId: null, version: null };

function frame(event: LiveEvent): string {
  const { id, kind, postId, version, personId } = event;
  return `id: ${id}\ndata: ${JSON.stringify({ id, kind, postId, version, personId })}\n\n`;
}
