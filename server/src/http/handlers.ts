import type { Request, Response } from 'express';
import type { BodyOf, HasId, QueryOf, ReplyOf, RouteName } from '@keyroster/contract';
import type { Trx } from '../db/connect.js';
import type { CurrentPerson } from './current-person.js';
import type { Services } from './services.js';

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
  /** What `prepared` made ready. */
  ready: unknown;
}

/** The same before there is a transaction. */
export type EarlyCall<K extends RouteName> = Omit<Call<K>, 'trx' | 'ready'>;

export interface Handler<K extends RouteName> {
  (call: Call<K>): Promise<ReplyOf<K>> | ReplyOf<K>;
  /** What is slow (hashing, drawing, reading documents, calling out) is done first, while no connection is held. */
  prepare?: (call: EarlyCall<K>) => Promise<unknown>;
}

/** A handler with a slow part before its transaction; what that gives is handed on. */
export function prepared<K extends RouteName, P>(
  prepare: (call: EarlyCall<K>) => Promise<P>,
  handle: (call: Call<K>, ready: P) => Promise<ReplyOf<K>> | ReplyOf<K>,
): Handler<K> {
  return Object.assign((call: Call<K>) => handle(call, call.ready as P), { prepare });
}

export type Handlers = { [K in RouteName]?: Handler<K> };
