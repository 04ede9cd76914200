import type { Page } from './cache.js';
import { framed, type Context } from './context.js';
import { plainQuery, searchPosts } from './search.js';
import { newestTitles } from './titles.js';

/** Posts that are offered where there is nothing. */
const OFFERED = 5;

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

/** Says that there is nothing at an address, and where what was meant may be. */
export async function missingPage(context: Context, path: string): Promise<Page> {
  const { db, blog } = context;
  const query = wordsIn(path);
  const words = query.split(' ').filter((w) => w.length > 2);
  const { hits } = await searchPosts(db, blog, words.slice(0, 8).join(' or '));
  return framed(context, 'missing', {
    title: 'Not here',
    query,
    like: hits.slice(0, OFFERED),
    newest: await newestTitles(db, blog, OFFERED),
    noindex: true,
    status: 404,
    tags: [],
  });
}
