import express, { Router, type Request, type RequestHandler, type Response } from 'express';
import multer from 'multer';
import { ROUTES, type FieldError, type RouteName } from '@keyroster/contract';
import { prepareQuery, schemasOf } from '@keyroster/contract/schemas';
import { roleMay } from '@keyroster/core';
import type Joi from 'joi';
import type { CurrentPerson } from '../http/current-person.js';
import type { Call, EarlyCall, Handler, Handlers, UploadedFile } from '../http/handlers.js';
import type { Services } from '../http/services.js';
import type { Queryable } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { ProblemError } from '../http/problem.js';
import { mustBeWellFormed } from '../http/well-formed.js';

export const MAX_FILE_BYTES = 20 * 1024 * 1024;
const MAX_JSON = '4mb';

const upload = multer({
  storage: multer.memoryStorage(),
  limits: { fileSize: MAX_FILE_BYTES, files: 1, fields: 0, parts: 2, headerPairs: 50 },
}).single('file');

function checked(schema: Joi.ObjectSchema, value: unknown, where: string): unknown {
  const { value: clean, error } = schema.validate(value ?? {}, {
    abortEarly: false,
    convert: true,
    errors: { wrap: { label: '“' as '"' } },
  });
  if (!error) return clean;
  const fields: FieldError[] = error.details.slice(0, 20).map((d) => ({
    field: d.path.join('.') || where,
    sentence: `${d.message.replace(/[“"]([^“"]+)[“"]/g, '“$1”')}.`,
  }));
  throw new ProblemError('invalid', fields.map((f) => f.sentence).join(' '), { fields });
}

function versionOf(req: Request, name: RouteName): number | null {
  const { saves, ifMatch: rule = saves && 'required' } = ROUTES[name];
  if (!rule) return null;
  const header = req.get('if-match')?.trim();
  const match = /^(?:W\/)?"?(\d{1,9})"?$/.exec(header ?? '');
  if (match) return Number(match[1]);
  // RFC 9110, 13.1.1: whichever it is now.
  if (saves && header === '*') return null;
  if (header !== undefined)
    throw new ProblemError('invalid', 'If-Match must hold the version that you saw, like "7".');
  if (rule === 'required')
    throw new ProblemError(
      'version-needed',
      'Say with If-Match which version you are changing, so that nobody’s work is lost.',
    );
  return null;
}

function readFile(req: Request, res: Response): Promise<UploadedFile> {
  return new Promise((resolve, reject) => {
    if (!req.is('multipart/form-data'))
      return reject(new ProblemError('wrong-file', 'Send the file as multipart form data.'));
    upload(req, res, (error: unknown) => {
      if (error) {
        // What multer calls malformed is the sender's mistake.
        const known = error instanceof ProblemError || (error as { code?: string }).code;
        return reject(
          known ? (error as Error) : new ProblemError('invalid', 'The upload could not be read.'),
        );
      }
      if (!req.file) return reject(new ProblemError('invalid', 'Send one file, in a part named “file”.'));
      resolve({
        // A name is only shown, so that what cannot be stored is dropped from it.
        name: Buffer.from(req.file.originalname, 'latin1')
          .toString('utf8')
          .replace(/\p{C}/gu, '')
          .slice(0, 300),
        bytes: req.file.buffer,
      });
    });
  });
}

/** Binds handlers to the contract's table: permission by role, Joi at the edge, one transaction per write. */
export function bindRoutes(services: Services, handlers: Handlers): Router {
  const router = Router();
  const parse = express.json({ limit: MAX_JSON, strict: true, type: ['json', '+json'] });
  const json: RequestHandler = (req, res, next) => {
    if (hasBody(req) && !req.is(['json', '+json']))
      throw new ProblemError('not-json', 'Send JSON, and say so: Content-Type: application/json.');
    parse(req, res, next);
  };
  for (const name of Object.keys(handlers) as RouteName[]) {
    const row = ROUTES[name];
    const schemas = schemasOf(name);
    const handler = handlers[name] as Handler<RouteName>;
    const answer: RequestHandler = async (req, res) => {
      const person = res.locals['person'] as CurrentPerson | null;
      if (row.who !== 'anyone') {
        if (!person) throw new ProblemError('signed-out', 'Sign in first.');
        if (row.who !== 'signed in' && !roleMay(person.role, row.who))
          throw new ProblemError('not-yours', `“${row.summary}” is not open to a ${person.role}.`);
      }
      // A text keeps all of its words: what cannot be stored is dropped from it, and it is not refused.
      mustBeWellFormed([req.params, req.query, ...(name === 'body.store' ? [] : [req.body])]);
      const params = checked(schemas.params, req.params, 'path') as { id?: number };
      const query = checked(schemas.query, prepareQuery(name, req.query), 'query');
      const ifMatch = versionOf(req, name);
      const file = row.file ? await readFile(req, res) : undefined;
      const body = schemas.body
        ? checked(schemas.body, isPlainObject(req.body) ? req.body : { '': req.body }, 'body')
        : undefined;
      const early = {
        services,
        req,
        res,
        id: params.id,
        query,
        body,
        file,
        ifMatch,
        person,
      } as EarlyCall<RouteName>;
      const ready = await handler.prepare?.(early);
      const run = (trx: Queryable) => handler({ ...early, trx, ready } as Call<RouteName>);
      const reply: unknown =
        row.method === 'GET'
          ? await run(services.db)
          : await inTransaction(services.db, async (trx) => run(trx));
      if (res.headersSent) return;
      if (typeof reply === 'string') res.type('html').send(reply);
      else if (row.status === 204) res.status(204).end();
      else res.status(row.status ?? 200).json(reply);
    };
    const path = row.path.replace(/^\/api/, '');
    const method = row.method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete';
    if (schemas.body) router[method](path, json, answer);
    else router[method](path, answer);
  }
  const known = new Map<string, string[]>();
  for (const { path, method } of Object.values(ROUTES)) known.set(path, [...(known.get(path) ?? []), method]);
  for (const [path, methods] of known) {
    router.all(path.replace(/^\/api/, ''), (_req, res) => {
      res.set('Allow', methods.join(', '));
      throw new ProblemError('wrong-method', `This address takes ${methods.join(' and ')}.`);
    });
  }
  router.use(() => {
    throw new ProblemError('not-found', 'There is nothing at this address.');
  });
  return router;
}

/** RFC 9112, section 6.3: a request has content when either of these says so. */
const hasBody = (req: Request): boolean =>
  req.get('transfer-encoding') !== undefined || Number(req.get('content-length') ?? 0) > 0;

const isPlainObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
