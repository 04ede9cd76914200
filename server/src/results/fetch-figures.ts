import { ASKED_EVERY, readFigures } from '@keyroster/core';
import type { Db } from '../db/connect.js';
import { CallError, call } from '../outlets/transport/call.js';

import { log } from '../log.js';
import type { Settings } from '../settings.js';

/** Pieces asked about in one go, and of one outlet: its pace for sending is not used up by asking. */
const AT_ONCE = 60;
const OF_AN_OUTLET = 12;

interface Due {
  id: number;
  url: string;
}

/** Pieces that are due, those never asked about first; outlets that are paused or closed are left alone. */
async function duePieces(db: Db): Promise<Due[]> {
  const { rows } = await db.raw<{ rows: Due[] }>(
    `
      select
        id,
        url
      from
        (
          select
            s.id,
            s.url,
            row_number() over (partition by s.outlet_id order by s.figures_at nulls first, s.id) as n
          from
            sends s
            join outlets o on o.id = s.outlet_id
            and o.paused_at is null
            and o.closed_at is null
            cross join lateral (
              select
                min(e.every) as every
              from
                unnest(?::int[], ?::int[]) as e (until, every)
              where
                s.sent_at > now() - make_interval(hours => e.until)
            ) again
          where
            s.state = 'sent'
            and s.url <> ''
            and again.every is not null
            and (s.figures_at is null or s.figures_at < now() - make_interval(hours => again.every))
        ) d
      where
        n <= ?
      limit
        ?
    `,
    [ASKED_EVERY.map((e) => e.untilHours), ASKED_EVERY.map((e) => e.hours), OF_AN_OUTLET, AT_ONCE],
  );
  return rows;
}

/** Asks outlets what came of their pieces, one after the other. Answers how many told something. */
export async function fetchFigures(db: Db, settings: Pick<Settings, 'privateOutlets'>): Promise<number> {
  let answered = 0;
  for (const due of await duePieces(db)) {
    if (await askOne(db, due, settings.privateOutlets)) answered++;
    await db('sends').where({ id: due.id }).update({ figures_at: db.fn.now() });
  }
  return answered;
}

async function askOne(db: Db, { id, url }: Due, allowed: readonly string[]): Promise<boolean> {
  try {
    const answer = await call(url, { method: 'GET', headers: { accept: 'application/json' } }, allowed);
    const figures = answer.status === 200 ? readFigures(answer.body) : null;
    if (!figures) return false;
    const { seen, passedOn, replies, clicks } = figures;
    const kept = { seen, passed_on: passedOn, replies, clicks };
    await db('piece_figures')
      .insert({ send_id: id, day: db.raw('current_date'), ...kept })
      .onConflict(['send_id', 'day'])
      .merge(kept);
    return true;
  } catch (error) {
    if (!(error instanceof CallError)) log.warn({ err: error }, 'figures');
    return false;
  }
}
