import type { Response } from 'express';

/** The sender of a request has gone before its answer: nobody hears of it. */
export class SenderGone extends Error {}

/** Ends work that nobody waits for any more: aborted when the connection of a request closes before its answer. */
export function leftSignal(res: Response): AbortSignal {
  const left = new AbortController();
  res.once('close', () => {
    if (!res.writableFinished) left.abort(new SenderGone('The sender of the request has gone.'));
  });
  return left.signal;
}
