import type { Db } from '../db/connect.js';
import { log } from '../log.js';

const FLUSH_MS = 5000;
/** What says of itself that it is a program is not a reader. */
const PROGRAM = /bot|crawl|spider|slurp|preview|monitor/i;

/** Does a person read, as far as what asks says of itself? */
export const isReader = (userAgent: string | undefined): boolean =>
  userAgent !== undefined && !PROGRAM.test(userAgent);

/**
 * Counts how often posts' pages are read, by the day of their blog. Nothing is kept of who reads: a number
 * per post and day is all there is.
 */
export class ReadCounter {
  private held = new Map<number, number>();
  private readonly timer: NodeJS.Timeout;

  constructor(private readonly db: Db) {
    this.timer = setInterval(() => void this.flush(), FLUSH_MS);
    this.timer.unref();
  }

  count(postId: number, userAgent: string | undefined): void {
    if (isReader(userAgent)) this.held.set(postId, (this.held.get(postId) ?? 0) + 1);
  }

  /** Adds what was counted to the table; what cannot be added now is added later. */
  async flush(): Promise<void> {
    const held = this.held;
    if (held.size === 0) return;
    this.held = new Map();
    try {
      await this.db.raw(
        `
          insert into
            post_reads (post_id, day, reads)
          select
            p.id,
            (now() at time zone b.zone)::date,
            c.n
          from
            unnest(?::int[], ?::int[]) as c (id, n)
            join posts p on p.id = c.id
            join blogs b on b.id = p.blog_id
          order by
            p.id
          on conflict (post_id, day) do update
          set
            reads = post_reads.reads + excluded.reads
        `,
        [[...held.keys()], [...held.values()]],
      );
    } catch (error) {
      log.warn({ err: error }, 'reads');
      for (const [id, n] of held) this.held.set(id, (this.held.get(id) ?? 0) + n);
    }
  }

  async stop(): Promise<void> {
    clearInterval(this.timer);
    await this.flush();
  }
}
