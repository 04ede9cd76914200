import { countChecks, TOO_ALIKE, tooLongToCheck } from '@keyroster/core';
import type { Knex } from 'knex';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { planMeasuring, planRemeasuring } from '../jobs/queue.js';
import { emit } from '../live/live.js';
import type { EffectOn } from '../posts/effects.js';
import { loadPosts } from '../posts/store.js';
import { makeWordPairs } from '../posts/word-pairs.js';
import { storeSignature, mostAlikeText } from './alike.js';
import { factsFor, loadMaterial } from './check-material.js';
import { checksOf, likenessOf } from '../work/computing.js';
import { TookTooLong } from '../work/pool.js';

/** Above so many posts, one job measures all that are out of date, one after the other. */
const MANY = 50;

/**
 * Measures a post as it stands: keeps its signature and its pairs of words, finds the text it is most like, and counts
 * its checks for lists and cards. What takes time is done before anything is locked; when the post was
 * changed meanwhile, nothing is kept of it, since its new version is measured in its turn. Run again, it
 * finds the same; a post that is gone is left alone.
 */
export async function measurePost(db: Db, postId: number): Promise<void> {
  const row = await db('posts')
    .where({ id: postId })
    .first<{ blog_id: number; version: number } | undefined>('blog_id', 'version');
  if (!row) return;
  const { blog_id: blogId } = row;
  const [post] = await loadPosts(db, blogId, [postId], { text: true });
  if (!post) return;
  const own = await likenessOf(post.body!).catch(unlessTooLong(null));
  const alike = own && (await mostAlikeText(db, blogId, postId, own));
  const tooAlike = alike && alike.share >= TOO_ALIKE ? alike : null;
  const material = await loadMaterial(db, blogId, [post]);
  const facts = { ...factsFor(post, material), alike: tooAlike };
  const checks = await checksOf(facts, material.settings).catch(
    unlessTooLong(tooLongToCheck(material.settings)),
  );
  const { blocks, warns } = countChecks(checks);
  await inTransaction(db, async (trx) => {
    const held = await trx('posts')
      .where({ id: postId, version: post.version })
      .forUpdate()
      .first<{ check_blocks: number; check_warns: number; alike_id: number | null } | undefined>(
        'check_blocks',
        'check_warns',
        'alike_id',
      );
    if (!held) return;
    await storeSignature(trx, blogId, postId, own);
    await trx('posts')
      .where({ id: postId })
      .update({
        alike_id: tooAlike?.id ?? null,
        alike_share: tooAlike?.share ?? null,
        check_blocks: blocks,
        check_warns: warns,
        check_failing: checks.filter((c) => c.state !== 'fine').map((c) => c.key),
        measured_version: post.version,
      });
    await makeWordPairs(trx, [postId]);
    const changed =
      blocks !== held.check_blocks || warns !== held.check_warns || (tooAlike?.id ?? null) !== held.alike_id;
    if (changed) await emit(trx, { blogId, kind: 'post', postId, version: post.version });
  });
}

/** What is kept of a text that took too long to measure: tried again, it would take as long. */
function unlessTooLong<T>(instead: T): (error: unknown) => T {
  return (error) => {
    if (error instanceof TookTooLong) return instead;
    throw error;
  };
}

/** Has posts measured whose checks may say something else now. */
export async function measureLater(trx: Trx, effects: readonly EffectOn<'checks'>[]): Promise<void> {
  if (effects.length > MANY) return planRemeasuring(trx, effects[0]!.on.blogId);
  await planMeasuring(
    trx,
    effects.map(({ on }) => on.after.id),
  );
}

/** Marks posts as measured no longer, and has them measured in their turn. */
export async function markUnmeasured(trx: Trx, blogId: number, posts: Knex.QueryBuilder): Promise<void> {
  await posts.update({ measured_version: null });
  await planRemeasuring(trx, blogId);
}

/** Posts that were never measured, or whose checks count differently now, are measured in their turn. */
export async function planUnmeasured(db: Db): Promise<void> {
  const blogs = await db('posts').whereNull('measured_version').distinct().pluck<number[]>('blog_id');
  for (const blogId of blogs) await inTransaction(db, (trx) => planRemeasuring(trx, blogId));
}

/**
 * Measures the posts of a blog whose measures are out of date, each in a transaction of its own; with `all`,
 * first marks every post that is not out as such.
 */
export async function remeasure(db: Db, blogId: number, all: boolean): Promise<void> {
  if (all)
    await db('posts')
      .where({ blog_id: blogId })
      .whereNotIn('stage', ['published', 'withdrawn'])
      .update({ measured_version: null });
  for (let last = 0; ;) {
    const ids = await db('posts')
      .where({ blog_id: blogId })
      .whereNull('measured_version')
      .where('id', '>', last)
      .orderBy('id')
      .limit(200)
      .pluck<number[]>('id');
    if (ids.length === 0) return;
    for (const id of ids) await measurePost(db, id);
    last = ids.at(-1)!;
  }
}
