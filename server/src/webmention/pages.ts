import LinkHeader from 'http-link-header';
import { Parser } from 'htmlparser2';

/** Of longer pages the start is looked at: reading them takes its time, and others wait for it. */
const MAX_HTML = 400_000;
const MAX_TAGS = 10_000;

type Attributes = Readonly<Record<string, string>>;

/** Tells of every element of a page, in the order in which they stand in it, and of the text within each. */
function readHtml(
  html: string,
  open: (name: string, attributes: Attributes) => void,
  text: (text: string, within: string) => void = () => undefined,
): void {
  let within = '';
  const parser = new Parser({
    onopentag(name, attributes) {
      within = name;
      open(name, attributes);
    },
    onclosetag() {
      within = '';
    },
    ontext(said) {
      text(said, within);
    },
  });
  let end = 0;
  for (let tags = 0; tags < MAX_TAGS && end !== -1 && end < MAX_HTML; tags++)
    end = html.indexOf('<', end + 1);
  parser.end(html.slice(0, end === -1 ? MAX_HTML : end));
}

const resolved = (href: string, base: string): string | null =>
  URL.canParse(href, base) ? new URL(href, base).href : null;

/**
 * Where a page takes mentions of itself (W3C Recommendation Webmention, 12 January 2017, section 3.1.2): by its HTTP
 * Link header first, then by the first `link` or `a` element in its text, with `rel` webmention among others; a
 * relative address is meant from the page. Null where it takes none.
 */
export function endpointOf(page: { url: string; link: string | null; html: string }): string | null {
  if (page.link !== null) {
    const [first] = linksWithRel(page.link);
    if (first !== undefined) return resolved(first, page.url);
  }
  let found: string | null = null;
  readHtml(page.html, (name, { rel = '', href }) => {
    if (found !== null || (name !== 'link' && name !== 'a')) return;
    // Without an address it says nothing; an empty one is the page itself.
    if (rel.toLowerCase().split(/\s+/).includes('webmention') && href !== undefined) found = href;
  });
  return found === null ? null : resolved(found, page.url);
}

function linksWithRel(header: string): string[] {
  try {
    return LinkHeader.parse(header)
      .refs.filter((ref) => ref.rel.toLowerCase().split(/\s+/).includes('webmention'))
      .map((ref) => ref.uri);
  } catch {
    return [];
  }
}

/** Attributes by which a page names another one. */
const NAMING = ['href', 'src', 'cite', 'data', 'poster'];

/** Does a page name this very address? What only stands in its text, or in a comment of it, is no link. */
export function linksTo(html: string, url: string, target: string): boolean {
  const wanted = new URL(target).href;
  let links = false;
  readHtml(html, (_, attributes) => {
    links ||= NAMING.some((name) => {
      const value = attributes[name];
      return value !== undefined && resolved(value, url) === wanted;
    });
  });
  return links;
}

/** Values of a JSON text that are looked at; more of them is no page that mentions something. */
const MAX_VALUES = 50_000;

/**
 * Does a source mention this very address? By its type (W3C Recommendation Webmention, section 3.2.2): HTML has it in
 * an attribute, JSON as the whole of a value, plain text somewhere in it.
 */
export function mentions(source: { url: string; type: string; body: string }, target: string): boolean {
  const type = source.type.split(';')[0]!.trim().toLowerCase();
  if (type === 'text/plain') return isInText(source.body, target);
  if (type === 'application/json' || type.endsWith('+json')) return isInJson(source.body, target);
  return linksTo(source.body, source.url, target);
}

/** An address is in a text where it stands alone: what follows it does not go on with it. */
function isInText(text: string, target: string): boolean {
  for (let at = text.indexOf(target); at >= 0; at = text.indexOf(target, at + 1))
    if (!/^[\w\-./?#%=&~+:@]*[\w/#=&~+@-]/.test(text.slice(at + target.length, at + target.length + 20)))
      return true;
  return false;
}

function isInJson(text: string, target: string): boolean {
  let root: unknown;
  try {
    root = JSON.parse(text);
  } catch {
    return false;
  }
  const open = [root];
  for (let seen = 0; open.length > 0 && seen < MAX_VALUES; seen++) {
    const value = open.pop();
    if (value === target) return true;
    if (value !== null && typeof value === 'object') open.push(...Object.values(value).slice(0, MAX_VALUES));
  }
  return false;
}

const MAX_TITLE = 200;

/** What a page calls itself, as plain words. */
export function titleOf(html: string): string {
  let [title, shared] = ['', ''];
  readHtml(
    html,
    (name, { property, content }) => {
      if (name === 'meta' && property === 'og:title' && shared === '') shared = content ?? '';
    },
    (text, within) => {
      if (within === 'title' && title.length < MAX_TITLE) title += text;
    },
  );
  return (shared || title).replace(/\s+/g, ' ').trim().slice(0, MAX_TITLE);
}
