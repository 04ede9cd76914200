import { commentsShow, plainComment, spamChance, stateOnArrival, whyClosed } from '@keyroster/core';
import { notifyComment } from '../comments/arrive.js';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { databaseNow } from '../db/now.js';
import { emit } from '../live/live.js';
import { planMentioned, type Jobs } from '../jobs/queue.js';
import { log } from '../log.js';
import { CallError } from '../outlets/transport/call.js';
import { siteSettings } from '../pages/reader-blog.js';
import { allowedBy, fetchPage, type MentionSettings } from './fetch.js';
import { mentions, titleOf } from './pages.js';

const MAX_QUOTED = 280;

/**
 * Checks whether a page that says so does mention a post (W3C Recommendation Webmention, section 3.2.2), and keeps that
 * under it. Sent again, it is checked again. A mention is removed when its page says that it is gone (410), is not found
 * a day apart, or links no more; any other answer says nothing about it.
 */
export async function receiveMention(
  db: Db,
  { blogId, postId, source, target }: Jobs['mentioned'],
  settings: MentionSettings,
): Promise<'kept' | 'gone' | 'none'> {
  const page = await fetchPage(source, allowedBy(settings)).catch((error: unknown) => {
    if (!(error instanceof CallError)) throw error;
    log.info({ source, sentence: error.message }, 'mention not checked');
    return null;
  });
  if (!page || page.status >= 500 || page.status === 429 || page.status === 408)
    throw new Error('The page that mentions a post could not be read.');
  const mention = { blogId, postId, source };
  if (page.status === 404) return inTransaction(db, (trx) => miss(trx, { ...mention, target }));
  if (page.status !== 410 && page.status >= 300) return 'none';
  const type = page.headers['content-type'] ?? '';
  const links = page.status !== 410 && mentions({ url: page.url, type, body: page.body }, target);
  return inTransaction(db, (trx) => (links ? keep(trx, mention, page.body) : drop(trx, mention)));
}

type Mention = Pick<Jobs['mentioned'], 'blogId' | 'postId' | 'source'>;

async function keep(trx: Trx, { blogId, postId, source }: Mention, html: string): Promise<'kept' | 'none'> {
  const post = await trx('posts as p')
    .join('blogs as b', 'b.id', 'p.blog_id')
    .where({ 'p.id': postId, 'p.blog_id': blogId, 'p.stage': 'published' })
    .first<{ comments: boolean; runAt: string | null; site: object } | undefined>(
      'p.comments',
      'p.run_at as runAt',
      'b.site',
    );
  const site = post && siteSettings(post.site);
  if (!post || !site || !commentsShow(whyClosed(site, post, await databaseNow(trx)))) return 'none';
  const host = new URL(source).host;
  const text = plainComment(titleOf(html)).slice(0, MAX_QUOTED);
  const known = await trx('comments')
    .where({ blog_id: blogId, kind: 'mention', state: 'approved' })
    .whereRaw('source ~ ?', [`^https?://${host.replace(/[.]/g, '\\.')}/`])
    .first('id');
  const spam = spamChance(text);
  const state = stateOnArrival(
    { spam, trapped: false, known: known !== undefined, staff: false },
    site.commentsHold,
  );
  const before = await trx('comments')
    .where({ post_id: postId, source })
    .forUpdate()
    .first<{ state: typeof state; text: string } | undefined>('state', 'text');
  // What nobody has read is not shown to readers: a mention with other words waits again.
  const waits = before?.state === 'approved' && before.text !== text;
  const [row] = await trx('comments')
    .insert({ blog_id: blogId, post_id: postId, kind: 'mention', state, name: host, text, source, spam })
    .onConflict(trx.raw('(post_id, source) where source is not null'))
    .merge({ text, name: host, missing_since: null, ...(waits ? { state: 'held' } : {}) })
    .returning<{ state: typeof state; fresh: boolean }[]>(['state', trx.raw('(xmax = 0) as fresh')]);
  if (row!.fresh || waits) await notifyComment(trx, blogId, postId, row!.state);
  if (waits) await emit(trx, { blogId, kind: 'release', postId });
  return 'kept';
}

async function drop(trx: Trx, { blogId, postId, source }: Mention): Promise<'gone' | 'none'> {
  const gone = await trx('comments').where({ blog_id: blogId, post_id: postId, source }).delete();
  if (gone === 0) return 'none';
  await emit(trx, { blogId, kind: 'comment', postId }, { blogId, kind: 'release', postId });
  return 'gone';
}

const DAY_SECONDS = 24 * 3600;

/** A page that is not found may only be away for a while: it is checked again a day later, and removed then. */
async function miss(trx: Trx, mention: Jobs['mentioned']): Promise<'gone' | 'none'> {
  const { blogId, postId, source } = mention;
  const [row] = await trx('comments')
    .where({ blog_id: blogId, post_id: postId, source })
    .update({ missing_since: trx.raw('coalesce(missing_since, now())') })
    .returning<{ seconds: number }[]>(
      trx.raw(`extract(epoch from missing_since + interval '1 day' - now())::int as seconds`),
    );
  if (!row) return 'none';
  if (row.seconds <= 0) return drop(trx, mention);
  await planMentioned(trx, mention, Math.min(DAY_SECONDS, row.seconds));
  return 'none';
}
