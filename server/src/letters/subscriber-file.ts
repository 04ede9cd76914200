import { randomUUID } from 'node:crypto';
import type { SubscribersImported } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import { rowBatches } from '../db/batches.js';
import type { Db, Trx } from '../db/connect.js';
import type { AddressReport } from '../documents/address-list.js';
import { plainCell } from '../documents/plain-cell.js';
import type { UploadedFile } from '../http/handlers.js';
import { ProblemError } from '../http/problem.js';
import { addressesIn } from '../work/addresses.js';
import type { Progress } from '../work/progress.js';

/** The addresses of a file, kept aside until they are added, and what became of its lines. */
export interface FoundSubscribers extends AddressReport {
  import: string;
}

/**
 * Reads a file of subscribers in another thread, and keeps its addresses aside a chunk at a time; they are added all
 * together. Ended by `signal`, nothing is left of it.
 */
export async function readSubscriberFile(
  db: Db,
  { bytes }: UploadedFile,
  progress: Progress,
  signal: AbortSignal,
): Promise<FoundSubscribers> {
  const id = randomUUID();
  let kept = 0;
  try {
    const report = await addressesIn(
      bytes,
      async ({ emails, names, done, total }) => {
        progress.done(done, total);
        if (emails.length === 0) return;
        await db.raw(
          `
            insert into
              subscriber_imports (import, n, email, name)
            select
              ?,
              ? + p.n,
              p.email,
              p.name
            from
              unnest(?::text[], ?::text[]) with ordinality as p (email, name, n)
          `,
          [id, kept, emails, names],
        );
        kept += emails.length;
      },
      { onPlace: progress.place, signal },
    );
    if (report.found === 0)
      throw new ProblemError('invalid', 'There is no e-mail address in this file. Nobody was added.');
    return { ...report, import: id };
  } catch (error) {
    await db('subscriber_imports').where({ import: id }).delete();
    throw error;
  }
}

/**
 * Adds the subscribers of a file. Those who are on the list already stay as they are, also when they left it; those who
 * were deleted from it stay out.
 */
export async function importSubscribers(
  trx: Trx,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  { import: id, found, repeated, wrong, wrongCount }: FoundSubscribers,
): Promise<SubscribersImported> {
  const { rows } = await trx.raw<{ rows: { added: number; erased: number }[] }>(
    `
      with
        wanted as (
          delete from subscriber_imports
          where
            import = :id
          returning
            n,
            email,
            name
        ),
        erased as (
          select
            w.email
          from
            wanted w
            join blogs b on b.id = :blogId
            join erased_subscribers e on e.blog_id = b.id
            and e.digest = sha256(convert_to(b.erasure_salt || ':' || w.email, 'UTF8'))
        ),
        put as (
          insert into
            subscribers (blog_id, email, name, state, how, confirmed_at)
          select
            :blogId,
            w.email,
            w.name,
            'active',
            'import',
            now()
          from
            wanted w
          where
            w.email not in (select email from erased)
          order by
            w.n
          on conflict (blog_id, email) do nothing
          returning
            1
        )
      select
        (select count(*) from put)::int as added,
        (select count(*) from erased)::int as erased
    `,
    { id, blogId },
  );
  const { added, erased } = rows[0]!;
  return { added, erased, known: found - added - erased, repeated, wrong, wrongCount };
}

export const SUBSCRIBER_COLUMNS = [
  'email',
  'name',
  'state',
  'how',
  'signed up',
  'confirmed',
  'left',
  'from post',
] as const;

type Row = Record<
  'email' | 'name' | 'state' | 'how' | 'asked' | 'confirmed' | 'left' | 'slug',
  string | null
>;

/** Everybody on the list, as rows of a CSV file. */
export async function* subscriberRows(db: Db, blogId: number): AsyncGenerator<(string | null)[][]> {
  const batches = rowBatches<Row>(
    db,
    `
      select
        s.email,
        s.name,
        s.state,
        s.how,
        s.asked_at as asked,
        s.confirmed_at as confirmed,
        s.left_at as "left",
        p.slug
      from
        subscribers s
        left join posts p on p.id = s.post_id
      where
        s.blog_id = ?
      order by
        s.id
    `,
    [blogId],
  );
  for await (const rows of batches)
    yield rows.map((r) => [
      plainCell(r.email),
      plainCell(r.name),
      r.state,
      r.how,
      r.asked,
      r.confirmed,
      r.left,
      r.slug,
    ]);
}
