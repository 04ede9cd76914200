import type { MemberChanges, MembersPage, MembersQuery, MemberView } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Db, Queryable, Trx } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import { planMemberLink } from '../jobs/queue.js';
import { digestOf, newSecret } from '../http/secrets.js';

const SHOWN = 200;
/** How long a link in an e-mail can be followed, and how long somebody stays signed in. */
export const LINK_MINUTES = 30;
export const SESSION_DAYS = 90;
/** Letters to one address in the time that a link lives; more would be a nuisance to its owner. */
const MAX_LETTERS = 3;

const COLUMNS = ['id', 'email', 'joined_at as joinedAt', 'first_visit as firstVisit', 'blocked'] as const;

export async function listMembers(
  db: Queryable,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  { q = '' }: MembersQuery,
): Promise<MembersPage> {
  const named = () => db('members').where({ blog_id: blogId }).whereRaw('strpos(email, lower(?)) > 0', [q]);
  const members = await named()
    .orderBy('id', 'desc')
    .limit(SHOWN)
    .select<MemberView[]>(...COLUMNS);
  const [{ count } = { count: '0' }] = await named().count<{ count: string }[]>('id as count');
  return { members, count: Number(count) };
}

export async function changeMember(
  trx: Trx,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  id: number,
  { blocked }: MemberChanges,
): Promise<MemberView> {
  const [row] = await trx('members')
    .where({ blog_id: blogId, id })
    .update({ blocked })
    .returning<MemberView[]>([...COLUMNS]);
  if (!row) throw notFound('That member');
  if (blocked) await trx('member_sessions').where({ member_id: id }).delete();
  return row;
}

export async function removeMember(
  trx: Trx,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  id: number,
): Promise<null> {
  const [row] = await trx('members')
    .where({ blog_id: blogId, id })
    .delete()
    .returning<{ email: string }[]>(['email']);
  if (!row) throw notFound('That member');
  await trx('member_links').where({ blog_id: blogId, email: row.email }).delete();
  return null;
}

/**
 * Has a link for signing in sent to an address, where new members are taken or it is a member's. Whether a letter goes
 * is told to nobody. The count of letters is made under a lock of the address, so that many at once are counted too.
 */
export async function requestLink(
  trx: Trx,
  { blogId, email, back, newMembers }: { blogId: number; email: string; back: string; newMembers: boolean },
  addressOf: (secret: string) => string,
): Promise<void> {
  await trx.raw('select pg_advisory_xact_lock(hashtextextended(?, ?))', [`member ${email}`, blogId]);
  const member = await trx('members')
    .where({ blog_id: blogId, email })
    .first<{ blocked: boolean } | undefined>('blocked');
  if (member ? member.blocked : !newMembers) return;
  const { rows } = await trx.raw<{ rows: { letters: number }[] }>(
    `
      select
        count(*)::int as letters
      from
        member_links
      where
        blog_id = ?
        and email = ?
        and made_at > now() - ?::int * interval '1 minute'
    `,
    [blogId, email, LINK_MINUTES],
  );
  if (rows[0]!.letters >= MAX_LETTERS) return;
  const secret = newSecret();
  await trx('member_links').insert({
    digest: digestOf(secret),
    blog_id: blogId,
    email,
    back,
    expires_at: trx.raw(`now() + ?::int * interval '1 minute'`, [LINK_MINUTES]),
  });
  await planMemberLink(trx, { digest: digestOf(secret).toString('hex'), address: addressOf(secret) });
}

/** Does a link still lead to a sign-in? Following it uses nothing up: programs that read mail follow links too. */
export async function linkIsGood(db: Queryable, blogId: number, secret: string): Promise<boolean> {
  const row = await db('member_links')
    .where({ digest: digestOf(secret), blog_id: blogId, used_at: null })
    .whereRaw('expires_at > now()')
    .first('digest');
  return row !== undefined;
}

/**
 * Signs a reader in by a link, once; who was no member is one now, with the first visit that their browser knows of.
 * Null where the link was used or is too old.
 */
export async function useLink(
  trx: Trx,
  blogId: number,
  secret: string,
  firstVisit: string | null,
): Promise<{ session: string; back: string } | null> {
  const [link] = await trx('member_links')
    .where({ digest: digestOf(secret), blog_id: blogId, used_at: null })
    .whereRaw('expires_at > now()')
    .update({ used_at: trx.fn.now() })
    .returning<{ email: string; back: string }[]>(['email', 'back']);
  if (!link) return null;
  const [member] = await trx('members')
    .insert({
      blog_id: blogId,
      email: link.email,
      first_visit: firstVisit ?? trx.raw(`date_trunc('minute', now())`),
    })
    .onConflict(['blog_id', 'email'])
    // Who came earlier on another device keeps that.
    .merge({ first_visit: trx.raw('least(members.first_visit, excluded.first_visit)') })
    .returning<{ id: number; blocked: boolean }[]>(['id', 'blocked']);
  if (member!.blocked) return null;
  const session = newSecret();
  await trx('member_sessions').insert({
    digest: digestOf(session),
    member_id: member!.id,
    expires_at: trx.raw(`now() + ?::int * interval '1 day'`, [SESSION_DAYS]),
  });
  return { session, back: link.back };
}

export async function endMemberSession(db: Db, session: string): Promise<void> {
  await db('member_sessions')
    .where({ digest: digestOf(session) })
    .delete();
}

/** Drops what is over: links that nobody can follow any more, sessions that have ended. */
export async function tidyAccess(db: Db): Promise<void> {
  await db.raw(`delete from member_links where expires_at < now() - interval '1 day'`);
  await db.raw('delete from member_sessions where expires_at < now()');
  await db.raw(`delete from preview_links where expires_at < now() - interval '30 days'`);
}
