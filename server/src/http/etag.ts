import { createHash } from 'node:crypto';
import type { Request, Response } from 'express';

/** Does If-None-Match name this tag? Compared weakly, in lists, or by `*` (RFC 9110, section 13.1.2). */
export function matchesTag(header: string, etag: string): boolean {
  if (header.trim() === '*') return true;
  return (header.match(/(?:W\/)?"[\x21\x23-\x7e\x80-\xff]*"/g) ?? []).some(
    (tag) => tag.replace(/^W\//, '') === etag,
  );
}

/** Sends an answer with the tag of its bytes, or 304 to who has it already. */
export function sendTagged(req: Request, res: Response, answer: string | Buffer): void {
  const etag = `"${createHash('sha256').update(answer).digest('base64url').slice(0, 22)}"`;
  res.set('ETag', etag);
  if (matchesTag(req.get('if-none-match') ?? '', etag)) res.status(304).end();
  else res.send(answer);
}
