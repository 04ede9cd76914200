import type { BodyNode } from '@keyroster/core';
import { fillShared, sharedOf } from '@keyroster/core/texts';
import type { Db, Queryable, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { sharedTextOf } from '../work/computing.js';

/** What is told to other processes of a text: that it has new updates, or who is where in it. */
export const TEXT_CHANNEL = 'key_roster_text';

/** An update as it is kept. Ids of one text grow in the order in which updates were let in. */
export interface TextUpdate {
  id: number;
  personId: number | null;
  content: Uint8Array;
  fromPost: boolean;
}

/** A shared text as it is kept: a state, and the updates after it. */
export interface KeptText {
  state: Uint8Array;
  stateId: number;
  storedId: number;
  updates: TextUpdate[];
}

/** Makes the shared document of a post's text, unless it has one. */
export async function beginText(db: Queryable, postId: number, body: BodyNode): Promise<void> {
  if (await db('shared_texts').where({ post_id: postId }).first('post_id')) return;
  const state = Buffer.from(await sharedTextOf(body));
  // Only upon the text that it was made from: a change of the post meanwhile finds no document to go into.
  await db.raw(
    `
      insert into
        shared_texts (post_id, state)
      select
        id,
        ?
      from
        all_posts
      where
        id = ?
        and coalesce(suggested, body) = ?::jsonb
      for share
      on conflict (post_id) do nothing
    `,
    [state, postId, JSON.stringify(body)],
  );
}

/** The text as it is kept, or what was added after an update; null when the post's text was never shared. */
export async function readText(db: Queryable, postId: number, after = -1): Promise<KeptText | null> {
  const { rows } = await db.raw<{
    rows: (Omit<KeptText, 'updates'> & { updates: (Omit<TextUpdate, 'content'> & { content: string })[] })[];
  }>(
    `
      select
        case
          when t.state_id > :after then t.state
        end as state,
        t.state_id::int8 as "stateId",
        t.stored_id::int8 as "storedId",
        coalesce(
          (
            select
              json_agg(
                json_build_object(
                  'id',
                  u.id,
                  'personId',
                  u.person_id,
                  'content',
                  encode(u.content, 'base64'),
                  'fromPost',
                  u.from_post
                )
                order by
                  u.id
              )
            from
              shared_text_updates u
            where
              u.post_id = t.post_id
              and u.id > greatest(t.state_id, :after)
          ),
          '[]'
        ) as updates
      from
        shared_texts t
      where
        t.post_id = :postId
    `,
    { postId, after },
  );
  const [row] = rows;
  if (!row) return null;
  const updates = row.updates.map((u) => ({
    ...u,
    content: new Uint8Array(Buffer.from(u.content, 'base64')),
  }));
  return { ...row, state: row.state ? new Uint8Array(row.state) : new Uint8Array([0, 0]), updates };
}

/** Everything that makes the document, in order. */
export const contentsOf = (kept: KeptText): Uint8Array[] => [
  kept.state,
  ...kept.updates.map((u) => u.content),
];
export const lastIdOf = (kept: KeptText): number => kept.updates.at(-1)?.id ?? kept.stateId;

/**
 * Adds an update to a text and tells all processes, in one statement: what is told has been kept. Returns its id,
 * or null when the text is no longer there.
 */
export async function addUpdate(
  db: Queryable,
  postId: number,
  personId: number | null,
  content: Uint8Array,
  fromPost = false,
): Promise<number | null> {
  const { rows } = await db.raw<{ rows: { id: number }[] }>(
    `
      with
        held as (
          select
            post_id
          from
            shared_texts
          where
            post_id = ?
          for update
        ),
        added as (
          insert into
            shared_text_updates (post_id, person_id, content, from_post)
          select
            post_id,
            ?,
            ?,
            ?
          from
            held
          returning
            id,
            post_id
        )
      select
        id::int8,
        pg_notify('${TEXT_CHANNEL}', json_build_object('post', post_id, 'update', id)::text)
      from
        added
    `,
    [postId, personId, Buffer.from(content), fromPost],
  );
  return rows[0]?.id ?? null;
}

/**
 * Gives the empty lines of a text that was begun before they had one their own text, so that two people who write in
 * the same one without seeing each other do not find their words there twice. One process at a time: two that both
 * gave it a text would bring about what this is to prevent.
 */
export async function fillText(db: Db, postId: number): Promise<void> {
  await inTransaction(db, async (trx) => {
    await trx('shared_texts').where({ post_id: postId }).forUpdate().first('post_id');
    const kept = await readText(trx, postId);
    const missing = kept && fillShared(sharedOf(contentsOf(kept)));
    if (missing) await addUpdate(trx, postId, null, missing, true);
  });
}

/** Tells other processes who is where in a text. What is too long to be told is left out; it comes again. */
export async function publishAwareness(
  db: Queryable,
  postId: number,
  from: string,
  states: Uint8Array,
): Promise<void> {
  const payload = JSON.stringify({ post: postId, from, states: Buffer.from(states).toString('base64') });
  if (payload.length < 7900) await db.raw('select pg_notify(?, ?)', [TEXT_CHANNEL, payload]);
}
export async function requestAwareness(db: Queryable, postId: number, from: string): Promise<void> {
  await db.raw('select pg_notify(?, ?)', [TEXT_CHANNEL, JSON.stringify({ post: postId, from, asks: true })]);
}

/** Marks what the post's row has taken in; a long tail of updates becomes one state. */
export async function markStored(
  trx: Trx,
  postId: number,
  storedId: number,
  state: Uint8Array | null,
): Promise<void> {
  await trx('shared_texts')
    .where({ post_id: postId })
    .update({
      stored_id: storedId,
      ...(state ? { state: Buffer.from(state), state_id: storedId } : {}),
    });
  if (state) await trx('shared_text_updates').where({ post_id: postId }).where('id', '<=', storedId).delete();
}

/** Texts with words that their post's row does not have, as after a process died. */
export function unstoredTexts(db: Queryable): Promise<number[]> {
  return db('shared_texts as t')
    .whereExists(
      db('shared_text_updates as u')
        .whereRaw('u.post_id = t.post_id and u.id > t.stored_id and not u.from_post')
        .select(db.raw('1')),
    )
    .pluck('post_id') as unknown as Promise<number[]>;
}
