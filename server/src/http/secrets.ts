import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';

/** A secret for a link or a cookie: 256 bits that nobody guesses. */
export const newSecret = (): string => randomBytes(32).toString('base64url');

/** What is kept of a secret: who reads the table cannot use it. */
export const digestOf = (secret: string): Buffer => createHash('sha256').update(secret).digest();

/** Signs what a reader's browser keeps for us, so that nobody writes it but we. */
export class Signer {
  constructor(private readonly secret: string) {}

  sign(text: string): string {
    // 128 bits: as many as can be guessed by nobody, in a cookie that stays short.
    return createHmac('sha256', this.secret).update(`reader:${text}`).digest('base64url').slice(0, 22);
  }

  isSigned(text: string, mac: string): boolean {
    const [made, given] = [Buffer.from(this.sign(text)), Buffer.from(mac)];
    return made.length === given.length && timingSafeEqual(made, given);
  }
}
