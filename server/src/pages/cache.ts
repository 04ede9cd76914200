import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { brotliCompress, constants, gzip } from 'node:zlib';
import { LRUCache } from 'lru-cache';

/** Codings that pages are kept in, best first. */
export const CODINGS = ['br', 'gzip', 'identity'] as const;
export type Coding = (typeof CODINGS)[number];

/** A page made for readers, before it is kept. */
export interface Page {
  status: number;
  type: string;
  body: string;
  /** With a redirect: where to. */
  location?: string;
  /** What it shows: `post:12`, `lists`. */
  tags: readonly string[];
  /** Nothing that a reader brings changes it. */
  sameForAll?: boolean;
}

/** A permanent redirect. */
export const moved = (location: string, tags: readonly string[] = ['lists']): Page => ({
  status: 301,
  type: 'text/html; charset=utf-8',
  body: `<p>This page is at <a href="${location}">${location}</a> now.</p>`,
  tags,
  location,
});

/** A page as bytes, ready to be sent. */
export interface KeptPage {
  status: number;
  /** Of the page as it is; each coding has its own made from it. */
  etag: string;
  bytes: Readonly<Record<Coding, Buffer>>;
  lastModified: string;
  headers: Record<string, string>;
  tags: ReadonlySet<string>;
  /** The post whose own page it is. */
  postId: number | null;
  madeAt: number;
}

const compressBrotli = promisify(brotliCompress);
const compressGzip = promisify(gzip);

/**
 * Readers' pages, rendered once and kept as bytes. Bounded in bytes, least recently used first out; emptied
 * by tag when something changes; a short life besides, so that a lost notification heals. Requests for one
 * page wait for one rendering.
 */
export class PageCache {
  private readonly pages: LRUCache<string, KeptPage>;
  private readonly making = new Map<string, Promise<KeptPage>>();
  private generation = 0;

  /** `shared`: other caches than the reader's own may keep these pages too. */
  constructor(private readonly options: { maxBytes: number; lifeMs: number; shared?: boolean }) {
    this.pages = new LRUCache({
      maxSize: options.maxBytes,
      sizeCalculation: (page) => CODINGS.reduce((sum, coding) => sum + page.bytes[coding].length, 0),
    });
  }

  /** The kept page, without waiting, or null. */
  peek(key: string, now: number): KeptPage | null {
    const page = this.pages.get(key);
    return page && now - page.madeAt <= this.options.lifeMs ? page : null;
  }

  get(key: string, now: number, render: () => Promise<Page>): Promise<KeptPage> {
    const kept = this.peek(key, now);
    if (kept) return Promise.resolve(kept);
    const running = this.making.get(key);
    if (running) return running;
    const generation = this.generation;
    const made: Promise<KeptPage> = this.make(begin(render), now)
      .then((page) => {
        // What changed while the page was being made may not be in it; such a page is sent but not kept.
        if (generation === this.generation && page.status === 200) this.pages.set(key, page);
        return page;
      })
      .finally(() => {
        if (this.making.get(key) === made) this.making.delete(key);
      });
    this.making.set(key, made);
    return made;
  }

  /** Forgets pages with any of these tags; without tags, all. */
  forget(tags?: readonly string[]): void {
    this.generation++;
    this.making.clear();
    for (const [key, page] of [...this.pages.entries()])
      if (!tags || tags.some((t) => page.tags.has(t))) this.pages.delete(key);
  }

  private cacheControl({ status, location }: Page): string {
    if (this.options.shared === false) return status === 200 || location ? PRIVATE : 'no-store';
    if (status === 200) return 'public, max-age=0, must-revalidate';
    return location ? 'public, max-age=3600' : 'no-store';
  }

  private async make(rendering: Promise<Page>, now: number): Promise<KeptPage> {
    const page = await rendering;
    const plain = Buffer.from(page.body);
    const etag = createHash('sha256').update(plain).digest('base64url').slice(0, 22);
    return {
      status: page.status,
      etag,
      bytes: {
        br: await compressBrotli(plain, { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } }),
        gzip: await compressGzip(plain),
        identity: plain,
      },
      lastModified: new Date(now).toUTCString(),
      madeAt: now,
      tags: new Set(page.tags),
      postId:
        page.status === 200
          ? Number(page.tags.find((t) => t.startsWith('post:'))?.slice(5) ?? 0) || null
          : null,
      headers: {
        'Content-Type': page.type,
        // What a reader brings may open more to them, but for what is the same for everybody.
        Vary: page.sameForAll ? 'Accept-Encoding' : 'Accept-Encoding, Cookie',
        'Cache-Control': this.cacheControl(page),
        ...(page.location ? { Location: page.location } : {}),
        ...SECURITY,
      },
    };
  }
}

/** For one reader's browser alone, which asks each time whether it is still so. */
export const PRIVATE = 'private, no-cache';

/** A rendering that throws at once is a rejection too. */
async function begin(render: () => Promise<Page>): Promise<Page> {
  return render();
}

/** Readers' pages run no script at all. */
export const SECURITY: Readonly<Record<string, string>> = {
  'Content-Security-Policy':
    "default-src 'none'; img-src 'self'; media-src 'self'; style-src 'self'; font-src " +
    "'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'self'",
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'strict-origin-when-cross-origin',
};
