import { createHash, randomBytes } from 'node:crypto';
import type { Request } from 'express';
import type { NewToken, TokenList, TokenMade, TokenView } from '@keyroster/contract';
import { roleMay, type TokenScope } from '@keyroster/core';
import { personRef } from './people.js';
import { findPerson } from './who.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Db, Queryable, Trx } from '../db/connect.js';
import type { Handlers } from '../http/handlers.js';
import { ProblemError, notFound } from '../http/problem.js';
import { log } from '../log.js';

/** So many keys a person may have. */
const MAX_TOKENS = 20;
/** What a key begins with, so that it is known for one where it was left lying about. */
const PREFIX = 'krt_';
/** When a key was used is written down no more often than this. */
const NOTED = '1 minute';

const digest = (secret: string) => createHash('sha256').update(secret).digest('hex');
export const micropubAt = (publicUrl: string) => `${publicUrl}/micropub`;

interface TokenRow extends Omit<TokenView, 'person' | 'mine'> {
  personId: number;
  personName: string;
}

const rows = (db: Queryable, blogId: number) =>
  db('tokens as t')
    .join('people as p', 'p.id', 't.person_id')
    .where('t.blog_id', blogId)
    .orderBy('p.name')
    .orderBy('t.id')
    .select<TokenRow[]>(
      't.id',
      't.name',
      't.scopes',
      't.person_id as personId',
      'p.name as personName',
      't.made_at as madeAt',
      't.last_used_at as lastUsedAt',
    );

const viewOf = ({ personId, personName, ...row }: TokenRow, person: CurrentPerson): TokenView => ({
  ...row,
  person: personRef({ id: personId, name: personName }),
  mine: personId === person.id,
});

/** One’s own keys; the managing editor sees, and may end, everybody’s. */
async function listTokens(db: Queryable, person: CurrentPerson): Promise<TokenView[]> {
  const query = rows(db, person.blogId);
  if (person.role !== 'managing editor') void query.where('t.person_id', person.id);
  return (await query).map((row) => viewOf(row, person));
}

/** Makes a key. Its secret is told this once; what is kept is a digest. */
async function makeToken(trx: Trx, person: CurrentPerson, { name, scopes }: NewToken): Promise<TokenMade> {
  // Held, so that two at once count each other.
  await trx('people').where({ id: person.id }).forNoKeyUpdate().first('id');
  const [{ count } = { count: '0' }] = await trx('tokens')
    .where({ person_id: person.id })
    .count<{ count: string }[]>('* as count');
  if (Number(count) >= MAX_TOKENS)
    throw new ProblemError(
      'demands',
      `You have ${MAX_TOKENS} keys already. End one that you no longer use first.`,
    );
  const secret = PREFIX + randomBytes(32).toString('base64url');
  const [made] = await trx('tokens')
    .insert({
      blog_id: person.blogId,
      person_id: person.id,
      name,
      scopes: trx.raw('?::text[]', [[...scopes]]),
      secret_sha256: digest(secret),
    })
    .returning<{ id: number }[]>('id');
  const [row] = await rows(trx, person.blogId).where('t.id', made!.id);
  return { ...viewOf(row!, person), secret };
}

async function revokeToken(trx: Trx, person: CurrentPerson, id: number): Promise<null> {
  const [row] = await rows(trx, person.blogId).where('t.id', id);
  if (!row || (row.personId !== person.id && person.role !== 'managing editor')) throw notFound('That key');
  await trx('tokens').where({ id }).delete();
  return null;
}

/** Whose key it is and what it lets them do. A closed account, or a role that may no longer enter, has none. */
/** The key in the head of a request (RFC 6750, section 2.1). */
export const headKey = (req: Pick<Request, 'get'>): string | undefined =>
  /^Bearer +(\S+)$/i.exec(req.get('authorization') ?? '')?.[1];

export async function bearerOf(
  db: Db,
  secret: string,
): Promise<{ person: CurrentPerson; tool: string; scopes: readonly TokenScope[] } | null> {
  if (!/^krt_[A-Za-z0-9_-]{43}$/.test(secret)) return null;
  const token = await db('tokens')
    .where({ secret_sha256: digest(secret) })
    .first<
      { id: number; name: string; person_id: number; blog_id: number; scopes: TokenScope[] } | undefined
    >('id', 'name', 'person_id', 'blog_id', 'scopes');
  const person = token ? await findPerson(db, token.person_id, token.blog_id) : null;
  if (!token || !person || !roleMay(person.role, 'enterNewsroom')) return null;
  void db('tokens')
    .where({ id: token.id })
    .whereRaw(`(last_used_at is null or last_used_at < now() - interval '${NOTED}')`)
    .update({ last_used_at: db.fn.now() })
    .catch((error: unknown) => log.warn({ err: error }, 'token'));
  return { person, tool: token.name, scopes: token.scopes };
}

export const tokenHandlers: Handlers = {
  'tokens.list': async ({ trx, person, services }): Promise<TokenList> => ({
    endpoint: micropubAt(services.settings.publicUrl),
    tokens: await listTokens(trx, person),
  }),
  'tokens.make': ({ trx, person, body }) => makeToken(trx, person, body),
  'tokens.revoke': ({ trx, person, id }) => revokeToken(trx, person, id),
};
