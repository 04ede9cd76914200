import type { Trx } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { WholePostRow } from './store.js';

/** Somebody who comes back after so long reads the post another time. */
const AWAY = '10 minutes';

/** Keeps that somebody reads a post as it stands, and how it stood when they read it the time before. */
export async function noteRead(trx: Trx, person: CurrentPerson, post: WholePostRow): Promise<void> {
  await trx.raw(
    `
      insert into
        read_versions (post_id, person_id, version)
      values
        (?, ?, ?)
      on conflict (post_id, person_id) do update
      set
        before_version = case
          when read_versions.seen_at < clock_timestamp() - interval '${AWAY}' then read_versions.version
          else read_versions.before_version
        end,
        version = excluded.version,
        seen_at = clock_timestamp()
    `,
    [post.id, person.id, post.version],
  );
}
