import argon2 from 'argon2';
import type { Request } from 'express';
import { RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible';
import type pg from 'pg';
import type { SignIn } from '@keyroster/contract';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { findPerson, type CurrentPerson } from './who.js';

const WINDOW_SECONDS = 15 * 60;

/** Counts failed sign-ins in PostgreSQL, so that several processes count together. */
export class SignInGuard {
  private constructor(private readonly perAccount: RateLimiterPostgres, private readonly perAddress: RateLimiterPostgres) {}

  static async make(pool: pg.Pool): Promise<SignInGuard> {
    const limiter = (keyPrefix: string, points: number) => new Promise<RateLimiterPostgres>((resolve, reject) => {
      const made: RateLimiterPostgres = new RateLimiterPostgres(
        { storeClient: pool, storeType: 'pool', tableName: 'sign_in_failures', keyPrefix, points, duration: WINDOW_SECONDS },
        (error?: Error) => (error ? reject(error) : resolve(made)));
    });
    return new SignInGuard(await limiter('account', 10), await limiter('address', 60));
  }

  async check(email: string, address: string): Promise<void> {
    const [a, b] = await Promise.all([this.perAccount.get(email), this.perAddress.get(address)]);
    const spent = (r: RateLimiterRes | null, points: number) => r !== null && r.consumedPoints > points;
    if (spent(a, 9) || spent(b, 59)) {
      throw new ProblemError('too-many', 'Too many wrong passwords. Wait a quarter of an hour and try again.');
    }
  }

  async failed(email: string, address: string): Promise<void> {
    await Promise.allSettled([this.perAccount.consume(email), this.perAddress.consume(address)]);
  }

  async succeeded(email: string): Promise<void> {
    await this.perAccount.delete(email);
  }
}

/** A hash to compare with when nobody has the address, so that both answers take as long. */
let nobody: Promise<string> | undefined;

export const hashPassword = (password: string): Promise<string> => argon2.hash(password.normalize('NFC'), { type: argon2.argon2id, memoryCost: 19_456, timeCost: 2, parallelism: 1 });

export async function signIn(trx: Trx, guard: SignInGuard, req: Request, input: SignIn): Promise<CurrentPerson> {
  const email = input.email.normalize('NFC');
  const address = req.ip ?? 'unknown';
  await guard.check(email, address);
  // An address with a NUL belongs to nobody; PostgreSQL could not even ask.
  const row = /\u0000/.test(email) ? undefined // eslint-disable-line no-control-regex
    : await trx('people').where({ email, active: true }).first<{ id: number; password_hash: string } | undefined>('id', 'password_hash');
  nobody ??= hashPassword('nobody has this password');
  const right = await argon2.verify(row?.password_hash ?? (await nobody), input.password.normalize('NFC')).catch(() => false);
  const person = row && right ? await findPerson(trx, row.id) : null;
  if (!person) {
    await guard.failed(email, address);
    throw new ProblemError('wrong-password', 'That e-mail address and password do not belong together.');
  }
  await guard.succeeded(email);
  await openSession(req, person.id);
  return person;
}

/** A new session id at every sign-in, so that one planted before is worth nothing. */
export function openSession(req: Request, personId: number): Promise<void> {
  return new Promise((resolve, reject) => {
    req.session.regenerate((error: unknown) => {
      if (error) return reject(error instanceof Error ? error : new Error('session'));
      req.session.personId = personId;
      req.session.save((failure: unknown) => (failure ? reject(failure instanceof Error ? failure : new Error('session')) : resolve()));
    });
  });
}
