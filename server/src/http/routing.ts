import express, { Router, type Request, type RequestHandler, type Response } from 'express';
import multer from 'multer';
import { ROUTES, type BodyOf, type FieldFault, type HasId, type QueryOf, type ReplyOf, type RouteName } from '@keyroster/contract';
import { prepareQuery, schemasOf } from '@keyroster/contract/schemas';
import { roleMay } from '@keyroster/core';
import type Joi from 'joi';
import type { CurrentPerson } from '../accounts/who.js';
import type { Services } from '../services.js';
import type { Reader, Trx } from '../db/connect.js';
import { ProblemError } from './problem.js';

export interface UploadedFile {
  name: string;
  bytes: Buffer;
}

/** What a handler gets: everything checked, and a transaction if it writes. */
export interface Call<K extends RouteName> {
  services: Services;
  req: Request;
  res: Response;
  /** A transaction for every method but GET. */
  trx: Trx;
  id: HasId<K> extends true ? number : undefined;
  query: QueryOf<K>;
  body: BodyOf<K>;
  file: UploadedFile;
  ifMatch: number | null;
  /** Present on every route that is not for anyone. */
  person: CurrentPerson;
}

export type Handler<K extends RouteName> = (call: Call<K>) => Promise<ReplyOf<K>> | ReplyOf<K>;
export type Handlers = { [K in RouteName]?: Handler<K> };

export const MOST_FILE_BYTES = 20 * 1024 * 1024;
const MOST_JSON = '4mb';

const upload = multer({ storage: multer.memoryStorage(), limits: { fileSize: MOST_FILE_BYTES, files: 1, fields: 0, parts: 2, headerPairs: 50 } }).single('file');

function checked(schema: Joi.ObjectSchema, value: unknown, where: string): unknown {
  const { value: clean, error } = schema.validate(value ?? {}, { abortEarly: false, convert: true, errors: { wrap: { label: '“' as '"' } } });
  if (!error) return clean;
  const fields: FieldFault[] = error.details.slice(0, 20).map((d) => ({ field: d.path.join('.') || where, sentence: `${d.message.replace(/[“"]([^“"]+)[“"]/g, '“$1”')}.` }));
  throw new ProblemError('invalid', fields.map((f) => f.sentence).join(' '), { fields });
}

function versionOf(req: Request, name: RouteName): number | null {
  const rule = ROUTES[name].ifMatch;
  if (!rule) return null;
  const header = req.get('if-match');
  const match = /^(?:W\/)?"?(\d{1,9})"?$/.exec(header?.trim() ?? '');
  if (match) return Number(match[1]);
  if (header !== undefined) throw new ProblemError('invalid', 'If-Match must hold the post’s version, like "7".');
  if (rule === 'required') throw new ProblemError('version-needed', 'Say with If-Match which version you are changing, so that nobody’s work is lost.');
  return null;
}

function readFile(req: Request, res: Response): Promise<UploadedFile> {
  return new Promise((resolve, reject) => {
    if (!req.is('multipart/form-data')) return reject(new ProblemError('wrong-file', 'Send the file as multipart form data.'));
    upload(req, res, (error: unknown) => {
      if (error) {
        // What multer calls malformed is the sender's mistake.
        const known = error instanceof ProblemError || (error as { code?: string }).code;
        return reject(known ? (error as Error) : new ProblemError('invalid', 'The upload could not be read.'));
      }
      if (!req.file) return reject(new ProblemError('invalid', 'Send one file, in a part named “file”.'));
      resolve({ name: Buffer.from(req.file.originalname, 'latin1').toString('utf8').slice(0, 300), bytes: req.file.buffer });
    });
  });
}

/** Binds handlers to the contract's table: permission by role, Joi at the edge, one transaction per write. */
export function bindRoutes(services: Services, handlers: Handlers): Router {
  const router = Router();
  const json = express.json({ limit: MOST_JSON, strict: true, type: () => true });
  for (const name of Object.keys(handlers) as RouteName[]) {
    const row = ROUTES[name];
    const schemas = schemasOf(name);
    const handler = handlers[name] as Handler<RouteName>;
    const answer: RequestHandler = async (req, res) => {
      const person = res.locals['person'] as CurrentPerson | null;
      if (row.who !== 'anyone') {
        if (!person) throw new ProblemError('signed-out', 'Sign in first.');
        if (row.who !== 'signed in' && !roleMay(person.role, row.who)) throw new ProblemError('not-yours', `“${row.summary}” is not open to a ${person.role}.`);
      }
      const params = checked(schemas.params, req.params, 'path') as { id?: number };
      const query = checked(schemas.query, prepareQuery(name, req.query), 'query');
      const ifMatch = versionOf(req, name);
      const file = row.file ? await readFile(req, res) : undefined;
      const body = schemas.body ? checked(schemas.body, isPlainObject(req.body) ? req.body : { '': req.body }, 'body') : undefined;
      const run = (trx: Reader) => handler({ services, req, res, trx, id: params.id, query, body, file, ifMatch, person } as Call<RouteName>);
      const reply: unknown = row.method === 'GET' ? await run(services.db) : await services.db.transaction(async (trx) => run(trx));
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
  router.use(() => { throw new ProblemError('not-found', 'There is nothing at this address.'); });
  return router;
}

const isPlainObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);

