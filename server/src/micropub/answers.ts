import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { TokenScope } from '@keyroster/core';
import { PROBLEM_CODES } from '@keyroster/contract';
import { ProblemError, asProblem } from '../http/problem.js';

type ErrorName = 'invalid_request' | 'unauthorized' | 'forbidden' | 'insufficient_scope';

/** An error as the Recommendation has it (section 3.8), with a sentence for people. */
export class MicropubError extends Error {
  constructor(
    readonly status: number,
    readonly error: ErrorName,
    sentence: string,
    readonly scope?: TokenScope,
  ) {
    super(sentence);
  }
}

export const invalid = (sentence: string): MicropubError =>
  new MicropubError(400, 'invalid_request', sentence);

/** Requests come from programs on any site: they carry a key, and never a cookie that is looked at. */
export const fromAnywhere: RequestHandler = (req, res, next) => {
  res.set({
    'Access-Control-Allow-Origin': '*',
    'Access-Control-Expose-Headers': 'Location',
    'Cache-Control': 'no-store',
  });
  if (req.method !== 'OPTIONS') return next();
  res
    .set({
      'Access-Control-Allow-Methods': 'GET, POST',
      'Access-Control-Allow-Headers': 'Authorization, Content-Type',
      'Access-Control-Max-Age': '86400',
    })
    .status(204)
    .end();
};

const asMicropub = (error: unknown): MicropubError | ProblemError => {
  if (error instanceof MicropubError) return error;
  const problem = asProblem(error);
  const status = PROBLEM_CODES[problem.code];
  if (status >= 500 || status === 413 || status === 429) return problem;
  return status === 403 ? new MicropubError(403, 'forbidden', problem.message) : invalid(problem.message);
};

export const sendError: ErrorRequestHandler = (error, _req, res, next) => {
  if (res.headersSent) return next(error);
  const problem = asMicropub(error);
  if (problem instanceof ProblemError) {
    const status = PROBLEM_CODES[problem.code];
    if (status === 503) res.set('Retry-After', '2');
    const name = status >= 500 ? 'server_error' : 'invalid_request';
    return void res.status(status).json({ error: name, error_description: problem.message });
  }
  if (problem.status === 401)
    res.set(
      'WWW-Authenticate',
      `Bearer${problem.error === 'insufficient_scope' ? ` error="insufficient_scope", scope="${problem.scope}"` : ''}`,
    );
  res.status(problem.status).json({
    error: problem.error,
    error_description: problem.message,
    ...(problem.scope ? { scope: problem.scope } : {}),
  });
};
