import { commentsShow, plainComment, spamChance, stateOnArrival, whyClosed } from '@keyroster/core';
import { tellOf } from '../comments/arrive.js';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { databaseNow } from '../db/now.js';
import { emit } from '../live/live.js';
import type { Jobs } from '../jobs/queue.js';
import { log } from '../log.js';
import { CallError } from '../outlets/transport/call.js';
import type { Settings } from '../settings.js';
import { siteSettings } from '../site/reader-blog.js';
import { allowedBy, fetchPage } from './fetch.js';
import { linksTo, titleOf } from './pages.js';

const MAX_QUOTED = 280;

/**
 * Looks whether a page that says so does link to a post (W3C Recommendation Webmention, section 3.2.2), and keeps that
 * under it. Said again, it is looked at again: a page that links no more, or is gone, is a mention no more.
 */
export async function receiveMention(
  db: Db,
  { blogId, postId, source, target }: Jobs['mentioned'],
  settings: Pick<Settings, 'privateOutlets' | 'publicUrl'>,
): Promise<'kept' | 'gone' | 'none'> {
  const page = await fetchPage(source, allowedBy(settings)).catch((error: unknown) => {
    if (!(error instanceof CallError)) throw error;
    log.info({ source, sentence: error.message }, 'mention not looked at');
    return null;
  });
  if (!page || page.status >= 500) throw new Error('The page that mentions a post could not be read.');
  const links = page.status < 300 && linksTo(page.body, page.url, target);
  return inTransaction(db, (trx) =>
    links ? keep(trx, { blogId, postId, source }, page.body) : drop(trx, { blogId, postId, source }),
  );
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
  const [row] = await trx('comments')
    .insert({ blog_id: blogId, post_id: postId, kind: 'mention', state, name: host, text, source, spam })
    .onConflict(trx.raw('(post_id, source) where source is not null'))
    // Where it stands is for who moderates to say, not for who mentions again.
    .merge({ text, name: host })
    .returning<{ state: typeof state; fresh: boolean }[]>(['state', trx.raw('(xmax = 0) as fresh')]);
  if (row!.fresh) await tellOf(trx, blogId, postId, row!.state);
  else if (row!.state === 'approved') await emit(trx, { blogId, kind: 'release', postId });
  return 'kept';
}

async function drop(trx: Trx, { blogId, postId, source }: Mention): Promise<'gone' | 'none'> {
  const gone = await trx('comments').where({ blog_id: blogId, post_id: postId, source }).delete();
  if (gone === 0) return 'none';
  await emit(trx, { blogId, kind: 'comment', postId }, { blogId, kind: 'release', postId });
  return 'gone';
}
