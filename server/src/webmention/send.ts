import { linksOf, postPath, type BodyNode, type SiteSettings } from '@keyroster/core';
import { mayReadSql } from '../access/readable.js';
import type { Db } from '../db/connect.js';
import type { Jobs } from '../jobs/queue.js';
import { CallError, call } from '../outlets/transport/call.js';
import type { Settings } from '../settings.js';
import { siteSettings } from '../site/reader-blog.js';
import { homeOf } from '../site/places.js';
import { allowedBy, fetchPage } from './fetch.js';
import { endpointOf } from './pages.js';

/** Pages that one post tells of itself; who links to more sends no letters. */
const MOST = 30;

/**
 * Tells the pages that a post links to, where they take mentions (W3C Recommendation Webmention, section 3.1). After a
 * change, those it linked to before are told as well, so that they see that it links no more. Nothing is told of a
 * post that not everybody may read. Answers how many took it.
 */
export async function sendMentions(
  db: Db,
  { postId }: Jobs['mentions'],
  settings: Pick<Settings, 'privateOutlets' | 'publicUrl'>,
): Promise<number> {
  const post = await db('readers_posts as p')
    .join('blogs as b', 'b.id', 'p.blog_id')
    .where('p.id', postId)
    .first<
      | {
          body: BodyNode;
          slug: string;
          runLocal: string;
          site: Partial<SiteSettings>;
          host: string | null;
          path: string;
          open: boolean;
        }
      | undefined
    >(
      'p.body',
      'p.slug',
      'p.run_local as runLocal',
      'b.site',
      'b.host',
      'b.path',
      db.raw(`(${mayReadSql('p')}) as open`),
    );
  if (!post) return 0;
  const before = await db('mentions_sent').where({ post_id: postId }).pluck<string[]>('target');
  const home = homeOf(post, settings.publicUrl);
  const linked = post.open ? targetsIn(post.body, home) : [];
  const source = `${home}${postPath(siteSettings(post.site).addressPattern, post)}`;
  let took = 0;
  for (const target of [...new Set([...linked, ...before])].slice(0, MOST)) {
    const { endpoint, status, taken } = await tell(source, target, allowedBy(settings));
    if (taken) took++;
    if (endpoint === null && !before.includes(target)) continue;
    await db('mentions_sent')
      .insert({ post_id: postId, target, endpoint, status })
      .onConflict(['post_id', 'target'])
      .merge({ endpoint, status, at: db.fn.now() });
    if (!linked.includes(target)) await db('mentions_sent').where({ post_id: postId, target }).delete();
  }
  return took;
}

/** Pages elsewhere that a text links to, without the part of the page that is meant. */
export function targetsIn(body: BodyNode, home: string): string[] {
  const targets = linksOf(body).flatMap(({ href }) => {
    if (!/^https?:\/\//i.test(href) || !URL.canParse(href)) return [];
    const url = new URL(href);
    return url.href === home || url.href.startsWith(`${home}/`) ? [] : [url.href];
  });
  return [...new Set(targets)];
}

async function tell(
  source: string,
  target: string,
  allowed: readonly string[],
): Promise<{ endpoint: string | null; status: string; taken: boolean }> {
  let endpoint: string | null = null;
  try {
    const page = await fetchPage(target, allowed);
    const link = page.headers['link'];
    endpoint = endpointOf({
      url: page.url,
      link: Array.isArray(link) ? link.join(', ') : (link ?? null),
      html: page.body,
    });
    if (endpoint === null) return { endpoint, status: 'takes none', taken: false };
    const answer = await call(
      endpoint,
      {
        method: 'POST',
        headers: { 'content-type': 'application/x-www-form-urlencoded' },
        body: new URLSearchParams({ source, target }).toString(),
      },
      allowed,
    );
    const taken = answer.status >= 200 && answer.status < 300;
    return { endpoint, status: taken ? 'taken' : `refused (${answer.status})`, taken };
  } catch (error) {
    if (!(error instanceof CallError)) throw error;
    return { endpoint, status: error.message, taken: false };
  }
}
