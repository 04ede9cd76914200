import pLimit from 'p-limit';
import { ProblemError } from './problem.js';

/**
 * Runs slow work a few at a time, with a queue before it that has an end: who finds it full is told to come
 * again (503 with Retry-After) rather than to wait for minutes.
 */
export function bounded(atOnce: number, waiting: number): <T>(work: () => Promise<T>) => Promise<T> {
  const limit = pLimit(atOnce);
  return (work) => {
    if (limit.pendingCount >= waiting)
      return Promise.reject(
        new ProblemError('busy', 'Many people ask for this at once. Please try again in a moment.'),
      );
    return limit(work);
  };
}
