import type { IncomingMessage, ServerResponse } from 'node:http';
import Negotiator from 'negotiator';
import { matchesTag } from '../http/etag.js';
import { CODINGS, PRIVATE, type Coding, type KeptPage } from './cache.js';

/** What browsers ask for is one of a few texts; each is understood once. */
const understood = new Map<string, Coding | null>();
const MAX_UNDERSTOOD = 200;

/** Known to the library, not to its types: of those wanted equally, the first one. */
interface Preferring {
  encodings(available: Coding[], options: { preferred: Coding[] }): Coding[];
}

/** The best coding that a reader takes (RFC 9110, section 12.5.3); null when they refuse all that there are. */
export function codingFor(accepts: string | undefined): Coding | null {
  if (accepts === undefined) return 'identity';
  const known = understood.get(accepts);
  if (known !== undefined) return known;
  const negotiator = new Negotiator({ headers: { 'accept-encoding': accepts } }) as unknown as Preferring;
  const [best] = negotiator.encodings([...CODINGS], { preferred: [...CODINGS] });
  if (understood.size >= MAX_UNDERSTOOD) understood.clear();
  const coding = best ?? null;
  understood.set(accepts, coding);
  return coding;
}

/** Each coding of a page is a representation of its own (RFC 9110, section 8.8.3). */
export const etagOf = (page: KeptPage, coding: Coding): string =>
  coding === 'identity' ? `"${page.etag}"` : `"${page.etag}-${coding}"`;

/** Has the reader this page already? If-Modified-Since counts only where there are no tags. */
function isKnown(req: IncomingMessage, page: KeptPage, etag: string): boolean {
  const tags = req.headers['if-none-match'];
  if (tags !== undefined) return matchesTag(tags, etag);
  const since = Date.parse(req.headers['if-modified-since'] ?? '');
  return since >= Date.parse(page.lastModified);
}

/** Header lines as they are written, name and value in turn. */
interface Head {
  etag: string;
  whole: string[];
  /** Without what only belongs to a body. */
  known: string[];
}

/** Kept pages are sent many times over with the same lines. */
const heads = new WeakMap<KeptPage, Partial<Record<Coding, Head>>>();

function headOf(page: KeptPage, coding: Coding): Head {
  const kept = heads.get(page) ?? {};
  heads.set(page, kept);
  return (kept[coding] ??= makeHead(page, coding));
}

function makeHead(page: KeptPage, coding: Coding): Head {
  const etag = etagOf(page, coding);
  const shared = Object.entries({ ...page.headers, ETag: etag, 'Last-Modified': page.lastModified });
  return {
    etag,
    whole: [
      ...shared.flat(),
      ...(coding === 'identity' ? [] : ['Content-Encoding', coding]),
      ...['Content-Length', String(page.bytes[coding].length)],
    ],
    known: shared.filter(([name]) => name !== 'Content-Type').flat(),
  };
}

/** The same lines with a cookie for this browser, which no other cache may keep. */
function withCookie(lines: readonly string[], cookie: string): string[] {
  const kept = lines.flatMap((name, i) =>
    i % 2 === 0 && name !== 'Cache-Control' ? [name, lines[i + 1]!] : [],
  );
  return [...kept, 'Cache-Control', PRIVATE, 'Set-Cookie', cookie];
}

/** Sends a kept page in the coding the reader takes, or says that they have it; with a cookie for their browser. */
export function sendPage(
  req: IncomingMessage,
  res: ServerResponse,
  page: KeptPage,
  cookie: string | null = null,
): void {
  const coding = codingFor(req.headers['accept-encoding']) ?? 'identity';
  const { etag, whole, known } = headOf(page, coding);
  const lines = (head: string[]) => (cookie === null ? head : withCookie(head, cookie));
  if (page.status === 200 && isKnown(req, page, etag)) {
    res.writeHead(304, lines(known));
    res.end();
    return;
  }
  res.writeHead(page.status, lines(whole));
  res.end(req.method === 'HEAD' ? undefined : page.bytes[coding]);
}
