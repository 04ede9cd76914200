import { createHash } from 'node:crypto';
import type { Queryable, Trx } from '../db/connect.js';

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
  /** A letter is passed to the mail server, to each subscriber once. */
  letter: { letterId: number };
  /** Outlets are asked what came of the pieces they have. */
  figures: Record<string, never>;
  /** A post was cleared: patterns that make their pieces by themselves do so, as who cleared it. */
  pieces: { postId: number; personId: number };
}

interface Planned<K extends keyof Jobs> {
  payload: Jobs[K];
  /** A later job with the same key replaces one that is not begun yet. */
  key?: string;
  /** RFC 3339; now, when left out. */
  at?: string;
}
interface Planning {
  /** How often it is tried before it is given up. */
  tries: number;
  /** The lowest comes first. */
  priority: number;
  /** Begins so much later. */
  seconds?: number;
  /** Those of one queue run one after the other. */
  queue?: string;
  /** A later job with the same key is done when the earlier one would have been. */
  keepsTime?: boolean;
}

/** Plans jobs of one kind in one statement, with the change that causes them: they come to be when it commits. */
async function plan<K extends keyof Jobs>(
  trx: Queryable,
  kind: K,
  jobs: readonly Planned<K>[],
  { tries, priority, seconds = 0, queue, keepsTime = false }: Planning,
): Promise<void> {
  if (jobs.length === 0) return;
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          ?,
          payload => j.payload::json,
          queue_name => ?,
          run_at => coalesce(j.at, now() + make_interval(secs => ?)),
          max_attempts => ?,
          job_key => j.key,
          priority => ?,
          job_key_mode => ?
        )
      from
        jsonb_to_recordset(?::jsonb) as j (payload jsonb, key text, at timestamptz)
    `,
    [
      kind,
      queue ?? null,
      seconds,
      tries,
      priority,
      keepsTime ? 'preserve_run_at' : 'replace',
      JSON.stringify(jobs),
    ] as never[],
  );
}

const forPosts = <K extends 'release' | 'measure' | 'relate' | 'mentions'>(
  kind: K,
  postIds: readonly number[],
): Planned<K>[] => postIds.map((postId) => ({ payload: { postId } as Jobs[K], key: `${kind}:${postId}` }));

/** Has posts released at their run times; a later call for the same post replaces the earlier. */
export const planReleases = (
  trx: Trx,
  releases: readonly { postId: number; runAt: string }[],
): Promise<void> =>
  plan(
    trx,
    'release',
    releases.map(({ postId, runAt }) => ({ ...forPosts('release', [postId])[0]!, at: runAt })),
    { tries: 25, priority: 0 },
  );

export async function cancelReleases(trx: Trx, postIds: readonly number[]): Promise<void> {
  if (postIds.length > 0)
    await trx.raw('select graphile_worker.remove_job(key) from unnest(?::text[]) key', [
      forPosts('release', postIds).map((j) => j.key!),
    ]);
}

/** Has posts measured once their writers pause: a later change replaces the job of an earlier one. */
export const planMeasuring = (trx: Trx, postIds: readonly number[]): Promise<void> =>
  plan(trx, 'measure', forPosts('measure', postIds), { tries: 5, priority: 5, seconds: 1 });

/** Has posts compared with the other published ones, after everything that cannot wait. */
export const planRelating = (trx: Queryable, postIds: readonly number[]): Promise<void> =>
  plan(trx, 'relate', forPosts('relate', postIds), { tries: 5, priority: 9, queue: 'relate' });

/** Has the sizes for the page made. */
export const planSizes = (trx: Trx, mediaId: number): Promise<void> =>
  plan(trx, 'sizes', [{ payload: { mediaId }, key: `sizes:${mediaId}` }], { tries: 5, priority: 3 });

/** Has a batch that waits applied. */
export const planBatch = (trx: Trx, batchId: number): Promise<void> =>
  plan(trx, 'batch', [{ payload: { batchId }, key: `batch:${batchId}` }], { tries: 10, priority: 1 });

/** Has the posts of a batch looked through. */
export const planLook = (trx: Trx, batchId: number): Promise<void> =>
  plan(trx, 'look', [{ payload: { batchId }, key: `look:${batchId}` }], { tries: 5, priority: 1 });

/** Has all posts of a blog measured whose measures are out of date, one after the other. */
export const planRemeasuring = (
  trx: Trx,
  blogId: number,
  { all = false }: { all?: boolean } = {},
): Promise<void> =>
  plan(trx, 'remeasure', [{ payload: { blogId, all }, key: `remeasure:${blogId}${all ? ':all' : ''}` }], {
    tries: 5,
    priority: 8,
    seconds: 1,
  });

/** Has people told by mail that a note mentions them, when they have not seen it by then. */
export const planMentionMail = (trx: Trx, mentions: readonly Jobs['mention'][]): Promise<void> =>
  plan(
    trx,
    'mention',
    mentions.map((payload) => ({ payload })),
    { tries: 10, priority: 6, seconds: 20 },
  );

/** Has a link for signing in mailed to a reader. */
export const planMemberLink = (trx: Trx, link: Jobs['memberLink']): Promise<void> =>
  plan(trx, 'memberLink', [{ payload: link, key: `member-link:${link.digest}` }], { tries: 6, priority: 4 });

/** Notifies the writers of a post of comments, a while later: all of that time go into one letter. */
export const planCommentMail = (trx: Trx, postId: number): Promise<void> =>
  plan(trx, 'comments', [{ payload: { postId }, key: `comments:${postId}` }], {
    tries: 6,
    priority: 6,
    seconds: 120,
    keepsTime: true,
  });

/** Has a page looked at that says it links to a post; said again meanwhile, it is looked at once. */
export function planMentioned(trx: Trx, mention: Jobs['mentioned'], seconds = 0): Promise<void> {
  const digest = createHash('sha256').update(`${mention.postId} ${mention.source}`).digest('hex');
  return plan(trx, 'mentioned', [{ payload: mention, key: `mentioned:${digest}` }], {
    tries: 4,
    priority: 8,
    seconds,
  });
}

/** Has posts tell the pages that they link to, once nothing changes any more. */
export const planMentions = (trx: Trx, postIds: readonly number[]): Promise<void> =>
  plan(trx, 'mentions', forPosts('mentions', postIds), { tries: 4, priority: 8, seconds: 5 });

/** Has an invitation mailed. */
export const planInvitation = (trx: Trx, invitation: Jobs['invitation']): Promise<void> =>
  plan(trx, 'invitation', [{ payload: invitation, key: `invitation:${invitation.inviteId}` }], {
    tries: 8,
    priority: 4,
  });

/** Has somebody asked by mail whether they want the letter. */
export const planConfirmation = (trx: Trx, subscriberId: number): Promise<void> =>
  plan(trx, 'confirmation', [{ payload: { subscriberId }, key: `confirmation:${subscriberId}` }], {
    tries: 6,
    priority: 4,
  });

/** Has a letter delivered, after some seconds when the mail server asked for patience. */
export const planLetter = (trx: Queryable, letterId: number, seconds = 0): Promise<void> =>
  plan(trx, 'letter', [{ payload: { letterId }, key: `letter:${letterId}` }], {
    tries: 5,
    priority: 5,
    seconds,
  });

/** Has outlets asked for figures, by one process at a time. */
export const planFigures = (trx: Queryable): Promise<void> =>
  plan(trx, 'figures', [{ payload: {}, key: 'figures' }], { tries: 1, priority: 9 });

/** Has patterns make the pieces of a post, after what cannot wait. */
export const planPieces = (trx: Trx, pieces: Jobs['pieces']): Promise<void> =>
  plan(trx, 'pieces', [{ payload: pieces, key: `pieces:${pieces.postId}` }], { tries: 5, priority: 7 });
