import { createHash, randomBytes } from 'node:crypto';
import type { InviteMade, InviteSeen, InviteAccepted, InviteView, NewInvite } from '@keyroster/contract';
import { roleMay, type Role } from '@keyroster/core';
import {
  accountOf,
  addPerson,
  joinBlog,
  mustBeCategories,
  mustNotBelong,
  personRef,
} from '../accounts/people.js';
import { findPerson } from '../accounts/who.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { planInvitation } from '../jobs/queue.js';
import { emit } from '../live/live.js';
import type { Settings } from '../settings.js';

/** For how long an invitation can be followed. */
const DAYS = 7;
/** Invitations that are listed: those of the last weeks. */
const TOLD = '60 days';
/** So many may be open at once. */
const MAX_INVITES = 200;

const digest = (secret: string) => createHash('sha256').update(secret).digest('hex');

interface Row {
  id: number;
  name: string;
  email: string;
  role: Role;
  categories: number[];
  madeById: number;
  madeByName: string;
  madeAt: string;
  expiresAt: string;
  usedAt: string | null;
  expired: boolean;
  blogId: number;
  blog: string;
}

const rows = (db: Queryable) =>
  db('invites as i')
    .join('people as p', 'p.id', 'i.made_by')
    .join('blogs as b', 'b.id', 'i.blog_id')
    .select<Row[]>(
      'i.id',
      'i.name',
      'i.email',
      'i.role',
      'i.categories',
      'i.blog_id as blogId',
      'b.title as blog',
      'p.id as madeById',
      'p.name as madeByName',
      'i.made_at as madeAt',
      'i.expires_at as expiresAt',
      'i.used_at as usedAt',
      db.raw('i.expires_at <= now() as expired'),
    );

const viewOf = (row: Row): InviteView => ({
  id: row.id,
  name: row.name,
  email: row.email,
  role: row.role,
  madeBy: personRef({ id: row.madeById, name: row.madeByName }),
  madeAt: row.madeAt,
  expiresAt: row.expiresAt,
  state: row.usedAt ? 'used' : row.expired ? 'expired' : 'open',
});

export async function listInvites(db: Queryable, blogId: number): Promise<InviteView[]> {
  const found = await rows(db)
    .where('i.blog_id', blogId)
    .whereRaw(`i.made_at > now() - interval '${TOLD}'`)
    .orderBy('i.id', 'desc');
  return found.map(viewOf);
}

/** Makes an invitation; a former one to the same address ends. Its secret is told this once. */
export async function makeInvite(
  trx: Trx,
  by: CurrentPerson,
  input: NewInvite,
  { publicUrl, mailServer }: Pick<Settings, 'publicUrl' | 'mailServer'>,
): Promise<InviteMade> {
  await trx('blogs').where({ id: by.blogId }).forNoKeyUpdate().first('id');
  const known = await accountOf(trx, input.email);
  if (known) await mustNotBelong(trx, by.blogId, known.id);
  if (input.role === 'editor') await mustBeCategories(trx, by.blogId, input.categories);
  await trx('invites').where({ blog_id: by.blogId, email: input.email }).whereNull('used_at').delete();
  const [{ open } = { open: 0 }] = await trx('invites')
    .where({ blog_id: by.blogId })
    .whereNull('used_at')
    .whereRaw('expires_at > now()')
    .select<{ open: number }[]>(trx.raw('count(*)::int as open'));
  if (open >= MAX_INVITES)
    throw new ProblemError('too-large', `At most ${MAX_INVITES} invitations can be open at once.`);
  const secret = randomBytes(24).toString('base64url');
  const [made] = await trx('invites')
    .insert({
      blog_id: by.blogId,
      secret_sha256: digest(secret),
      name: input.name,
      email: input.email,
      role: input.role,
      categories: JSON.stringify(input.role === 'editor' ? input.categories : []),
      made_by: by.id,
      expires_at: trx.raw(`now() + interval '${DAYS} days'`),
    })
    .returning<{ id: number }[]>('id');
  // The secret is not in the address of any request: what follows # stays in the browser.
  const address = `${publicUrl}/desk/invitation#${secret}`;
  if (mailServer) await planInvitation(trx, { inviteId: made!.id, address });
  const [row] = await rows(trx).where('i.id', made!.id);
  await emit(trx, { blogId: by.blogId, kind: 'people', personId: by.id });
  return { ...viewOf(row!), address, mailed: mailServer !== null };
}

export async function revokeInvite(trx: Trx, by: CurrentPerson, id: number): Promise<null> {
  const gone = await trx('invites').where({ blog_id: by.blogId, id }).whereNull('used_at').delete();
  if (gone === 0) throw notFound('That invitation');
  await emit(trx, { blogId: by.blogId, kind: 'people', personId: by.id });
  return null;
}

/** The invitation of a secret that can still be followed; throws a sentence where it cannot. */
async function openInvite(db: Queryable, secret: string, lock = false): Promise<Row> {
  if (lock)
    await db('invites')
      .where({ secret_sha256: digest(secret) })
      .forUpdate()
      .first('id');
  const [row] = await rows(db).where('i.secret_sha256', digest(secret));
  if (!row)
    throw new ProblemError(
      'not-found',
      'This invitation is not known here, or it was revoked. Ask for a new one.',
    );
  if (row.usedAt)
    throw new ProblemError('gone', 'This invitation was used already. Sign in with your password.');
  if (row.expired)
    throw new ProblemError(
      'gone',
      'This invitation has expired. Ask the person who invited you for a new one.',
    );
  // What somebody may no longer give, their invitations do not give either.
  const by = await findPerson(db, row.madeById, row.blogId);
  if (!by || !roleMay(by.role, 'managePeople'))
    throw new ProblemError(
      'gone',
      'The person who invited you no longer manages this newsroom. Ask its managing editor for a new one.',
    );
  return row;
}

export async function seeInvite(db: Queryable, secret: string): Promise<InviteSeen> {
  const { blog, name, email, role, madeByName, expiresAt } = await openInvite(db, secret);
  const hasAccount = (await accountOf(db, email)) !== undefined;
  return { blog, name, email, role, by: madeByName, expiresAt, hasAccount };
}

/** How an invitation is accepted: with an account that its owner proved to have, or with a new one. */
export type Accepting = { personId: number } | { passwordHash: string };

/** Puts the account that an invitation is for on the blog; once. Returns the person's id. */
export async function acceptInvite(
  trx: Trx,
  { secret, name }: Pick<InviteAccepted, 'secret' | 'name'>,
  accepting: Accepting,
): Promise<number> {
  const invite = await openInvite(trx, secret, true);
  const known = await trx('categories').where({ blog_id: invite.blogId }).pluck<number[]>('id');
  const categories = invite.categories.filter((id) => known.includes(id));
  const { role, email } = invite;
  const account = await accountOf(trx, email);
  if ('personId' in accepting ? account?.id !== accepting.personId : account !== undefined)
    throw new ProblemError('taken', 'This address got an account meanwhile. Open the invitation again.');
  let id: number;
  if ('personId' in accepting) {
    id = accepting.personId;
    await mustNotBelong(trx, invite.blogId, id);
    await joinBlog(trx, invite.blogId, id, { role, categories });
  } else id = await addPerson(trx, invite.blogId, { name, email, role, categories }, accepting.passwordHash);
  await trx('invites')
    .where({ id: invite.id })
    .update({ used_at: trx.raw('now()'), person_id: id });
  return id;
}
