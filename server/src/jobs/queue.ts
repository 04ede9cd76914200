import { createHash } from 'node:crypto';
import type { Reader, Trx } from '../db/connect.js';

/** Every job and what it carries. */
export interface Jobs {
  release: { postId: number };
  measure: { postId: number };
  sizes: { mediaId: number };
  relate: { postId: number };
  batch: { batchId: number };
  look: { batchId: number };
  /** With `all`, every post that is not out, else those whose measures are out of date. */
  remeasure: { blogId: number; all: boolean };
  send: { sendId: number };
  mention: { noteId: number; personId: number };
  digest: { personId: number; blogId: number };
  /** The address holds the secret; the job is gone once the letter is out. */
  invitation: { inviteId: number; address: string };
  /** What readers said under a post since its writers were told. */
  comments: { postId: number };
  /** A page says that it links to a post. */
  mentioned: { blogId: number; postId: number; source: string; target: string };
  /** A post tells the pages that it links to. */
  mentions: { postId: number };
  memberLink: { digest: string; address: string };
  /** Somebody asked for the letter, and is asked whether they meant it. */
  confirmation: { subscriberId: number };
  /** A letter is handed over to the mail server, to each subscriber once. */
  letter: { letterId: number };
  /** Outlets are asked what came of the pieces they have. */
  figures: Record<string, never>;
  /** A post was cleared: patterns that make their pieces by themselves do so, as who cleared it. */
  pieces: { postId: number; personId: number };
}

const releaseKey = (postId: number) => `release:${postId}`;

/**
 * Has posts released at their run times; a later call for the same post replaces the earlier. Commits with the
 * change that causes it.
 */
export async function planReleases(
  trx: Trx,
  releases: readonly { postId: number; runAt: string }[],
): Promise<void> {
  if (releases.length === 0) return;
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'release',
          payload => json_build_object('postId', r."postId"),
          run_at => r."runAt",
          max_attempts => 25,
          job_key => 'release:' || r."postId",
          priority => 0
        )
      from
        jsonb_to_recordset(?::jsonb) as r ("postId" int, "runAt" timestamptz)
    `,
    [JSON.stringify(releases)],
  );
}

export async function cancelReleases(trx: Trx, postIds: readonly number[]): Promise<void> {
  if (postIds.length > 0)
    await trx.raw('select graphile_worker.remove_job(key) from unnest(?::text[]) key', [
      postIds.map(releaseKey),
    ]);
}

/** Has posts measured once their writers pause: a later change replaces the job of an earlier one. */
export async function planMeasuring(trx: Trx, postIds: readonly number[]): Promise<void> {
  if (postIds.length === 0) return;
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'measure',
          payload => json_build_object('postId', p.id),
          run_at => now() + interval '1 second',
          max_attempts => 5,
          job_key => 'measure:' || p.id,
          priority => 5
        )
      from
        unnest(?::int[]) as p (id)
    `,
    [[...postIds]],
  );
}

/** Has posts compared with the others before readers, after everything that cannot wait. */
export async function planRelating(trx: Reader, postIds: readonly number[]): Promise<void> {
  if (postIds.length === 0) return;
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'relate',
          payload => json_build_object('postId', p.id),
          max_attempts => 5,
          job_key => 'relate:' || p.id,
          queue_name => 'relate',
          priority => 9
        )
      from
        unnest(?::int[]) as p (id)
    `,
    [[...postIds]],
  );
}

/** Has the sizes for the page made. */
export async function planSizes(trx: Trx, mediaId: number): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job ('sizes', payload => ?::json, max_attempts => 5, job_key => ?, priority => 3)
    `,
    [JSON.stringify({ mediaId } satisfies Jobs['sizes']), `sizes:${mediaId}`],
  );
}

/** Has a batch that waits applied. */
export async function planBatch(trx: Trx, batchId: number): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job ('batch', payload => ?::json, max_attempts => 10, job_key => ?, priority => 1)
    `,
    [JSON.stringify({ batchId } satisfies Jobs['batch']), `batch:${batchId}`],
  );
}

/** Has the posts of a batch looked through. */
export async function planLook(trx: Trx, batchId: number): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job ('look', payload => ?::json, max_attempts => 5, job_key => ?, priority => 1)
    `,
    [JSON.stringify({ batchId } satisfies Jobs['look']), `look:${batchId}`],
  );
}

/** Has all posts of a blog measured whose measures are out of date, one after the other. */
export async function planRemeasuring(
  trx: Trx,
  blogId: number,
  { all = false }: { all?: boolean } = {},
): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'remeasure',
          payload => ?::json,
          run_at => now() + interval '1 second',
          max_attempts => 5,
          job_key => ?,
          priority => 8
        )
    `,
    [JSON.stringify({ blogId, all } satisfies Jobs['remeasure']), `remeasure:${blogId}${all ? ':all' : ''}`],
  );
}

/** Has people told by mail that a note mentions them, when they have not seen it by then. */
export async function planMentionMail(trx: Trx, mentions: readonly Jobs['mention'][]): Promise<void> {
  if (mentions.length === 0) return;
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'mention',
          payload => json_build_object('noteId', m."noteId", 'personId', m."personId"),
          run_at => now() + interval '20 seconds',
          max_attempts => 10,
          priority => 6
        )
      from
        jsonb_to_recordset(?::jsonb) as m ("noteId" int, "personId" int)
    `,
    [JSON.stringify(mentions)],
  );
}

/** Has a link for signing in mailed to a reader. */
export async function planMemberLink(trx: Trx, link: Jobs['memberLink']): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job ('memberLink', payload => ?::json, max_attempts => 6, job_key => ?, priority => 4)
    `,
    [JSON.stringify(link), `member-link:${link.digest}`],
  );
}

/** Has the writers of a post told of what readers said, a while later: what comes meanwhile is in the same letter. */
export async function planCommentMail(trx: Trx, postId: number): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'comments',
          payload => ?::json,
          run_at => now() + interval '2 minutes',
          max_attempts => 6,
          job_key => ?,
          job_key_mode => 'preserve_run_at',
          priority => 6
        )
    `,
    [JSON.stringify({ postId } satisfies Jobs['comments']), `comments:${postId}`],
  );
}

/** Has a page looked at that says it links to a post; said again meanwhile, it is looked at once. */
export async function planMentioned(trx: Trx, mention: Jobs['mentioned']): Promise<void> {
  const key = createHash('sha256').update(`${mention.postId} ${mention.source}`).digest('hex');
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'mentioned', payload => ?::json, max_attempts => 4, job_key => ?, priority => 8
        )
    `,
    [JSON.stringify(mention), `mentioned:${key}`],
  );
}

/** Has posts tell the pages that they link to, once nothing changes any more. */
export async function planMentions(trx: Trx, postIds: readonly number[]): Promise<void> {
  if (postIds.length === 0) return;
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'mentions',
          payload => json_build_object('postId', p.id),
          run_at => now() + interval '5 seconds',
          max_attempts => 4,
          job_key => 'mentions:' || p.id,
          priority => 8
        )
      from
        unnest(?::int[]) as p (id)
    `,
    [[...postIds]],
  );
}

/** Has an invitation mailed. */
export async function planInvitation(trx: Trx, invitation: Jobs['invitation']): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job ('invitation', payload => ?::json, max_attempts => 8, job_key => ?, priority => 4)
    `,
    [JSON.stringify(invitation), `invitation:${invitation.inviteId}`],
  );
}

/** Has somebody asked by mail whether they want the letter. */
export async function planConfirmation(trx: Trx, subscriberId: number): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job ('confirmation', payload => ?::json, max_attempts => 6, job_key => ?, priority => 4)
    `,
    [JSON.stringify({ subscriberId } satisfies Jobs['confirmation']), `confirmation:${subscriberId}`],
  );
}

/** Has a letter handed over, after some seconds when the mail server asked for patience. */
export async function planLetter(trx: Reader, letterId: number, seconds = 0): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'letter',
          payload => ?::json,
          run_at => now() + make_interval(secs => ?),
          max_attempts => 5,
          job_key => ?,
          priority => 5
        )
    `,
    [JSON.stringify({ letterId } satisfies Jobs['letter']), seconds, `letter:${letterId}`],
  );
}

/** Has outlets asked for figures, by one process at a time. */
export async function planFigures(trx: Reader): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'figures', payload => '{}'::json, max_attempts => 1, job_key => 'figures', priority => 9
        )
    `,
  );
}

/** Has patterns make the pieces of a post, after what cannot wait. */
export async function planPieces(trx: Trx, pieces: Jobs['pieces']): Promise<void> {
  await trx.raw(
    `
      select
        graphile_worker.add_job ('pieces', payload => ?::json, max_attempts => 5, job_key => ?, priority => 7)
    `,
    [JSON.stringify(pieces), `pieces:${pieces.postId}`],
  );
}
