import { timingSafeEqual } from 'node:crypto';
import { RateLimiterRes, type RateLimiterPostgres } from 'rate-limiter-flexible';
import type pg from 'pg';
import { countTries } from '../http/tries.js';
import { digestOf } from '../http/secrets.js';

/** Wrong passwords of one address for one post, and of everybody for it: who has many addresses guesses slowly too. */
const PER_ADDRESS = 10;
const PER_POST = 300;

/** Counts tries of passwords of posts, in PostgreSQL, so that several processes count together. */
export class PasswordTries {
  private constructor(
    private readonly perAddress: RateLimiterPostgres,
    private readonly perPost: RateLimiterPostgres,
  ) {}

  static async make(pool: pg.Pool): Promise<PasswordTries> {
    return new PasswordTries(
      await countTries(pool, 'reading', PER_ADDRESS),
      await countTries(pool, 'post', PER_POST),
    );
  }

  /**
   * Counts a try before it is made, so that many at once are as many as one after the other, and compares. The right
   * password gives its own try back.
   */
  async try(
    postId: number,
    address: string,
    given: string,
    password: string,
  ): Promise<'right' | 'wrong' | 'too many'> {
    const key = `${postId} ${address}`;
    const counted = await Promise.allSettled([
      this.perAddress.consume(key),
      this.perPost.consume(String(postId)),
    ]);
    const refused = counted.find((c) => c.status === 'rejected');
    if (refused) {
      if (!(refused.reason instanceof RateLimiterRes)) throw refused.reason;
      return 'too many';
    }
    // Digests are of one length, so that comparing tells nothing by its time.
    const right =
      password !== '' &&
      timingSafeEqual(digestOf(given.normalize('NFC')), digestOf(password.normalize('NFC')));
    if (!right) return 'wrong';
    await Promise.allSettled([this.perAddress.delete(key), this.perPost.reward(String(postId))]);
    return 'right';
  }
}
