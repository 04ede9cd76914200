import { linksOf, postPath, type BodyNode, type SiteSettings } from '@keyroster/core';
import { mayReadSql } from '../access/readable.js';
import type { Db } from '../db/connect.js';
import type { Jobs } from '../jobs/queue.js';
import { CallError, call } from '../outlets/transport/call.js';
import { siteSettings } from '../pages/reader-blog.js';
import { homeOf } from '../pages/places.js';
import { allowedBy, fetchPage, type MentionSettings } from './fetch.js';
import { endpointOf } from './pages.js';

/** Pages that one post tells of itself; who links to more sends no letters. */
const MAX_TARGETS = 30;

interface Sender {
  /** What readers see; null where the post is in the bin. */
  body: BodyNode | null;
  slug: string;
  runLocal: string;
  site: Partial<SiteSettings>;
  host: string | null;
  path: string;
  open: boolean | null;
}

/**
 * Notifies the pages that a post links to, where they accept mentions (W3C Recommendation Webmention, section 3.1).
 * After a change, those it linked to before are notified as well, so that they see that it links no more; so they are
 * when it was withdrawn or binned (section 3.1.5), and its address answers 410. A post that not everybody may read
 * notifies no new page. Answers how many accepted it.
 */
export async function sendMentions(
  db: Db,
  { postId }: Jobs['mentions'],
  settings: MentionSettings,
): Promise<number> {
  const post = await db('all_posts as a')
    .join('blogs as b', 'b.id', 'a.blog_id')
    .leftJoin('readers_posts as p', 'p.id', 'a.id')
    .where('a.id', postId)
    .first<Sender | undefined>(
      'p.body',
      db.raw(`coalesce(p.slug, a.slug, '') as slug`),
      'a.run_local as runLocal',
      'b.site',
      'b.host',
      'b.path',
      db.raw(`(${mayReadSql('p')}) as open`),
    );
  if (!post) return 0;
  const known = await db('mentions_sent')
    .where({ post_id: postId })
    .select<{ target: string; source: string | null }[]>('target', 'source');
  const home = homeOf(post, settings.publicUrl);
  const linked = post.open && post.body ? targetsIn(post.body, home).slice(0, MAX_TARGETS) : [];
  const own = `${home}${postPath(siteSettings(post.site).addressPattern, post)}`;
  let accepted = 0;
  for (const target of new Set([...linked, ...known.map((k) => k.target)])) {
    const before = known.find((k) => k.target === target);
    const stays = linked.includes(target);
    const source = stays ? own : (before?.source ?? own);
    const { endpoint, status, taken } = await tell(source, target, allowedBy(settings));
    if (taken) accepted++;
    if (!stays) await db('mentions_sent').where({ post_id: postId, target }).delete();
    else if (endpoint !== null || before)
      await db('mentions_sent')
        .insert({ post_id: postId, target, endpoint, status, source })
        .onConflict(['post_id', 'target'])
        .merge({ endpoint, status, source, at: db.fn.now() });
  }
  return accepted;
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
