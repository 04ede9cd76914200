import { estimate } from '@keyroster/core';
import type { Queryable, Trx } from '../db/connect.js';
import { sharesOf, type Likeness } from '../work/computing.js';

/** Candidates that are compared exactly: those whose signatures are nearest. */
const COMPARED = 8;

/**
 * The most alike other post by shared runs of words. Candidates share a band of their MinHash signatures; the
 * nearest of them are then compared exactly.
 */
export async function mostAlikeText(
  db: Queryable,
  blogId: number,
  postId: number,
  { text, values }: Likeness,
): Promise<{ id: number; title: string; share: number } | null> {
  const candidates = await db('post_signatures')
    .where({ blog_id: blogId })
    .whereNot({ post_id: postId })
    .whereRaw('signature_bands(signature) && signature_bands(?::int[])', [values])
    .select<{ post_id: number; signature: number[] }[]>('post_id', 'signature');
  const nearest = candidates
    .map((c) => ({ id: c.post_id, guess: estimate(values, c.signature) }))
    .sort((a, b) => b.guess - a.guess)
    .slice(0, COMPARED);
  if (nearest.length === 0) return null;
  const texts = await db('posts')
    .whereIn(
      'id',
      nearest.map((n) => n.id),
    )
    .select<{ id: number; title: string; body_text: string }[]>('id', 'title', 'body_text');
  const shares = await sharesOf(
    text,
    texts.map((t) => t.body_text),
  );
  let best: { id: number; title: string; share: number } | null = null;
  for (const [i, post] of texts.entries()) {
    const share = shares[i]!;
    if (!best || share > best.share) best = { id: post.id, title: post.title, share };
  }
  return best;
}

/** Keeps the signature of a text, so that others are compared with it; null takes it away. */
export async function storeSignature(
  trx: Trx,
  blogId: number,
  postId: number,
  own: Likeness | null,
): Promise<void> {
  if (own === null) {
    await trx('post_signatures').where({ post_id: postId }).delete();
    return;
  }
  await trx('post_signatures')
    .insert({ post_id: postId, blog_id: blogId, signature: own.values })
    .onConflict('post_id')
    .merge();
}
