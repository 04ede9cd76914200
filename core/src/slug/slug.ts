import anyAscii from 'any-ascii';

/** Words that tell nobody what a post is about (a short list of English function words). */
const FILLER = new Set(
  (
    'a an and are as at be been but by can could did do does for from had has have he ' +
    'her him his how i if in into is it ' +
    'its just me more most my no nor not of off on or our out over per she should so ' +
    'some than that the their them then ' +
    'there these they this those through to too under until up upon us very was we were ' +
    'what when where which while who ' +
    'whom why will with would you your still do'
  ).split(' '),
);

/** Addresses that lead elsewhere on the blog or in the newsroom. */
export const RESERVED_SLUGS: ReadonlySet<string> = new Set([
  'desk',
  'api',
  'media',
  'healthz',
  'readyz',
  'page',
  'category',
  'writer',
  'writers',
  'start',
  'archive',
  'tag',
  'month',
  'search',
  'feed',
  'assets',
  'sitemap',
  'robots',
  'favicon',
  'preview',
  'sign-in',
  'comment',
  'serial',
  'special',
  'calendar',
  'files',
  'letter',
  'micropub',
  'outlets',
]);

const ADDRESS = /^[a-z0-9]+(?:-[a-z0-9]+)*$/;

/**
 * Is this a web address a post may have: lower-case letters, digits and single hyphens, at most 80
 * characters?
 */
export function isSlug(text: string): boolean {
  return text.length <= 80 && ADDRESS.test(text) && !RESERVED_SLUGS.has(text);
}

/** The words of a title in plain lower-case ASCII, in order. Other scripts are romanised. */
function plainWords(title: string): string[] {
  return anyAscii(title.normalize('NFKC').replace(/[\u00ad\u200b-\u200f]/g, ''))
    .toLowerCase()
    .replace(/(\d)[,.](?=\d)/g, '$1')
    .replace(/['’`]/g, '')
    .replace(/&/g, ' and ')
    .split(/[^a-z0-9]+/)
    .filter(Boolean);
}

/** The telling words of a title, at most `most` of them; when all are filler, the title's own words. */
export function contentWords(title: string, max: number): string[] {
  const words = plainWords(title).map((w) => w.slice(0, 40));
  const kept = words.filter((w) => !FILLER.has(w));
  const distinct = [...new Set(kept.length > 0 ? kept : words)];
  return distinct.slice(0, max);
}

/** Leaves out what says a word that is there already in another form: hear, heard. */
function further(words: readonly string[], held: readonly string[]): string[] {
  const out: string[] = [];
  const near = (a: string, b: string) =>
    a === b || (Math.min(a.length, b.length) >= 3 && (a.startsWith(b) || b.startsWith(a)));
  for (const word of words) if (![...held, ...out].some((w) => near(w, word))) out.push(word);
  return out;
}

/** Words that a web address should have (common practice, no published source). */
export const SLUG_WORDS = { min: 4, max: 6 } as const;

/**
 * The default web address of a title: 4 to 6 telling words, the shortest that is not taken. A title of fewer is
 * filled up from `about` (the category, the excerpt). When even six words are taken a further one comes from
 * `about`, then the `year`, and only then a number. Common practice: 4 to 6 words with the key ones, no filler,
 * no copy suffix. Returns `post` for a title without any word that stands for nothing.
 */
export function proposeSlug(
  title: string,
  taken: (slug: string) => boolean,
  about: readonly string[] = [],
  year = '',
): string {
  const free = (slug: string) => isSlug(slug) && !taken(slug);
  const own = contentWords(title, 10);
  const more = further(
    about.flatMap((text) => contentWords(text, 10)),
    own,
  );
  const words = own.length >= SLUG_WORDS.min ? own : [...own, ...more].slice(0, SLUG_WORDS.min);
  const base = words.length > 0 ? words : ['post'];
  const hints = [...about, year].filter(Boolean);
  const join = (list: readonly string[]): string => {
    let slug = '';
    for (const word of list) {
      const longer = slug ? `${slug}-${word}` : word;
      if (longer.length > 80) break;
      slug = longer;
    }
    return slug;
  };
  for (const n of [5, 6, 4]) {
    const slug = join(base.slice(0, n));
    if (free(slug)) return slug;
  }
  for (const hint of hints) {
    const slug = join([...new Set([...base.slice(0, 5), ...contentWords(hint, 2)])]);
    if (free(slug)) return slug;
  }
  for (let n = 2; ; n++) {
    const slug = join([...base.slice(0, 4), String(n)]);
    if (free(slug)) return slug;
  }
}

/** Does every word of an address tell something? */
export function isFillerFree(slug: string): boolean {
  return slug.split('-').every((word) => !FILLER.has(word));
}

/**
 * Addresses of 4 to 6 telling words to choose from, shortest first; `more` are words the post is about, for
 * titles of few words.
 */
export function proposeSlugs(
  title: string,
  taken: (slug: string) => boolean,
  more: readonly string[] = [],
): string[] {
  const own = contentWords(title, 10);
  const added = further(
    more.flatMap((w) => contentWords(w, 2)),
    own,
  );
  const proposals = [4, 5, 6]
    .map((n) => [...own, ...added].slice(0, n).join('-'))
    .filter((a) => isSlug(a) && !taken(a));
  return [...new Set([...proposals, proposeSlug(title, taken, more)])];
}
