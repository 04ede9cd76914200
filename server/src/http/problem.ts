import { SenderGone } from './left.js';
import type { ErrorRequestHandler, Response } from 'express';
import { PROBLEM_CODES, type Problem, type ProblemCode } from '@keyroster/contract';
import { log } from '../log.js';

const TITLES: Record<ProblemCode, string> = {
  invalid: 'Something in the request is not right',
  'not-json': 'Not JSON',
  'signed-out': 'Not signed in',
  'wrong-password': 'Sign-in refused',
  'not-yours': 'Not allowed',
  'other-site': 'Request from another site',
  'not-found': 'Not found',
  'wrong-method': 'Wrong method',
  taken: 'Already taken',
  'no-such-move': 'No such move',
  demands: 'Something is missing',
  'already-set-up': 'Already set up',
  gone: 'No longer there',
  'takes-away': 'Readers would lose what they have',
  'version-conflict': 'Changed in the meantime',
  'too-large': 'Too large',
  'wrong-file': 'Not a file we can read',
  'time-gap': 'A time that does not exist',
  'time-doubled': 'A time that happens twice',
  'bad-time': 'Not a usable time',
  'bad-text': 'Not a text a post may hold',
  'version-needed': 'Version needed',
  'too-many': 'Too many tries',
  busy: 'Busy',
  unavailable: 'Cannot be reached just now',
  internal: 'Something went wrong here',
};

/** An answer that is not a success; use cases throw it, the edge sends it as RFC 9457 problem+json. */
export class ProblemError extends Error {
  constructor(
    readonly code: ProblemCode,
    detail: string,
    readonly extra: Partial<Problem> = {},
  ) {
    super(detail);
  }
  toJSON(): Problem {
    return {
      type: `urn:key-roster:problem:${this.code}`,
      title: TITLES[this.code],
      status: PROBLEM_CODES[this.code],
      detail: this.message,
      code: this.code,
      ...this.extra,
    };
  }
}

export const notFound = (what = 'That') => new ProblemError('not-found', `${what} is not here.`);
export const notYours = (what = 'That') => new ProblemError('not-yours', `${what} is not yours to do.`);

/** After how many seconds a request that was turned away may come again. */
const RETRY_AFTER_SECONDS = 2;

export function sendProblem(res: Response, problem: ProblemError): void {
  if (PROBLEM_CODES[problem.code] === 503) res.set('Retry-After', String(RETRY_AFTER_SECONDS));
  res
    .status(PROBLEM_CODES[problem.code])
    .type('application/problem+json')
    .send(JSON.stringify(problem.toJSON()));
}

interface HttpLikeError {
  type?: string;
  status?: number;
  statusCode?: number;
  code?: string;
  constraint?: string;
}

/** PostgreSQL constraints that say something a person can act on. */
const CONSTRAINTS: Record<string, [ProblemCode, string]> = {
  posts_blog_id_slug_key: ['taken', 'Another post already has this web address.'],
  last_managing_editor: [
    'demands',
    'That would leave the blog without a managing editor. Make somebody else one first.',
  ],
  people_email_key: ['taken', 'Somebody already signs in with this e-mail address.'],
  categories_name: ['taken', 'There is already a category of that name.'],
  categories_blog_id_slug_key: ['taken', 'There is already a category of that name.'],
  formats_name: ['taken', 'There is already a format of that name.'],
  checklists_name: ['taken', 'There is already a checklist of that name.'],
  templates_name: ['taken', 'There is already a template of that name.'],
  tags_name: ['taken', 'There is already a tag of that name.'],
  outlets_name: ['taken', 'There is already an outlet of that name.'],
};

/**
 * Is this the database being away (stopped, starting, restarting), or no connection to it being free?
 * PostgreSQL's classes 08 and 57P0x, too many connections, what sockets say, and what the pools say.
 */
export function isOutOfReach(error: unknown): boolean {
  if (typeof error !== 'object' || error === null) return false;
  const { code, name, message, errors } = error as Partial<AggregateError> & { code?: string };
  return (
    /^(08...|57P0[1-5]|53300|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)$/.test(code ?? '') ||
    name === 'KnexTimeoutError' ||
    /Connection terminated|Connection ended|timeout exceeded when trying to connect|Unable to acquire a connection|Client has encountered a connection error|Client was closed/.test(
      message ?? '',
    ) ||
    (Array.isArray(errors) && errors.some(isOutOfReach))
  );
}

/** What went wrong, as what is said of it; what nobody foresaw is logged. */
export function asProblem(error: unknown): ProblemError {
  if (error instanceof ProblemError) return error;
  const e = (typeof error === 'object' && error !== null ? error : {}) as HttpLikeError;
  if (e.type === 'entity.too.large' || e.code === 'LIMIT_FILE_SIZE')
    return new ProblemError('too-large', 'That is larger than we take here.');
  if (e.type === 'entity.parse.failed') return new ProblemError('not-json', 'The request is not valid JSON.');
  if (e.code?.startsWith('LIMIT_'))
    return new ProblemError('invalid', 'Send exactly one file, in a part named “file”.');
  if (e.constraint && CONSTRAINTS[e.constraint]) return new ProblemError(...CONSTRAINTS[e.constraint]!);
  // Another unique name or place: the first to claim it has it.
  if (e.code === '23505') return new ProblemError('taken', 'That is there already.');
  if (e.code === '23503') return new ProblemError('invalid', 'Something this refers to is not here.');
  // 22P05, 22021: text that PostgreSQL cannot hold.
  if (e.code === '22P05' || e.code === '22021')
    return new ProblemError('invalid', 'The text holds a character that cannot be stored.');
  if (isOutOfReach(error))
    return new ProblemError(
      'unavailable',
      'The newsroom cannot be reached just now. Please try again in a moment.',
    );
  // 53100: PostgreSQL cannot write.
  if (e.code === '53100') {
    log.error({ err: error }, 'the disk of the database is full');
    return new ProblemError(
      'unavailable',
      'The disk that the newsroom is kept on is full. Nothing was changed, and what you typed is still here. The ' +
        'person who runs the server must free some space; then save again.',
    );
  }
  // 22007, 22008: a date that is none came through all the same.
  if (e.code === '22007' || e.code === '22008')
    return new ProblemError('invalid', 'The request holds a date that does not exist.');
  const status = e.status ?? e.statusCode;
  if (status && status >= 400 && status < 500) {
    return status === 413
      ? new ProblemError('too-large', 'That is larger than we take here.')
      : new ProblemError('invalid', 'The request could not be read.');
  }
  if (error instanceof SenderGone) return new ProblemError('unavailable', error.message);
  log.error({ err: error }, 'request failed');
  return new ProblemError('internal', 'Something went wrong here. Nothing was changed; please try again.');
}

export const problemHandler: ErrorRequestHandler = (error, _req, res, next) => {
  if (res.headersSent) {
    next(error);
    return;
  }
  sendProblem(res, asProblem(error));
};
