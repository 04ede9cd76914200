import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';
import type { OutletCredentials } from '@keyroster/contract';
import type { Queryable, Trx } from '../db/connect.js';

/**
 * The key that credentials are sealed with: from the environment, else made once and kept in the database for
 * all processes.
 */
async function sealingKey(db: Queryable): Promise<Buffer> {
  const given = process.env['CREDENTIALS_KEY'];
  if (given) return createHash('sha256').update(given).digest();
  await db('secrets')
    .insert({ name: 'credentials', value: randomBytes(32).toString('base64url') })
    .onConflict('name')
    .ignore();
  const row = await db('secrets').where({ name: 'credentials' }).first<{ value: string }>('value');
  return createHash('sha256').update(row!.value).digest();
}

/** AES-256-GCM (NIST SP 800-38D): twelve bytes of nonce, sixteen of tag, and the rest. */
export async function encrypt(trx: Trx, credentials: OutletCredentials): Promise<Buffer> {
  const nonce = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', await sealingKey(trx), nonce);
  const sealed = Buffer.concat([cipher.update(JSON.stringify(credentials), 'utf8'), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), sealed]);
}

/**
 * Opens what was sealed. Empty when nothing is kept; throws when the key is another or a byte was changed.
 */
export async function decrypt(db: Queryable, sealed: Buffer | null): Promise<OutletCredentials> {
  if (!sealed) return {};
  const decipher = createDecipheriv('aes-256-gcm', await sealingKey(db), sealed.subarray(0, 12));
  decipher.setAuthTag(sealed.subarray(12, 28));
  return JSON.parse(
    Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]).toString('utf8'),
  ) as OutletCredentials;
}
