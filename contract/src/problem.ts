import type { PostField, ZonedChoice } from '@keyroster/core';
import type { FieldValues } from './versioned.js';

/** Stable codes of everything that can go wrong at the edge. */
export const PROBLEM_CODES = {
  invalid: 400,
  'not-json': 400,
  'signed-out': 401,
  'wrong-password': 401,
  'not-yours': 403,
  'other-site': 403,
  'not-found': 404,
  'wrong-method': 405,
  taken: 409,
  'no-such-move': 409,
  demands: 409,
  'already-set-up': 409,
  gone: 410,
  /** Readers would lose what they have; accepted, it is done. */
  'takes-away': 409,
  'version-conflict': 412,
  'too-large': 413,
  'wrong-file': 415,
  'time-gap': 422,
  'time-doubled': 422,
  'bad-time': 422,
  'bad-text': 422,
  'version-needed': 428,
  'too-many': 429,
  busy: 503,
  unavailable: 503,
  internal: 500,
} as const;
export type ProblemCode = keyof typeof PROBLEM_CODES;

export interface FieldError {
  field: string;
  sentence: string;
}

/** RFC 9457 problem details, with our own members. */
export interface Problem {
  type: string;
  title: string;
  status: number;
  /** A sentence for people. */
  detail: string;
  code: ProblemCode;
  fields?: FieldError[];
  /** With `time-gap` and `time-doubled`: the two times to choose from, earlier first. */
  choices?: ZonedChoice[];
  /** With `version-conflict`: the version that stands now, and the fields changed since the one you had. */
  version?: number;
  changed?: PostField[];
  changedBy?: string;
  /** With `version-conflict`: what it is now, by field, of what the change was about. */
  current?: FieldValues;
}
