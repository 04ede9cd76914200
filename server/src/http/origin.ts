import type { RequestHandler } from 'express';
import { ProblemError, sendProblem } from './problem.js';

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

/**
 * Cross-site request protection by what browsers say about where a request comes from (Fetch Metadata, W3C; Origin,
 * RFC 6454): a write that another site's page causes carries `Sec-Fetch-Site: cross-site` or a foreign `Origin`.
 * Programs send neither header and hold no ambient cookie, so they pass. Session cookies are SameSite=Lax besides.
 */
export function refuseOtherSites(publicUrl: string): RequestHandler {
  const own = new URL(publicUrl).host;
  return (req, res, next) => {
    if (SAFE.has(req.method)) return next();
    const site = req.get('sec-fetch-site');
    const origin = req.get('origin');
    const sameHost = () => {
      try {
        const host = new URL(origin!).host;
        return host === own || host === req.get('host');
      } catch {
        return false;
      }
    };
    const allowed = site !== undefined ? site === 'same-origin' || site === 'none' : origin === undefined || sameHost();
    if (allowed && (origin === undefined || sameHost())) return next();
    sendProblem(res, new ProblemError('other-site', 'This request came from another site and was not carried out.'));
  };
}
