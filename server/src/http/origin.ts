import type { Request, RequestHandler } from 'express';
import { ProblemError, sendProblem } from './problem.js';

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

const originOf = (url: string): string | null => {
  try {
    return new URL(url).origin;
  } catch {
    return null;
  }
};

/** Is this one of ours: where readers reach the blog, or where this request was made to? */
const isOwn = (origin: string | null, req: Request, home: string): boolean =>
  origin !== null && (origin === home || origin === originOf(`${req.protocol}://${req.get('host') ?? ''}`));

/** Does a page of ours ask, or a program, which names no origin? */
export function isOwnOrigin(req: Request, publicUrl: string): boolean {
  const origin = req.get('origin');
  return origin === undefined || isOwn(originOf(origin), req, new URL(publicUrl).origin);
}

/**
 * Cross-site request protection by what browsers say about where a request comes from (Fetch Metadata, W3C;
 * Origin, RFC 6454): a write that another site's page causes carries `Sec-Fetch-Site: cross-site`, a foreign
 * `Origin`, or, where neither is known, a foreign `Referer`. Programs send none of them and hold no ambient
 * cookie, so they pass. Session cookies are SameSite=Lax besides, and writes are JSON, which no form sends.
 */
export function refuseOtherSites(publicUrl: string): RequestHandler {
  const home = new URL(publicUrl).origin;
  return (req, res, next) => {
    if (SAFE.has(req.method)) return next();
    const site = req.get('sec-fetch-site');
    const origin = req.get('origin');
    const referer = req.get('referer');
    const allowed =
      (site === undefined || site === 'same-origin' || site === 'none') &&
      (origin === undefined || isOwn(originOf(origin), req, home)) &&
      (site !== undefined ||
        origin !== undefined ||
        referer === undefined ||
        isOwn(originOf(referer), req, home));
    if (allowed) return next();
    sendProblem(
      res,
      new ProblemError('other-site', 'This request came from another site and was not carried out.'),
    );
  };
}
