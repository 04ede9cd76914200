import * as Y from 'yjs';
import type { Queryable } from '../db/connect.js';

/** Clients whose structs an update holds; a deletion alone holds none. */
export const clientsIn = (update: Uint8Array): number[] => [...Y.parseUpdateMeta(update).from.keys()];

/**
 * Binds a client of a shared document to the person who writes through it first, in whatever process, and answers
 * whose it is. What is kept under one client id is never taken for anybody else's: an update under it that says the
 * same place again would make the owner's next words count as known.
 */
export async function bindClient(
  db: Queryable,
  postId: number,
  client: number,
  personId: number,
): Promise<number> {
  const { rows } = await db.raw<{ rows: { personId: number }[] }>(
    `
      with
        bound as (
          insert into
            shared_text_clients (post_id, client, person_id)
          values
            (:postId, :client, :personId)
          on conflict do nothing
          returning
            person_id
        )
      select
        person_id as "personId"
      from
        bound
      union all
      select
        person_id
      from
        shared_text_clients
      where
        post_id = :postId
        and client = :client
      limit
        1
    `,
    { postId, client, personId },
  );
  // Somebody else bound it in between, and has committed by now.
  return rows[0]?.personId ?? bindClient(db, postId, client, personId);
}

/** To whom a client is bound; null where it is not. */
export async function boundTo(db: Queryable, postId: number, client: number): Promise<number | null> {
  const row = await db('shared_text_clients')
    .where({ post_id: postId, client })
    .first<{ personId: number } | undefined>('person_id as personId');
  return row?.personId ?? null;
}

/** Who wrote through a client before clients were bound, as far as updates are kept one by one; null where unknown. */
export async function writerBefore(db: Queryable, postId: number, client: number): Promise<number | null> {
  const updates = await db('shared_text_updates')
    .where({ post_id: postId, from_post: false })
    .orderBy('id')
    .select<{ personId: number | null; content: Buffer }[]>('person_id as personId', 'content');
  return updates.find((u) => clientsIn(new Uint8Array(u.content)).includes(client))?.personId ?? null;
}
