import type { FieldError } from '@keyroster/contract';
import { ProblemError } from './problem.js';

/** NUL, which PostgreSQL cannot store, and half a surrogate pair, which is no character (Unicode, section 3.9). */
const CANNOT_BE_STORED = /\u0000|\p{Surrogate}/u;

interface Open {
  value: unknown;
  path: string;
}

/**
 * Throws where a text anywhere in what came in, in names of fields too, holds what cannot be stored. Checked once for
 * all that comes in, so that no handler has to.
 */
export function mustBeWellFormed(input: unknown): void {
  const open: Open[] = [{ value: input, path: '' }];
  for (let next = open.pop(); next; next = open.pop()) {
    const { value, path } = next;
    if (typeof value === 'string') {
      if (CANNOT_BE_STORED.test(value)) throw refusal(path);
    } else if (value !== null && typeof value === 'object' && !Buffer.isBuffer(value))
      for (const [name, inner] of Object.entries(value)) {
        if (CANNOT_BE_STORED.test(name)) throw refusal(path);
        if (typeof inner === 'string' || (inner !== null && typeof inner === 'object'))
          open.push({ value: inner, path: path === '' ? name : `${path}.${name}` });
      }
  }
}

function refusal(path: string): ProblemError {
  const field = path.slice(0, 200) || 'body';
  const sentence = `“${field}” holds a character that cannot be stored. Remove it and try again.`;
  const fields: FieldError[] = [{ field, sentence }];
  return new ProblemError('invalid', sentence, { fields });
}
