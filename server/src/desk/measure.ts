import {
  bandKeys, bodyText, checkPost, countChecks, estimate, innerPaths, jaccard, leftoversOf, shingles, signature, TOO_ALIKE, withInnerPaths,
  type CheckFacts, type CheckSettings, type CopiedPart, type FormatField,
} from '@keyroster/core';
import type { CheckContext } from '@keyroster/contract';
import type { Db, Reader, Trx } from '../db/connect.js';
import { planMeasuring } from '../jobs/queue.js';
import { tell } from '../live/live.js';
import { findPost, type WholePostRow } from '../posts/store.js';

/** Candidates that are compared exactly: those whose signatures are nearest. */
const COMPARED = 8;

/**
 * The most alike other post by shared runs of words. Candidates share a band of their MinHash signatures; the nearest of
 * them are then compared exactly.
 */
export async function mostAlikeText(db: Reader, blogId: number, postId: number, text: string): Promise<{ id: number; title: string; share: number } | null> {
  const own = shingles(text);
  if (own.size === 0) return null;
  const values = signature(own);
  const keys = bandKeys(values);
  const candidates = await db('post_bands as b').join('post_signatures as s', 's.post_id', 'b.post_id')
    .joinRaw('join unnest(?::int[]) with ordinality as k(key, at) on b.key = k.key and b.band = k.at - 1', [keys])
    .where('b.blog_id', blogId).whereNot('b.post_id', postId).distinct<{ post_id: number; signature: number[] }[]>('b.post_id', 's.signature');
  const nearest = candidates.map((c) => ({ id: c.post_id, guess: estimate(values, c.signature) })).sort((a, b) => b.guess - a.guess).slice(0, COMPARED);
  if (nearest.length === 0) return null;
  const texts = await db('posts').whereIn('id', nearest.map((n) => n.id)).select<{ id: number; title: string; body_text: string }[]>('id', 'title', 'body_text');
  let best: { id: number; title: string; share: number } | null = null;
  for (const post of texts) {
    const share = jaccard(own, shingles(post.body_text));
    if (!best || share > best.share) best = { id: post.id, title: post.title, share };
  }
  return best;
}

/** Keeps the signature of a text, so that others are compared with it. */
async function keepSignature(trx: Trx, blogId: number, postId: number, text: string): Promise<void> {
  const set = shingles(text);
  await trx('post_bands').where({ post_id: postId }).delete();
  if (set.size === 0) {
    await trx('post_signatures').where({ post_id: postId }).delete();
    return;
  }
  const values = signature(set);
  await trx('post_signatures').insert({ post_id: postId, blog_id: blogId, signature: [...values].map((v) => v | 0) }).onConflict('post_id').merge();
  await trx('post_bands').insert(bandKeys(values).map((key, band) => ({ blog_id: blogId, band, key, post_id: postId })));
}

const copiedPart = (row: WholePostRow): CopiedPart => ({
  title: row.title, excerpt: row.excerpt, address: row.address, leadMedia: row.lead_media_id, searchTitle: row.search_title, searchDescription: row.search_description, body: row.body,
});

/** What checks look at beside the post itself. */
export async function checkContext(db: Reader, row: WholePostRow): Promise<CheckContext> {
  const { checks: settings, home } = (await db('blogs').where({ id: row.blog_id }).first<{ checks: CheckSettings; home: string }>('checks', 'home'))!;
  const lead = row.lead_media_id === null ? undefined : await db('media').where({ id: row.lead_media_id }).first<{ size: number } | undefined>('size');
  const source = row.copied_from_id === null ? null : await findPost(db, row.blog_id, row.copied_from_id);
  const alike = row.alike_id === null ? undefined : await db('posts').where({ id: row.alike_id }).first<{ title: string } | undefined>('title');
  return {
    settings, leadBytes: lead?.size ?? null, source: source && copiedPart(source), home,
    alike: alike && row.alike_share !== null ? { id: row.alike_id!, title: alike.title, share: row.alike_share } : null,
    pages: await pagesOf(db, row, innerPaths(withInnerPaths(row.body, home))),
  };
}

/** What stands at paths of the blog, as far as they are a post's. A post that goes out before this one counts as published. */
async function pagesOf(db: Reader, row: WholePostRow, paths: readonly string[]): Promise<CheckContext['pages']> {
  const addresses = paths.map((p) => p.slice(1)).filter((a) => /^[a-z0-9-]{1,80}$/.test(a));
  if (addresses.length === 0) return {};
  const found = await db('posts').where({ blog_id: row.blog_id }).whereIn('address', addresses).select<{ address: string; stage: string; run_at: string | null; access: string }[]>('address', 'stage', 'run_at', 'access');
  const old = await db('old_addresses').where({ blog_id: row.blog_id }).whereIn('address', addresses).pluck<string[]>('address');
  const out = new Map(found.map((p) => [p.address, p.access === 'everyone' && (p.stage === 'published' || (p.stage === 'scheduled' && row.run_at !== null && p.run_at !== null && Date.parse(p.run_at) <= Date.parse(row.run_at)))]));
  return Object.fromEntries(addresses.map((a) => [`/${a}`, out.has(a) ? (out.get(a) ? 'published' : 'unpublished') : old.includes(a) ? 'published' : 'missing']));
}

async function factsFor(db: Reader, row: WholePostRow): Promise<{ facts: CheckFacts; settings: CheckSettings }> {
  const context = await checkContext(db, row);
  const format = row.format_id === null ? null : await db('formats').where({ id: row.format_id }).first<{ name: string; fields: FormatField[] }>('name', 'fields');
  return {
    settings: context.settings,
    facts: {
      title: row.title, address: row.address, excerpt: row.excerpt, searchDescription: row.search_description, categoryId: row.category_id, tags: row.tag_ids.length,
      lead: context.leadBytes === null ? null : { alt: row.lead_alt, bytes: context.leadBytes }, body: withInnerPaths(row.body, context.home), briefLength: row.brief_length,
      format: format && { ...format, values: row.format_values }, leftovers: context.source && leftoversOf(copiedPart(row), context.source), alike: context.alike, pages: context.pages,
    },
  };
}

/** What holds a post back, a sentence each. What a move demands anyway is not said twice. */
export async function blockingOf(db: Reader, row: WholePostRow): Promise<string[]> {
  const { facts, settings } = await factsFor(db, row);
  return checkPost(facts, settings).filter((c) => c.state === 'blocks' && c.key !== 'category').map((c) => c.measure);
}

/**
 * Measures a post as it stands: keeps its signature, finds the text it is most like, and counts its checks for lists and
 * cards. Run again, it finds the same; a post that is gone is left alone.
 */
export async function measurePost(trx: Trx, postId: number): Promise<void> {
  const blog = await trx('posts').where({ id: postId }).forUpdate().first<{ blog_id: number } | undefined>('blog_id');
  const row = blog && (await findPost(trx, blog.blog_id, postId));
  if (!row) return;
  const text = bodyText(row.body);
  await keepSignature(trx, row.blog_id, row.id, text);
  const alike = await mostAlikeText(trx, row.blog_id, row.id, text);
  const told = alike && alike.share >= TOO_ALIKE ? alike : null;
  const measured = { ...row, alike_id: told?.id ?? null, alike_share: told?.share ?? null };
  const { facts, settings } = await factsFor(trx, measured);
  const checks = checkPost(facts, settings);
  const { blocks, warns } = countChecks(checks);
  await trx('posts').where({ id: postId }).update({ check_blocks: blocks, check_warns: warns, check_failing: checks.filter((c) => c.state !== 'fine').map((c) => c.key), alike_id: measured.alike_id, alike_share: measured.alike_share, measured_version: row.version });
  if (blocks !== row.check_blocks || warns !== row.check_warns || measured.alike_id !== row.alike_id) await tell(trx, { blogId: row.blog_id, kind: 'post', postId, version: row.version });
}

/** Posts that were never measured, or whose checks count differently now, are measured in their turn. */
export async function planUnmeasured(db: Db): Promise<void> {
  const ids = await db('posts').whereNull('measured_version').orderBy('id').limit(20_000).pluck<number[]>('id');
  for (let i = 0; i < ids.length; i += 500) await db.transaction(async (trx) => { for (const id of ids.slice(i, i + 500)) await planMeasuring(trx, id); });
}

/** Measures the posts of a blog whose measures are out of date, each in a transaction of its own. */
export async function remeasure(db: Db, blogId: number): Promise<void> {
  for (let last = 0; ;) {
    const ids = await db('posts').where({ blog_id: blogId }).whereNull('measured_version').where('id', '>', last).orderBy('id').limit(200).pluck<number[]>('id');
    if (ids.length === 0) return;
    for (const id of ids) await db.transaction((trx) => measurePost(trx, id));
    last = ids.at(-1)!;
  }
}
