import argon2 from 'argon2';
import type { Request } from 'express';
import { RateLimiterRes, type RateLimiterPostgres } from 'rate-limiter-flexible';
import type pg from 'pg';
import { countTries } from '../http/tries.js';
import type { NewPassword, SignIn } from '@keyroster/contract';
import type { Db } from '../db/connect.js';
import { bounded } from '../http/bounded.js';
import { ProblemError } from '../http/problem.js';
import { findPerson } from './who.js';
import type { CurrentPerson } from '../http/current-person.js';

/** Counts tries to sign in, in PostgreSQL, so that several processes count together. */
export class SignInGuard {
  private constructor(
    private readonly perAccount: RateLimiterPostgres,
    private readonly perAddress: RateLimiterPostgres,
  ) {}

  static async make(pool: pg.Pool): Promise<SignInGuard> {
    return new SignInGuard(await countTries(pool, 'account', 10), await countTries(pool, 'address', 60));
  }

  /**
   * Counts a try before it is made, so that many at once are as many as one after the other. Throws when there
   * were too many.
   */
  async count(email: string, address: string): Promise<void> {
    const counted = await Promise.allSettled([
      this.perAccount.consume(email),
      this.perAddress.consume(address),
    ]);
    const refused = counted.find((c) => c.status === 'rejected');
    if (!refused) return;
    // What is no count is the database being away.
    if (!(refused.reason instanceof RateLimiterRes)) throw refused.reason;
    throw new ProblemError('too-many', 'Too many wrong passwords. Wait a quarter of an hour and try again.');
  }

  /** The right password: its try does not count, nor those before it. */
  async giveBack(email: string, address: string): Promise<void> {
    await Promise.allSettled([this.perAccount.delete(email), this.perAddress.reward(address)]);
  }
}

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
  input: SignIn,
): Promise<CurrentPerson> {
  const email = input.email.normalize('NFC');
  const address = req.ip ?? 'unknown';
  await guard.count(email, address);
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
  await guard.giveBack(email, address);
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
  const address = req.ip ?? 'unknown';
  await guard.count(person.email, address);
  const row = await db('people').where({ id: person.id }).first<{ password_hash: string }>('password_hash');
  if (!(await isRight(row.password_hash, current)))
    throw new ProblemError('invalid', 'That is not your password.', {
      fields: [{ field: 'current', sentence: 'That is not your password.' }],
    });
  await guard.giveBack(person.email, address);
  return hashPassword(password);
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
