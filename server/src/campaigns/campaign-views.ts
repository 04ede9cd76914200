import type { CampaignItem, CampaignLine, CampaignView } from '@keyroster/contract';
import {
  VERDICT_NAMES,
  campaignLacks,
  formatCount,
  groupResults,
  isOfCampaign,
  lastDays,
  type CampaignPost,
  type WallTime,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import type { PostRow } from '../posts/store.js';
import { postsReleased } from '../results/rows.js';
import { clockOf } from '../slots/clock.js';
import { campaignRows, outletsOf, piecesOf, postsNaming, readsOf, type PieceOf } from './campaign-rows.js';

const PIECE_STATES: Record<string, string> = {
  waiting: 'planned',
  sending: 'on its way',
  sent: 'out',
  unsure: 'in doubt',
  failed: 'failed',
  stopped: 'stopped',
};

const planPost = (row: PostRow, pieces: readonly PieceOf[]): CampaignPost => ({
  id: row.id,
  title: row.title,
  stage: row.stage,
  day: row.run_local?.slice(0, 10) ?? null,
  hasPicture: row.lead_media_id !== null,
  outletIds: pieces.filter((p) => p.postId === row.id).map((p) => p.outletId),
});

export async function listCampaigns(db: Queryable, person: CurrentPerson): Promise<CampaignLine[]> {
  const posts = await postsNaming(db, person);
  const { today, zone } = await clockOf(db, person.blogId);
  const pieces = await piecesOf(
    db,
    zone,
    posts.map((p) => p.id),
  );
  const lines: CampaignLine[] = [];
  for (const { id, name, from, until } of await campaignRows(db, person.blogId)) {
    const own = posts.filter((p) => isOfCampaign(p.campaign, name));
    const plan = {
      from,
      until,
      outlets: await outletsOf(db, id),
      posts: own.map((p) => planPost(p, pieces)),
    };
    lines.push({
      ...{ id, name, from, until },
      posts: own.length,
      out: own.filter((p) => p.stage === 'published').length,
      lacks: campaignLacks(plan, today).length,
    });
  }
  return lines;
}

export async function seeCampaign(db: Queryable, person: CurrentPerson, id: number): Promise<CampaignView> {
  const row = (await campaignRows(db, person.blogId)).find((c) => c.id === id);
  if (!row) throw notFound('That campaign');
  const { today, zone } = await clockOf(db, person.blogId);
  const posts = (await postsNaming(db, person)).filter((p) => isOfCampaign(p.campaign, row.name));
  const ids = posts.map((p) => p.id);
  const pieces = await piecesOf(db, zone, ids);
  const reads = await readsOf(db, ids);
  const outlets = await outletsOf(db, id);
  const titleOf = new Map(posts.map((p) => [p.id, p.title]));
  const items: CampaignItem[] = [
    ...posts.map((p) => ({
      kind: 'post' as const,
      postId: p.id,
      title: p.title,
      local: p.run_local as WallTime | null,
      stage: p.stage,
      outlet: '',
      pieceKind: null,
      state: p.stage === 'published' ? 'out' : p.stage,
      figure: p.stage === 'published' ? (reads.get(p.id) ?? 0) : null,
    })),
    ...pieces.map((p) => ({
      kind: 'piece' as const,
      postId: p.postId,
      title: titleOf.get(p.postId)!,
      local: p.sentLocal ?? p.dueLocal,
      stage: null,
      outlet: p.outlet,
      pieceKind: p.kind,
      state: p.state === null ? 'waits for approval' : PIECE_STATES[p.state]!,
      figure: p.state === 'sent' ? (p.seen ?? 0) : null,
    })),
  ].sort((a, b) => (a.local ?? '9').localeCompare(b.local ?? '9') || a.postId - b.postId);
  const media = [
    ...new Map(
      posts.flatMap((p) =>
        p.lead_media_id === null ? [] : [[p.lead_media_id, p.lead_alt] as [number, string]],
      ),
    ),
  ];
  const plan = {
    from: row.from,
    until: row.until,
    outlets,
    posts: posts.map((p) => planPost(p, pieces)),
  };
  const sum = (kind: CampaignItem['kind']) =>
    items.filter((i) => i.kind === kind).reduce((total, i) => total + (i.figure ?? 0), 0);
  return {
    ...row,
    did: await howItDid(db, person.blogId, new Set(ids), today),
    outletIds: outlets.map((o) => o.id),
    items,
    pictures: media.map(([mediaId, alt]) => ({ id: mediaId, alt })),
    lacks: campaignLacks(plan, today),
    totals: [
      { name: 'Posts', value: posts.length },
      { name: 'Out', value: posts.filter((p) => p.stage === 'published').length },
      { name: 'Reads', value: sum('post') },
      { name: 'Pieces', value: pieces.length },
      { name: 'Pieces seen', value: sum('piece') },
    ],
  };
}

/** Its posts beside all others of the year, each by its first days. */
async function howItDid(
  db: Queryable,
  blogId: number,
  ids: ReadonlySet<number>,
  today: string,
): Promise<string> {
  if (ids.size === 0) return '';
  const grown = (await postsReleased(db, blogId, lastDays(today, 365), today)).filter((p) => p.grown);
  const groups = groupResults(
    grown,
    (p) => [ids.has(p.id)],
    (p) => p.firstWeek,
  );
  const own = groups.find((g) => g.key);
  if (!own) return '';
  const figure = (n: number) => Math.round(n).toLocaleString('en-GB');
  const range = own.interval ? ` (${figure(own.interval[0])} to ${figure(own.interval[1])})` : '';
  const others = groups.find((g) => !g.key);
  return (
    `Its ${formatCount(own.count, 'post')} of at least a week ${own.count === 1 ? 'was' : 'were'} read ` +
    `${figure(own.median)} times in the first week at the median${range}` +
    (others ? `, the others of the year ${figure(others.median)}: ${VERDICT_NAMES[own.verdict]}.` : '.')
  );
}
