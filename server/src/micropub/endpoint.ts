import express, { Router, type Request, type RequestHandler, type Response } from 'express';
import multer from 'multer';
import { readForm, readJson, type MicropubAnswer, type TokenScope } from '@keyroster/core';
import { bearerOf, headKey, micropubAt } from '../accounts/tokens.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Services } from '../http/services.js';
import { mustBeWellFormed } from '../http/well-formed.js';
import { emit } from '../live/live.js';
import { storeDrawn, redraw, type Drawn } from '../media/store-picture.js';
import { mediaSrc } from '../media/sizes.js';
import { MicropubError, fromAnywhere, invalid, sendError } from './answers.js';
import { binPost, unbinPost } from './bin.js';
import { createFromEntry } from './create.js';
import { addressOf } from './post-at.js';
import { sourceOf } from './source.js';
import { updateFromEntry } from './update.js';
import { inTransaction } from '../db/write.js';

const MAX_BODY = '4mb';
const MAX_FILE_BYTES = 20 * 1024 * 1024;
/** So many pictures come with one entry. */
const MAX_FILES = 6;

interface Bearer {
  person: CurrentPerson;
  /** What the key is for, in its owner's words. */
  tool: string;
  scopes: readonly TokenScope[];
}
const bearer = (res: Response) => res.locals['bearer'] as Bearer;

const pairsOf = (text: unknown): [string, string][] =>
  typeof text === 'string' ? [...new URLSearchParams(text)] : [];

function mustLet(res: Response, scope: TokenScope): void {
  if (!bearer(res).scopes.includes(scope))
    throw new MicropubError(
      401,
      'insufficient_scope',
      `This key may not do that; it lacks “${scope}”.`,
      scope,
    );
}

/** A form with files, each in memory; the key is in its head, and was looked at before. */
const withFiles = (limit: { files: number; fields: number }): RequestHandler =>
  multer({
    storage: multer.memoryStorage(),
    limits: { fileSize: MAX_FILE_BYTES, fieldSize: 4 * 1024 * 1024, headerPairs: 50, ...limit },
  }).any() as RequestHandler;

const filesOf = (req: Request) => (Array.isArray(req.files) ? req.files : []);
const nameOf = (file: Express.Multer.File) =>
  Buffer.from(file.originalname, 'latin1').toString('utf8').slice(0, 200);

async function drawnFiles(req: Request): Promise<{ drawn: Drawn; name: string }[]> {
  const drawn = [];
  for (const file of filesOf(req)) {
    if (!/^photo(\[\])?$/.test(file.fieldname))
      throw invalid(
        `A post takes pictures, as “photo”; “${file.fieldname.slice(0, 40)}” has no place in it.`,
      );
    drawn.push({ drawn: await redraw(file.buffer), name: nameOf(file) });
  }
  return drawn;
}

/**
 * Drafts from programs of one's own choice: Micropub (W3C Recommendation, 23 May 2017), with keys that people make for
 * themselves in place of a sign-in. What is done is done as the person whose key it is, by the same rules as in the
 * newsroom.
 */
export function micropub(services: Services): Router {
  const { db, settings } = services;
  const router = Router();
  router.use(fromAnywhere);

  const identify: RequestHandler = async (req, res, next) => {
    const form = pairsOf(req.body).find(([name]) => name === 'access_token')?.[1];
    const head = headKey(req);
    if (head && form) throw invalid('Send the key once, in the head or in the form.');
    const key = head ?? form;
    if (!key) throw new MicropubError(401, 'unauthorized', 'Send a key: Authorization: Bearer …');
    const known = await bearerOf(db, key);
    if (!known) throw new MicropubError(403, 'forbidden', 'This key is not known here, or has ended.');
    res.locals['bearer'] = known;
    next();
  };

  const answer = async (
    res: Response,
    read: MicropubAnswer,
    files: { drawn: Drawn; name: string }[],
  ): Promise<void> => {
    if (!read.ok) throw invalid(read.sentence);
    const { request } = read;
    mustBeWellFormed(request);
    const { person, tool } = bearer(res);
    if (request.action === 'create') {
      mustLet(res, 'create');
      const id = await createFromEntry(services, person, { entry: request.entry, files, tool });
      res.status(201).location(addressOf(settings.publicUrl, id)).end();
      return;
    }
    mustLet(res, request.action === 'update' ? 'update' : 'delete');
    if (request.action === 'update') await updateFromEntry(services, person, request, tool);
    else await (request.action === 'delete' ? binPost : unbinPost)(services, person, request.url);
    res.status(204).end();
  };

  router.get('/', identify, async (req, res) => {
    const query = new URL(req.url, 'http://query').searchParams;
    const { person } = bearer(res);
    switch (query.get('q')) {
      case 'config':
        res.json({
          'media-endpoint': `${micropubAt(settings.publicUrl)}/media`,
          'syndicate-to': [],
          q: ['config', 'source', 'syndicate-to', 'category'],
        });
        return;
      // Where a post goes besides the blog is decided in the newsroom.
      case 'syndicate-to':
        res.json({ 'syndicate-to': [] });
        return;
      case 'category':
        res.json({
          categories: [
            ...(await db('categories')
              .where({ blog_id: person.blogId })
              .orderBy('name')
              .pluck<string[]>('name')),
            ...(await db('tags').where({ blog_id: person.blogId }).orderBy('name').pluck<string[]>('name')),
          ],
        });
        return;
      case 'source': {
        const only = [...query.getAll('properties[]'), ...query.getAll('properties')];
        res.json(await sourceOf(db, person, settings.publicUrl, query.get('url') ?? '', only));
        return;
      }
      default:
        throw invalid('“q” must be config, source, syndicate-to or category.');
    }
  });

  router.post(
    '/',
    express.text({ limit: MAX_BODY, type: 'application/x-www-form-urlencoded', defaultCharset: 'utf-8' }),
    identify,
    express.json({ limit: MAX_BODY, type: ['json', '+json'] }),
    withFiles({ files: MAX_FILES, fields: 200 }),
    async (req, res) => {
      if (req.is(['json', '+json'])) return answer(res, readJson(req.body), []);
      if (typeof req.body === 'string') return answer(res, readForm(pairsOf(req.body)), []);
      if (!req.is('multipart/form-data')) throw invalid('Send a form, or JSON.');
      mustLet(res, 'create');
      const fields = Object.entries((req.body ?? {}) as Record<string, string | string[]>);
      const pairs = fields.flatMap(([name, values]) => [values].flat().map((v) => [name, v] as const));
      return answer(res, readForm(pairs), await drawnFiles(req));
    },
  );

  router.post(
    '/media',
    (req, _res, next) => {
      if (!req.is('multipart/form-data'))
        throw invalid('Send one file as multipart form data, named “file”.');
      next();
    },
    identify,
    (_req, res, next) => {
      mustLet(res, 'media');
      next();
    },
    withFiles({ files: 1, fields: 5 }),
    async (req, res) => {
      const [file] = filesOf(req);
      if (file?.fieldname !== 'file') throw invalid('Send one file, in a part named “file”.');
      const { person } = bearer(res);
      const drawn = await redraw(file.buffer);
      const kept = await inTransaction(db, async (trx) => {
        const media = await storeDrawn(trx, person, drawn, { name: nameOf(file) });
        await emit(trx, { blogId: person.blogId, kind: 'media', personId: person.id });
        return media;
      });
      res
        .status(201)
        .location(settings.publicUrl + mediaSrc(kept.id))
        .end();
    },
  );
  router.all('/', (_req, res) => {
    res.set('Allow', 'GET, HEAD, POST, OPTIONS');
    throw new MicropubError(405, 'invalid_request', 'This address accepts GET and POST.');
  });
  router.all('/media', (_req, res) => {
    res.set('Allow', 'POST, OPTIONS');
    throw new MicropubError(405, 'invalid_request', 'This address accepts POST.');
  });
  router.use(sendError);
  return router;
}
