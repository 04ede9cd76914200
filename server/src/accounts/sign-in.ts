import argon2 from 'argon2';
import type { Request, Response } from 'express';
import type { NewPassword, SignIn } from '@keyroster/contract';
import type { Db } from '../db/connect.js';
import { log } from '../log.js';
import type { Settings } from '../settings.js';
import { bounded } from '../http/bounded.js';
import { ProblemError } from '../http/problem.js';
import type { SignInGuard } from './sign-in-guard.js';
import { findPerson } from './who.js';
import type { CurrentPerson } from '../http/current-person.js';

/** Hashing is slow on purpose: a few at a time, so that the other work of the process goes on. */
const hashing = bounded(2, 60);

/** A hash to compare with when nobody has the address, so that both answers take as long. */
let nobody: Promise<string> | undefined;

export const hashPassword = (password: string): Promise<string> =>
  hashing(() =>
    argon2.hash(password.normalize('NFC'), {
      type: argon2.argon2id,
      memoryCost: 19_456,
      timeCost: 2,
      parallelism: 1,
    }),
  );

const isRight = (hash: string, password: string): Promise<boolean> =>
  hashing(() => argon2.verify(hash, password.normalize('NFC')).catch(() => false));

/**
 * Knows a person by address and password, and opens a session. Holds no transaction: comparing hashes takes a
 * tenth of a second and is meant to.
 */
export async function signIn(
  db: Db,
  guard: SignInGuard,
  req: Request,
  res: Response,
  input: SignIn,
  settings: Pick<Settings, 'publicUrl'>,
): Promise<CurrentPerson> {
  mustKeepSession(req, settings);
  const email = input.email.normalize('NFC');
  await guard.count(email, req);
  // An address with a NUL belongs to nobody; PostgreSQL could not even ask.
  const row = /\u0000/.test(email)
    ? undefined
    : await db('people')
        .where({ email, active: true })
        .first<{ id: number; password_hash: string } | undefined>('id', 'password_hash');
  // What could not be made, for want of room, is made by the next who asks.
  nobody ??= hashPassword('nobody has this password').catch((error: unknown) => {
    nobody = undefined;
    throw error;
  });
  const hash = row?.password_hash ?? (await nobody);
  const right = await isRight(hash, input.password);
  const person = row && right ? await findPerson(db, row.id, null) : null;
  if (!person) {
    throw new ProblemError('wrong-password', 'That e-mail address and password do not belong together.');
  }
  await guard.giveBack(email, req);
  guard.remember(email, req, res);
  await openSession(req, person.id);
  return person;
}

/** A hash of a new password, once the one that a person has is given. Wrong ones count as tries to sign in. */
export async function newPasswordOf(
  db: Db,
  guard: SignInGuard,
  req: Request,
  person: Pick<CurrentPerson, 'id' | 'email'>,
  { current, password }: NewPassword,
): Promise<string> {
  await guard.count(person.email, req);
  const row = await db('people').where({ id: person.id }).first<{ password_hash: string }>('password_hash');
  if (!(await isRight(row.password_hash, current)))
    throw new ProblemError('invalid', 'That is not your password.', {
      fields: [{ field: 'current', sentence: 'That is not your password.' }],
    });
  await guard.giveBack(person.email, req);
  return hashPassword(password);
}

/**
 * Throws where a browser would keep no session: cookies of an https address are sent by https alone, and this request
 * did not come that way as far as we may believe.
 */
function mustKeepSession(req: Request, { publicUrl }: Pick<Settings, 'publicUrl'>): void {
  if (!publicUrl.startsWith('https:') || req.secure) return;
  log.warn(
    { from: req.socket.remoteAddress },
    'sign-in refused: PUBLIC_URL begins with https, and the request did not come through a trusted proxy (TRUSTED_PROXIES)',
  );
  throw new ProblemError(
    'demands',
    'Nobody can sign in here yet: the newsroom’s address begins with https, but its proxy is not trusted. The person ' +
      'who runs the server must set TRUSTED_PROXIES to the proxy’s address.',
  );
}

/** The owner of an account, who says its password. Wrong ones count as tries to sign in. */
export async function provenOwner(
  guard: SignInGuard,
  req: Request,
  account: { id: number; email: string; password_hash: string; active: boolean },
  password: string,
): Promise<number> {
  await guard.count(account.email, req);
  const sentence = `That is not the password that ${account.email} signs in with.`;
  if (!account.active || !(await isRight(account.password_hash, password)))
    throw new ProblemError('invalid', sentence, { fields: [{ field: 'password', sentence }] });
  await guard.giveBack(account.email, req);
  return account.id;
}

/** A new session id at every sign-in, so that one planted before is worth nothing. */
export function openSession(req: Request, personId: number): Promise<void> {
  return new Promise((resolve, reject) => {
    req.session.regenerate((error: unknown) => {
      if (error) return reject(error instanceof Error ? error : new Error('session'));
      req.session.personId = personId;
      req.session.device = (req.get('user-agent') ?? '').slice(0, 300);
      req.session.since = new Date().toISOString();
      req.session.save((failure: unknown) =>
        failure ? reject(failure instanceof Error ? failure : new Error('session')) : resolve(),
      );
    });
  });
}
