import { Router, type Request, type RequestHandler, type Response } from 'express';
import { roleMay, SHAPE_NAMES, type ReaderRights } from '@keyroster/core';
import type { Identities } from '../access/identity.js';
import { isInPreview } from '../access/preview-links.js';
import { mayReadSql } from '../access/readable.js';
import { bearerOf, headKey } from '../accounts/tokens.js';
import { findPerson } from '../accounts/who.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Db } from '../db/connect.js';

interface Held {
  type: string;
  sha256: string;
  open: boolean;
  blog_id: number;
}

const KIND = new RegExp(`^(?:\\d{1,5}\\.webp|page\\.(?:jpg|png)|(?:${SHAPE_NAMES.join('|')})\\.jpg)$`);
/** The pictures of people who have a page before this reader, since they may read something of theirs. */
const ofWriters = (rights: ReaderRights | null) => `
    union all
    select
      1
    from
      memberships m
      join posts p on p.blog_id = m.blog_id
      left join post_coauthors c on c.post_id = p.id
      and c.person_id = m.person_id
    where
      m.picture_id = ?
      and (p.byline_id = m.person_id or c.person_id is not null)
      and ${mayReadSql('p', rights)}
`;

/** The cover of a special is everybody's as long as readers see the special. */
const OF_SPECIALS = `
    union all
    select
      1
    from
      specials s
    where
      s.cover_media_id = ?
      and s.published_at is not null
`;

/** Is there a post that uses it and that this reader may read? Only then may they have it. */
const openBy = (of: 'media' | 'file', rights: ReaderRights | null) => `
  exists (
    select
      1
    from
      ${of}_uses u
      join posts p on p.id = u.post_id
    where
      u.${of}_id = ?
      and ${mayReadSql('p', rights)}
      and p.readers_version is null
    union all
    select
      1
    from
      readers_versions r
      join posts p on p.id = r.post_id
    where
      ? = any (r.${of}_ids)
      and ${mayReadSql('p', rights)}
    ${of === 'media' ? ofWriters(rights) + OF_SPECIALS : ''}
  ) as open
`;
const opens = (db: Db, of: 'media' | 'file', id: number, rights: ReaderRights | null) =>
  db.raw<boolean>(openBy(of, rights), of === 'media' ? [id, id, id, id] : [id, id]);

function headers(res: Response, held: Held): void {
  res.set({
    'Content-Type': held.type,
    ETag: `"${held.sha256.slice(0, 32)}"`,
    'X-Content-Type-Options': 'nosniff',
    'Content-Security-Policy': "default-src 'none'",
    // Other sites and readers of feeds may show what everybody may read.
    'Cross-Origin-Resource-Policy': held.open ? 'cross-origin' : 'same-origin',
    // An id never changes its bytes. What is not open stays in the browser of the person who may see it.
    'Cache-Control': held.open ? 'public, max-age=31536000, immutable' : 'private, max-age=3600',
  });
}

/**
 * Pictures and files by id. Those of posts that everybody may read are everybody's; all others are for the newsroom and
 * for readers who may read a post that uses them, and for anybody else there is nothing at the address.
 */
export function mediaFiles(db: Db, identities: Identities, staff: readonly RequestHandler[]): Router {
  const router = Router();
  const idOf = (text: unknown) => (typeof text === 'string' && /^\d{1,9}$/.test(text) ? Number(text) : 0);
  const missing = (res: Response) => {
    res.status(404).type('text').send('There is nothing at this address.');
  };
  /** Of the blog that it belongs to: people of another blog have no business in its library. */
  const isForStaff = async (req: Request, res: Response): Promise<boolean> => {
    // A writing tool comes with its owner's key, and fetches what it brought.
    const key = headKey(req);
    const asks = key
      ? (await bearerOf(db, key))?.person
      : (res.locals['person'] as CurrentPerson | null | undefined);
    const person = asks ? await findPerson(db, asks.id, (res.locals['held'] as Held).blog_id) : null;
    return person !== null && roleMay(person.role, 'enterNewsroom');
  };

  /**
   * May this reader have it, by what their browser brings: as a member, by a password, later than others, in
   * a preview?
   */
  const isForReader = async (of: 'media' | 'file', req: Request, res: Response): Promise<boolean> => {
    const id = idOf(req.params['id']);
    const cookies = req.headers.cookie;
    if (cookies === undefined) return false;
    const { reader } = await identities.of(cookies, (res.locals['held'] as Held).blog_id);
    if (reader.rights) {
      const row = await db(of === 'media' ? 'media' : 'files')
        .where({ id })
        .first<{ open: boolean } | undefined>(opens(db, of, id, reader.rights));
      if (row?.open) return true;
    }
    return isInPreview(db, cookies, of, id);
  };

  const picture: RequestHandler = async (req, res, next) => {
    const id = idOf(req.params['id']);
    const held = await db('media')
      .where({ id })
      .first<Held | undefined>('type', 'sha256', 'blog_id', opens(db, 'media', id, null));
    if (!held) return missing(res);
    res.locals['held'] = held;
    next();
  };
  const sendPicture: RequestHandler = async (req, res) => {
    const held = res.locals['held'] as Held;
    const id = idOf(req.params['id']);
    const kind = req.params['kind'];
    if (typeof kind === 'string') {
      const size = KIND.test(kind)
        ? await db('media_sizes')
            .where({ media_id: id, kind })
            .first<{ bytes: Buffer; type: string } | undefined>('bytes', 'type')
        : undefined;
      if (!size) return missing(res);
      headers(res, {
        ...held,
        type: size.type,
        sha256: `${kind.replace(/\W/g, '')}${size.bytes.length}${held.sha256}`,
      });
      // Shapes are cut again when the focus moves.
      if (SHAPE_NAMES.some((s) => kind.startsWith(s)))
        res.set('Cache-Control', held.open ? 'public, max-age=300' : 'private, max-age=0, must-revalidate');
      res.send(size.bytes);
      return;
    }
    headers(res, held);
    if (req.fresh) {
      res.status(304).end();
      return;
    }
    res.send((await db('media').where({ id }).first<{ bytes: Buffer }>('bytes'))!.bytes);
  };
  const file: RequestHandler = async (req, res, next) => {
    const id = idOf(req.params['id']);
    const held = await db('files')
      .where({ id })
      .first<(Held & { size: number }) | undefined>(
        'type',
        'sha256',
        'size',
        'blog_id',
        opens(db, 'file', id, null),
      );
    if (!held) return missing(res);
    res.locals['held'] = held;
    next();
  };
  const sendFile: RequestHandler = async (req, res) => {
    const held = res.locals['held'] as Held & { size: number };
    const ranges = req.range(held.size, { combine: true });
    headers(res, held);
    res.set('Accept-Ranges', 'bytes');
    if (ranges === -1) {
      res.status(416).set('Content-Range', `bytes */${held.size}`).end();
      return;
    }
    // One part or all: what asks for several, for other units or not well gets the whole.
    const one =
      Array.isArray(ranges) && ranges.type === 'bytes' && ranges.length === 1 ? ranges[0] : undefined;
    const { start: from, end: to } = one ?? { start: 0, end: held.size - 1 };
    if (one) res.status(206).set('Content-Range', `bytes ${from}-${to}/${held.size}`);
    const { rows } = await db.raw<{ rows: { part: Buffer }[] }>(
      'select substring(bytes from ? for ?) as part from files where id = ?',
      [from + 1, to - from + 1, idOf(req.params['id'])],
    );
    res.end(rows[0]!.part);
  };

  /** Asks who it is only for what is not everybody's: readers' pictures cost no session. */
  const guard = (of: 'media' | 'file', find: RequestHandler, send: RequestHandler): RequestHandler[] => [
    find,
    ...staff.map(
      (step): RequestHandler =>
        (req, res, next) =>
          (res.locals['held'] as Held).open ? next() : step(req, res, next),
    ),
    async (req, res, next) => {
      const open = (res.locals['held'] as Held).open;
      if (open || (await isForStaff(req, res)) || (await isForReader(of, req, res)))
        return send(req, res, next);
      missing(res);
    },
  ];
  router.get('/media/:id', ...guard('media', picture, sendPicture));
  router.get('/media/:id/:kind', ...guard('media', picture, sendPicture));
  router.get('/files/:id', ...guard('file', file, sendFile));
  return router;
}
