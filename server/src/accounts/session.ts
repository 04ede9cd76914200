import { randomBytes } from 'node:crypto';
import session from 'express-session';
import connectPgSimple from 'connect-pg-simple';
import type { RequestHandler } from 'express';
import type pg from 'pg';
import type { Db } from '../db/connect.js';
import type { Settings } from '../settings.js';

export const SESSION_COOKIE = 'key_roster';
const FORTNIGHT_MS = 14 * 24 * 3600 * 1000;

/**
 * The secret that signs session cookies: from the settings, else made once and kept in the database for all
 * processes.
 */
export async function sessionSecret(db: Db, settings: Settings): Promise<string> {
  if (settings.sessionSecret) return settings.sessionSecret;
  await db('secrets')
    .insert({ name: 'session', value: randomBytes(32).toString('base64url') })
    .onConflict('name')
    .ignore();
  const row = await db('secrets').where({ name: 'session' }).first<{ value: string }>('value');
  return row!.value;
}

export function sessions(pool: pg.Pool, secret: string, settings: Settings): RequestHandler {
  const Store = connectPgSimple(session);
  return session({
    name: SESSION_COOKIE,
    secret,
    // A session ends when its cookie does, a fortnight after signing in: nothing is written to keep it alive,
    // which would cost every request a commit.
    store: new Store({ pool, tableName: 'session', pruneSessionInterval: 3600, disableTouch: true }),
    resave: false,
    saveUninitialized: false,
    rolling: false,
    cookie: {
      httpOnly: true,
      sameSite: 'lax',
      secure: settings.publicUrl.startsWith('https:'),
      maxAge: FORTNIGHT_MS,
      path: '/',
    },
  });
}
