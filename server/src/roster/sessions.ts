import { createHash } from 'node:crypto';
import type { Request } from 'express';
import type { OwnSession } from '@keyroster/contract';
import type { Queryable, Trx } from '../db/connect.js';
import { notFound } from '../http/problem.js';

/** Names a session to its owner without revealing it: the name cannot be used to sign in. */
const nameOf = (sid: string) => createHash('sha256').update(`session ${sid}`).digest('hex');

interface Row {
  sid: string;
  until: string;
  device: string | null;
  since: string | null;
}

const own = (db: Queryable, personId: number) =>
  db('session')
    .whereRaw(`(sess->>'personId')::int = ?`, [personId])
    .whereRaw('expire > now()')
    .orderBy('expire', 'desc')
    .select<Row[]>(
      'sid',
      'expire as until',
      db.raw(`sess->>'device' as device`),
      db.raw(`sess->>'since' as since`),
    );

/** Where a person is signed in, the last used first. */
export async function listSessions(db: Queryable, personId: number, req: Request): Promise<OwnSession[]> {
  return (await own(db, personId)).map(({ sid, until, device, since }) => ({
    id: nameOf(sid),
    device: device ?? '',
    since,
    until: new Date(until).toISOString(),
    current: sid === req.sessionID,
  }));
}

export async function endSession(trx: Trx, personId: number, name: string): Promise<null> {
  const session = (await own(trx, personId)).find(({ sid }) => nameOf(sid) === name);
  if (!session) throw notFound('That session');
  await trx('session').where({ sid: session.sid }).delete();
  return null;
}
