import type { Response } from 'express';
import pg from 'pg';
import type { LiveEvent } from '@keyroster/contract';
import { connectionOf, type Db, type Trx } from '../db/connect.js';
import { log } from '../log.js';

export interface BlogEvent extends LiveEvent {
  blogId: number;
}

/** Ids are handed out before they are committed, so a catch-up reaches a little further back; clients only refetch, so a double does no harm. */
const CATCH_UP_MARGIN = 50;
const BEAT_MS = 20_000;
const RETRY_MS = 1000;

interface Told { blogId: number; kind: LiveEvent['kind']; postId?: number; version?: number; personId?: number | null }

/** Writes that something changed. Commits with the change, and PostgreSQL tells every process. */
export async function tell(trx: Trx, ...events: Told[]): Promise<void> {
  await trx('events').insert(events.map((e) => ({ blog_id: e.blogId, kind: e.kind, post_id: e.postId ?? null, version: e.version ?? null, person_id: e.personId ?? null })));
}

/** One LISTEN connection for the process, fanned out to its streams and listeners. */
export class Live {
  private client: pg.Client | null = null;
  private stopped = false;
  private readonly streams = new Map<Response, number>();
  private readonly listeners = new Set<(event: BlogEvent | 'gap') => void>();
  private beat: NodeJS.Timeout | undefined;

  constructor(private readonly databaseUrl: string, private readonly db: Db) {}

  async start(): Promise<void> {
    await this.listen();
    this.beat = setInterval(() => { for (const stream of this.streams.keys()) stream.write(': here\n\n'); }, BEAT_MS);
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

  /** Turns a response into a stream of the blog's events, first those missed since `lastId`. */
  async join(res: Response, blogId: number, lastId: number | null): Promise<void> {
    res.writeHead(200, { 'Content-Type': 'text/event-stream; charset=utf-8', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no', Connection: 'keep-alive' });
    res.write('retry: 1000\n\n');
    this.streams.set(res, blogId);
    res.on('close', () => this.streams.delete(res));
    if (lastId === null) return;
    const missed = await this.db('events').where({ blog_id: blogId }).where('id', '>', lastId - CATCH_UP_MARGIN).orderBy('id').limit(500)
      .select<BlogEvent[]>('id', 'kind', 'post_id as postId', 'version', 'person_id as personId');
    for (const event of missed) res.write(frame(event));
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
    client.on('notification', (message) => this.spread(JSON.parse(message.payload ?? '{}') as BlogEvent));
    this.client = client;
    try {
      await client.connect();
      await client.query('listen key_roster');
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
      // Streams end, and their clients come back with the last id they saw.
      for (const stream of this.streams.keys()) stream.end();
    } catch {
      setTimeout(() => void this.again(), RETRY_MS).unref();
    }
  }

  private spread(event: BlogEvent): void {
    for (const listener of this.listeners) listener(event);
    for (const [stream, blogId] of this.streams) if (blogId === event.blogId) stream.write(frame(event));
  }
}

function frame(event: LiveEvent): string {
  const { id, kind, postId, version, personId } = event;
  return `id: ${id}\ndata: ${JSON.stringify({ id, kind, postId, version, personId })}\n\n`;
}
