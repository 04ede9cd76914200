import type { Page } from './cache.js';
import { framed, type Context } from './context.js';
import { plainQuery, searchPosts } from './search.js';
import { newestTitles } from './titles.js';

/** Posts that are offered where there is nothing. */
const OFFERED = 5;

/** Of either build that a blog may choose. */
export const POST_ADDRESS = /^(?:\/\d{4}\/\d\d)?\/([a-z0-9-]{1,100})$/;

/** The words of an address, as somebody might have meant them. */
function wordsIn(path: string): string {
  let plain = path;
  try {
    plain = decodeURIComponent(path);
  } catch {
    // A broken escape is a word like any other.
  }
  return plainQuery(plain.replace(/[^\p{L}\p{N}]+/gu, ' '));
}

/**
 * Was there a post at this address once that was withdrawn or removed? Its address says so (410, RFC 9110, 15.5.11);
 * one that was never published, or is for staff alone, is not known to readers.
 */
async function isGone({ db, blog }: Context, path: string): Promise<boolean> {
  const slug = POST_ADDRESS.exec(path)?.[1];
  if (slug === undefined) return false;
  const post = await db('all_posts as p')
    .where('p.blog_id', blog.id)
    .where((at) =>
      at
        .where('p.slug', slug)
        .orWhereIn('p.id', db('old_slugs').where({ blog_id: blog.id, slug }).select('post_id')),
    )
    .whereNot('p.access', 'staff')
    .whereRaw(`(p.stage <> 'published' or p.binned_at is not null)`)
    // It will be at another blog's address, to which this one leads then.
    .whereNotExists((q) => q.from('moved_away as m').where({ 'm.blog_id': blog.id, 'm.slug': slug }))
    .whereRaw(`(p.stage = 'withdrawn' or exists (select 1 from release_log r where r.post_id = p.id))`)
    .first('p.id');
  return post !== undefined;
}

/** Says that there is nothing at an address, or nothing any more, and where what was meant may be. */
export async function missingPage(context: Context, path: string): Promise<Page> {
  const { db, blog } = context;
  const query = wordsIn(path);
  const gone = await isGone(context, path);
  const words = query.split(' ').filter((w) => w.length > 2);
  const { hits } = await searchPosts(db, blog, words.slice(0, 8).join(' or '));
  return framed(context, 'missing', {
    title: gone ? 'Withdrawn' : 'Not here',
    gone,
    query,
    like: hits.slice(0, OFFERED),
    newest: await newestTitles(db, blog, OFFERED),
    noindex: true,
    status: gone ? 410 : 404,
    tags: [],
  });
}
