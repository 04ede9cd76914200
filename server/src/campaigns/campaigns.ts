import type {
  CampaignChanges,
  CampaignItem,
  CampaignLine,
  CampaignView,
  NewCampaign,
} from '@keyroster/contract';
import {
  VERDICT_NAMES,
  campaignLacks,
  formatCount,
  groupResults,
  isOfCampaign,
  lastDays,
  may,
  type CampaignPost,
  type PieceKind,
  type WallTime,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Reader, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { emit } from '../live/live.js';
import { editPosts } from '../posts/edit.js';
import type { Written } from '../posts/effects.js';
import { factsOf, postRows, type PostRow } from '../posts/store.js';
import { postsReleased } from '../results/rows.js';
import { clockOf } from '../slots/clock.js';

interface CampaignRow {
  id: number;
  version: number;
  name: string;
  about: string;
  from: string | null;
  until: string | null;
}

const campaignRows = (db: Reader, blogId: number) =>
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

interface PieceOf {
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
async function postsNaming(db: Reader, person: CurrentPerson): Promise<PostRow[]> {
  const rows = await postRows(db)
    .where('posts.blog_id', person.blogId)
    .whereNot('posts.campaign', '')
    .orderBy('posts.run_local')
    .orderBy('posts.id');
  return rows.filter((row) => may(person, 'see', factsOf(row)));
}

async function piecesOf(db: Reader, zone: string, postIds: readonly number[]): Promise<PieceOf[]> {
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

async function outletsOf(db: Reader, campaignId: number): Promise<{ id: number; name: string }[]> {
  return db('campaign_outlets as c')
    .join('outlets as o', 'o.id', 'c.outlet_id')
    .where('c.campaign_id', campaignId)
    .orderBy('o.name')
    .select<{ id: number; name: string }[]>('o.id', 'o.name');
}

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

export async function listCampaigns(db: Reader, person: CurrentPerson): Promise<CampaignLine[]> {
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

export async function seeCampaign(db: Reader, person: CurrentPerson, id: number): Promise<CampaignView> {
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
  db: Reader,
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

async function readsOf(db: Reader, ids: readonly number[]): Promise<Map<number, number>> {
  const rows = await db('post_reads')
    .whereIn('post_id', [...ids])
    .groupBy('post_id')
    .select<{ id: number; reads: number }[]>('post_id as id', db.raw('sum(reads)::int as reads'));
  return new Map(rows.map((r) => [r.id, r.reads]));
}

const told = (trx: Trx, person: CurrentPerson) =>
  emit(trx, { blogId: person.blogId, kind: 'outlet', personId: person.id });

async function mustBeFree(trx: Trx, blogId: number, name: string, besides: number): Promise<void> {
  const other = await trx('campaigns')
    .where({ blog_id: blogId })
    .whereRaw('lower(name) = lower(?)', [name])
    .whereNot({ id: besides })
    .first('id');
  if (other) throw new ProblemError('taken', `There is a campaign “${name}” already.`);
}

export async function addCampaign(
  trx: Trx,
  person: CurrentPerson,
  { name }: NewCampaign,
): Promise<CampaignView> {
  await mustBeFree(trx, person.blogId, name, 0);
  const [row] = await trx('campaigns')
    .insert({ blog_id: person.blogId, name })
    .returning<{ id: number }[]>('id');
  await told(trx, person);
  return seeCampaign(trx, person, row!.id);
}

async function holdCampaign(
  trx: Trx,
  blogId: number,
  id: number,
): Promise<{ version: number; name: string }> {
  const row = await trx('campaigns')
    .where({ blog_id: blogId, id })
    .forUpdate()
    .first<{ version: number; name: string } | undefined>('version', 'name');
  if (!row) throw notFound('That campaign');
  return row;
}

export async function changeCampaign(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  { version, name, about, from, until, outletIds }: CampaignChanges,
): Promise<CampaignView> {
  const row = await holdCampaign(trx, person.blogId, id);
  if (row.version !== version)
    throw new ProblemError(
      'version-conflict',
      'Somebody else changed this campaign meanwhile, so this is not saved. Copy what you need, then reload the page.',
    );
  if (from !== null && until !== null && from > until)
    throw new ProblemError('invalid', 'The first day comes after the last.', {
      fields: [{ field: 'until', sentence: 'This is before the first day.' }],
    });
  await mustBeFree(trx, person.blogId, name, id);
  const known = await trx('outlets')
    .where({ blog_id: person.blogId })
    .whereIn('id', [...outletIds])
    .pluck<number[]>('id');
  if (known.length < outletIds.length)
    throw new ProblemError('invalid', 'One of those outlets is not on this blog.');
  await trx('campaigns')
    .where({ id })
    .update({ name, about, from_date: from, until_date: until, version: version + 1 });
  if (name !== row.name) await nameInPosts(trx, person, row.name, name);
  await trx('campaign_outlets').where({ campaign_id: id }).delete();
  if (outletIds.length > 0)
    await trx('campaign_outlets').insert(outletIds.map((outlet_id) => ({ campaign_id: id, outlet_id })));
  await told(trx, person);
  return seeCampaign(trx, person, id);
}

/** Puts another name of a campaign, or none, into its posts: all of them or, where one is not theirs, none. */
async function nameInPosts(trx: Trx, person: CurrentPerson, before: string, after: string): Promise<void> {
  const ids = await trx('all_posts')
    .where({ blog_id: person.blogId })
    .whereRaw('lower(campaign) = lower(?)', [before])
    .orderBy('id')
    .pluck<number[]>('id');
  if (ids.length > 0)
    await editPosts(trx, person.blogId, person, ids, () => [{ kind: 'set', values: { campaign: after } }]);
}

export async function removeCampaign(trx: Trx, person: CurrentPerson, id: number): Promise<null> {
  const { name } = await holdCampaign(trx, person.blogId, id);
  await nameInPosts(trx, person, name, '');
  await trx('campaigns').where({ id }).delete();
  await told(trx, person);
  return null;
}

/** A campaign that a post is the first to name begins with that. */
export async function beginNamed(trx: Trx, written: readonly Written[]): Promise<void> {
  const named = written.filter((w) => w.changed.includes('campaign') && w.after.campaign.trim() !== '');
  if (named.length === 0) return;
  const names = new Map(named.map((w) => [`${w.blogId} ${w.after.campaign.trim().toLowerCase()}`, w]));
  await trx.raw(
    `
      insert into
        campaigns (blog_id, name)
      select
        n.blog_id,
        n.name
      from
        unnest(?::int[], ?::text[]) as n (blog_id, name)
      order by
        1,
        2
      on conflict do nothing
    `,
    [[...names.values()].map((w) => w.blogId), [...names.values()].map((w) => w.after.campaign.trim())],
  );
}
