import type { Queryable, Trx } from '../db/connect.js';

/**
 * A digest of an address whose subscriber was deleted, so that an old file does not put them on the list again. It is
 * salted for each blog: the address cannot be read from it, nor compared across blogs.
 */
const DIGEST = `sha256(convert_to(b.erasure_salt || ':' || a.email, 'UTF8'))`;

/** Remembers that the owner of an address asked to be deleted. */
export async function rememberErasure(trx: Trx, subscriberId: number): Promise<void> {
  await trx.raw(
    `
      insert into
        erased_subscribers (blog_id, digest)
      select
        b.id,
        ${DIGEST}
      from
        subscribers a
        join blogs b on b.id = a.blog_id
      where
        a.id = ?
      on conflict do nothing
    `,
    [subscriberId],
  );
}

/** They signed up again by themselves and said yes. */
export async function forgetErasure(trx: Trx, subscriberId: number): Promise<void> {
  await trx.raw(
    `
      delete from erased_subscribers e
      using
        subscribers a,
        blogs b
      where
        a.id = ?
        and b.id = a.blog_id
        and e.blog_id = b.id
        and e.digest = ${DIGEST}
    `,
    [subscriberId],
  );
}

/** Which of some addresses were deleted from the blog's list. */
export async function erasedAmong(
  db: Queryable,
  blogId: number,
  emails: readonly string[],
): Promise<Set<string>> {
  const { rows } = await db.raw<{ rows: { email: string }[] }>(
    `
      select
        a.email
      from
        unnest(?::text[]) as a (email)
        join blogs b on b.id = ?
        join erased_subscribers e on e.blog_id = b.id
        and e.digest = ${DIGEST}
    `,
    [[...emails], blogId],
  );
  return new Set(rows.map((r) => r.email));
}
