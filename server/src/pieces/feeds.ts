import { Router, type Response } from 'express';
import { Feed } from 'feed';
import { isLater } from '@keyroster/core';
import { mayReadSql } from '../access/readable.js';
import { sendTagged } from '../http/etag.js';
import { escaped } from '../pages/feeds.js';
import type { Services } from '../http/services.js';
import type { OutletRow } from '../outlets/outlet-row.js';
import { pieceCard } from './pictures.js';
import { isDrawn } from './pieces.js';
import { type PieceRow } from './piece-store.js';
import { textHtml } from '../outlets/transport/html.js';
import { urlOfPost, type PostPlaces } from '../posts/url.js';

const FEED_LENGTH = 40;
const NEVER = '1970-01-01T00:00:00Z';
type FeedPiece = PieceRow & {
  key: string;
  sent_at: string | null;
  claimed_at: string | null;
  title: string;
  slug: string | null;
  run_local: string | null;
  byline: string;
};

/**
 * Feeds of outlets that fetch: what was sent there, as Atom (RFC 4287) and JSON Feed 1.1, naming their hub
 * and themselves (WebSub, section 4). Unlisted, and kept out of search engines.
 */
export function outletFeeds({ db }: Services): Router {
  const router = Router();
  const outletOf = async (slug: string, { locals }: Response) =>
    db('outlets as o')
      .join('blogs as b', 'b.id', 'o.blog_id')
      .where({
        'o.blog_id': locals['blogId'] as number,
        'o.slug': slug,
        'o.protocol': 'feed',
        'o.closed_at': null,
      })
      .first<(OutletRow & { blog: string } & PostPlaces) | undefined>(
        'o.*',
        'b.title as blog',
        'b.home',
        'b.site',
      );
  const piecesOf = async (outletId: number, id?: number): Promise<FeedPiece[]> =>
    db('pieces as p')
      .join('sends as s', 's.piece_id', 'p.id')
      .join('readers_posts as t', 't.id', 'p.post_id')
      .join('people as by', 'by.id', 't.byline_id')
      .where('p.outlet_id', outletId)
      .whereRaw(mayReadSql('t'))
      // A digest is gone with any of the posts that it tells of.
      .whereRaw(
        `not exists (select 1 from unnest(p.other_ids) other(id)
           where not exists (select 1 from readers_posts o where o.id = other.id and ${mayReadSql('o')}))`,
      )
      .whereRaw(`(s.state = 'sent' or s.steps->>'inFeed' = 'true')`)
      .modify((q) => {
        if (id) void q.where('p.id', id);
      })
      .orderByRaw('coalesce(s.sent_at, s.claimed_at) desc')
      .limit(FEED_LENGTH)
      .select<FeedPiece[]>(
        'p.*',
        's.key',
        's.sent_at',
        's.claimed_at',
        't.title',
        't.slug',
        't.run_local',
        'by.name as byline',
      );

  router.get('/:slug/pictures/:id.png', async (req, res, next) => {
    const outlet = await outletOf(req.params.slug, res);
    const [piece] =
      outlet && /^\d{1,9}$/.test(req.params.id) ? await piecesOf(outlet.id, Number(req.params.id)) : [];
    if (!piece || !isDrawn(piece.kind)) return next();
    res
      .set({ 'Cache-Control': 'public, max-age=3600', 'X-Content-Type-Options': 'nosniff' })
      .type('png')
      .send(await pieceCard(db, piece));
  });

  router.get('/:file', async (req, res, next) => {
    const [, slug, format] = /^([a-z0-9-]+)\.(atom|json)$/.exec(req.params.file) ?? [];
    const outlet = slug ? await outletOf(slug, res) : undefined;
    if (!outlet) return next();
    const self = `${outlet.home}/outlets/${slug}`;
    const pieces = await piecesOf(outlet.id);
    const sentAt = (p: FeedPiece) => p.sent_at ?? p.claimed_at ?? NEVER;
    const inAtom = (text: string) => (format === 'atom' ? escaped(text) : text);
    const feed = new Feed({
      id: `${self}.atom`,
      link: `${outlet.home}/`,
      title: `${outlet.blog} for ${outlet.name}`,
      language: 'en',
      copyright: '',
      generator: 'Key Roster',
      // When anything was last put into it.
      updated: new Date(pieces.map(sentAt).reduce((last, at) => (isLater(at, last) ? at : last), NEVER)),
      author: { name: outlet.blog },
      feedLinks: { atom: `${self}.atom`, json: `${self}.json` },
      ...(outlet.address ? { hub: outlet.address } : {}),
    });
    for (const p of pieces) {
      const at = new Date(sentAt(p));
      feed.addItem({
        id: `urn:uuid:${p.key}`,
        guid: `urn:uuid:${p.key}`,
        title: inAtom(p.subject || p.words || p.title),
        link: urlOfPost(outlet, { slug: p.slug ?? '', runLocal: p.run_local }),
        description: inAtom(p.parts[0]!.slice(0, 300)),
        content: textHtml(p.parts.join('\n\n')),
        date: at,
        published: at,
        author: [{ name: p.byline }],
        category: p.tags
          .map((tag) => tag.replace(/^#/, ''))
          .map((name) => ({ name: inAtom(name), term: inAtom(name) })),
        ...(isDrawn(p.kind) ? { image: `${self}/pictures/${p.id}.png` } : {}),
      });
    }
    res.set({
      'X-Robots-Tag': 'noindex',
      'Cache-Control': 'no-cache',
      Link: `${outlet.address ? `<${outlet.address}>; rel="hub", ` : ''}<${self}.${format}>; rel="self"`,
    });
    if (format === 'atom')
      return sendTagged(req, res.type('application/atom+xml; charset=utf-8'), feed.atom1());
    sendTagged(
      req,
      res.type('application/feed+json'),
      JSON.stringify({
        version: 'https://jsonfeed.org/version/1.1',
        title: `${outlet.blog} for ${outlet.name}`,
        home_page_url: `${outlet.home}/`,
        feed_url: `${self}.json`,
        language: 'en',
        ...(outlet.address ? { hubs: [{ type: 'WebSub', url: outlet.address }] } : {}),
        items: pieces.map((p) => ({
          id: `urn:uuid:${p.key}`,
          url: urlOfPost(outlet, { slug: p.slug ?? '', runLocal: p.run_local }),
          title: p.subject || p.words || p.title,
          content_text: p.parts.join('\n\n'),
          date_published: p.sent_at ?? p.claimed_at ?? undefined,
          authors: [{ name: p.byline }],
          tags: p.tags.map((t) => t.replace(/^#/, '')),
          ...(isDrawn(p.kind) ? { image: `${self}/pictures/${p.id}.png`, _image_alt: p.alt } : {}),
        })),
      }),
    );
  });
  return router;
}
