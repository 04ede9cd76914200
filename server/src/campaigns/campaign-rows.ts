import { may, type PieceKind, type WallTime } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { factsOf, postRows, type PostRow } from '../posts/store.js';

interface CampaignRow {
  id: number;
  version: number;
  name: string;
  about: string;
  from: string | null;
  until: string | null;
}

export const campaignRows = (db: Queryable, blogId: number) =>
  db('campaigns')
    .where({ blog_id: blogId })
    .orderByRaw('from_date desc nulls last, lower(name)')
    .select<CampaignRow[]>(
      'id',
      'version',
      'name',
      'about',
      db.raw('from_date::text as from'),
      db.raw('until_date::text as until'),
    );

export interface PieceOf {
  postId: number;
  outletId: number;
  outlet: string;
  kind: PieceKind;
  dueLocal: WallTime | null;
  state: string | null;
  sentLocal: WallTime | null;
  seen: number | null;
}

/** Posts that name a campaign, those that the person may see. */
export async function postsNaming(db: Queryable, person: CurrentPerson): Promise<PostRow[]> {
  const rows = await postRows(db)
    .where('posts.blog_id', person.blogId)
    .whereNot('posts.campaign', '')
    .orderBy('posts.run_local')
    .orderBy('posts.id');
  return rows.filter((row) => may(person, 'see', factsOf(row)));
}

export async function piecesOf(db: Queryable, zone: string, postIds: readonly number[]): Promise<PieceOf[]> {
  if (postIds.length === 0) return [];
  const { rows } = await db.raw<{ rows: PieceOf[] }>(
    `
      select
        p.post_id as "postId",
        o.id as "outletId",
        o.name as outlet,
        p.kind,
        p.due_local as "dueLocal",
        s.state,
        (s.sent_at at time zone ?)::timestamp(0) as "sentLocal",
        (select f.seen from piece_figures f where f.send_id = s.id order by f.day desc limit 1) as seen
      from
        pieces p
        join outlets o on o.id = p.outlet_id
        left join sends s on s.piece_id = p.id
      where
        p.post_id = any (?::int[])
      order by
        p.id
    `,
    [zone, [...postIds]],
  );
  return rows;
}

export async function outletsOf(db: Queryable, campaignId: number): Promise<{ id: number; name: string }[]> {
  return db('campaign_outlets as c')
    .join('outlets as o', 'o.id', 'c.outlet_id')
    .where('c.campaign_id', campaignId)
    .orderBy('o.name')
    .select<{ id: number; name: string }[]>('o.id', 'o.name');
}

export async function readsOf(db: Queryable, ids: readonly number[]): Promise<Map<number, number>> {
  const rows = await db('post_reads')
    .whereIn('post_id', [...ids])
    .groupBy('post_id')
    .select<{ id: number; reads: number }[]>('post_id as id', db.raw('sum(reads)::int as reads'));
  return new Map(rows.map((r) => [r.id, r.reads]));
}
