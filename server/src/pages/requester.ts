import type { Request, RequestHandler, Response } from 'express';
import { roleMay } from '@keyroster/core';
import { SESSION_COOKIE } from '../accounts/session.js';
import { findPerson } from '../accounts/who.js';
import type { Db } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';

export const hasSession = (cookies: string | undefined): boolean =>
  cookies?.includes(`${SESSION_COOKIE}=`) ?? false;

/** Who asks, when they work for a blog, whichever of theirs they are at; looked up for who brings a session. */
export type RequesterOf = (req: Request, res: Response, blogId: number) => Promise<CurrentPerson | null>;

export function requesters(db: Db, staff: readonly RequestHandler[]): RequesterOf {
  return async (req, res, blogId) => {
    if (!hasSession(req.headers.cookie)) return null;
    for (const step of staff)
      await new Promise<void>((resolve, reject) => {
        const next = (error?: unknown) => (error ? reject(error as Error) : resolve());
        void Promise.resolve(step(req, res, next)).catch(reject);
      });
    const asks = res.locals['person'] as CurrentPerson | null;
    const person = asks && (await findPerson(db, asks.id, blogId));
    return person && roleMay(person.role, 'enterNewsroom') ? person : null;
  };
}
