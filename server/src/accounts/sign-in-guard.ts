import { parse } from 'cookie';
import type { Request, Response } from 'express';
import { RateLimiterRes, type RateLimiterPostgres } from 'rate-limiter-flexible';
import type pg from 'pg';
import { Signer, newSecret } from '../http/secrets.js';
import { addressOf } from '../http/address-of.js';
import { ProblemError } from '../http/problem.js';
import { countTries } from '../http/tries.js';

/** Wrong passwords in a quarter of an hour: of one account from one address, from one address, and of one account. */
const PER_PAIR = 10;
const PER_ADDRESS = 60;
const PER_ACCOUNT = 300;
/** Wrong passwords from a device that signed in to the account before. */
const PER_DEVICE = 10;

const DEVICE_COOKIE = 'key_roster_device';
const DEVICE_SECONDS = 180 * 24 * 3600;
/** Accounts that one browser is known to. */
const MAX_ACCOUNTS = 4;

type Counter = [limiter: RateLimiterPostgres, key: string];

/**
 * Counts tries to sign in, in PostgreSQL, so that several processes count together. Wrong passwords count by account
 * and address together, so that nobody locks somebody else out; and a device that signed in before has a count of its
 * own, which nobody else's tries touch.
 */
export class SignInGuard {
  private constructor(
    private readonly limiters: Record<'pair' | 'address' | 'account' | 'device', RateLimiterPostgres>,
    private readonly signer: Signer,
    private readonly secure: boolean,
  ) {}

  static async make(pool: pg.Pool, secret: string, { secure }: { secure: boolean }): Promise<SignInGuard> {
    const limiters = {
      pair: await countTries(pool, 'pair', PER_PAIR),
      address: await countTries(pool, 'address', PER_ADDRESS),
      account: await countTries(pool, 'account', PER_ACCOUNT),
      device: await countTries(pool, 'device', PER_DEVICE),
    };
    return new SignInGuard(limiters, new Signer(secret), secure);
  }

  /**
   * Counts a try before it is made, so that many at once are as many as one after the other. Throws when there
   * were too many.
   */
  async count(account: string, req: Request): Promise<void> {
    const counted = await Promise.allSettled(
      this.countersFor(account, req).map(([limiter, key]) => limiter.consume(key)),
    );
    const refused = counted.find((c) => c.status === 'rejected');
    if (!refused) return;
    // What is no count is the database being away.
    if (!(refused.reason instanceof RateLimiterRes)) throw refused.reason;
    throw new ProblemError(
      'too-many',
      'Too many wrong passwords. Wait a quarter of an hour and try again, or use a device on which you signed in before.',
    );
  }

  /** The right password: its try does not count, nor those before it from here. */
  async giveBack(account: string, req: Request): Promise<void> {
    await Promise.allSettled(
      this.countersFor(account, req).map(([limiter, key]) =>
        limiter === this.limiters.address || limiter === this.limiters.account
          ? limiter.reward(key)
          : limiter.delete(key),
      ),
    );
  }

  /** From now on this browser is known to the account. */
  remember(account: string, req: Request, res: Response): void {
    const others = marksIn(req).filter((mark) => !this.isOf(mark, account));
    const id = newSecret().slice(0, 22);
    const own = `${id}.${this.signer.sign(`device:${id}:${account}`)}`;
    res.cookie(DEVICE_COOKIE, [own, ...others].slice(0, MAX_ACCOUNTS).join('~'), {
      httpOnly: true,
      sameSite: 'lax',
      secure: this.secure,
      maxAge: DEVICE_SECONDS * 1000,
      path: '/',
    });
  }

  private countersFor(account: string, req: Request): Counter[] {
    const { pair, address, account: perAccount, device } = this.limiters;
    const known = marksIn(req).find((mark) => this.isOf(mark, account));
    if (known) return [[device, known.split('.')[0]!]];
    const from = addressOf(req);
    return [
      [pair, `${account} ${from}`],
      [address, from],
      [perAccount, account],
    ];
  }

  private isOf(mark: string, account: string): boolean {
    const [id = '', mac = ''] = mark.split('.');
    return this.signer.isSigned(`device:${id}:${account}`, mac);
  }
}

const marksIn = (req: Request): string[] =>
  (parse(req.headers.cookie ?? '')[DEVICE_COOKIE] ?? '').split('~').filter(Boolean).slice(0, MAX_ACCOUNTS);
