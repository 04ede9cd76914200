import { lastVisitDue, type Instant, type SerialPart, type VisitsUntil } from '@keyroster/core';
import type { Db, Queryable } from '../db/connect.js';
import { log } from '../log.js';

const FLUSH_MS = 2000;

/**
 * Counts first visits: a number by blog and minute is all there is. Held and written together, so that a thousand in a
 * second are one statement.
 */
export class VisitCounter {
  private held = new Map<string, number>();
  private readonly timer: NodeJS.Timeout;

  constructor(private readonly db: Db) {
    this.timer = setInterval(() => void this.flush(), FLUSH_MS);
    this.timer.unref();
  }

  count(blogId: number, now: number): void {
    const key = `${blogId} ${new Date(now).toISOString().slice(0, 16)}:00Z`;
    this.held.set(key, (this.held.get(key) ?? 0) + 1);
  }

  /** Adds what was counted to the table; what cannot be added now is added later. */
  async flush(): Promise<void> {
    const held = this.held;
    if (held.size === 0) return;
    this.held = new Map();
    const keys = [...held.keys()].map((key) => key.split(' ') as [string, string]);
    try {
      await this.db.raw(
        `
          insert into
            first_visits (blog_id, minute, readers)
          select
            b.id,
            c.minute,
            c.n
          from
            unnest(?::int[], ?::timestamptz[], ?::int[]) as c (id, minute, n)
            join blogs b on b.id = c.id
          order by
            1,
            2
          on conflict (blog_id, minute) do update
          set
            readers = first_visits.readers + excluded.readers
        `,
        [keys.map(([blog]) => Number(blog)), keys.map(([, minute]) => minute), [...held.values()]],
      );
    } catch (error) {
      log.warn({ err: error }, 'first visits');
      for (const [key, n] of held) this.held.set(key, (this.held.get(key) ?? 0) + n);
    }
  }

  async stop(): Promise<void> {
    clearInterval(this.timer);
    await this.flush();
  }
}

/** How many first visits there were up to each of the times that some parts ask about. */
export async function visitsUntil(
  db: Queryable,
  blogId: number,
  parts: readonly SerialPart[],
  zone: string,
  now: Instant,
): Promise<VisitsUntil> {
  return visitsAt(db, blogId, [now, ...parts.map((p) => lastVisitDue(now, p.delay, zone))]);
}

/** How many first visits there were up to each of some times. */
export async function visitsAt(
  db: Queryable,
  blogId: number,
  asked: readonly Instant[],
): Promise<VisitsUntil> {
  const times = [...new Set(asked)];
  const { rows } = await db.raw<{ rows: { i: number; readers: number }[] }>(
    `
      select
        t.i::int,
        coalesce(sum(v.readers), 0)::int as readers
      from
        unnest(?::timestamptz[]) with ordinality as t (at, i)
        left join first_visits v on v.blog_id = ?
        and v.minute <= t.at
      group by
        t.i
    `,
    [times, blogId],
  );
  const counts = new Map(rows.map((row) => [Date.parse(times[row.i - 1]!), row.readers]));
  return (at) => counts.get(Date.parse(at)) ?? 0;
}
