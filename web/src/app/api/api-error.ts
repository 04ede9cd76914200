import type { Problem } from '@keyroster/contract';

/** An answer that is not a success. `unreachable` when there was no answer at all. */
export class ApiError extends Error {
  constructor(
    readonly problem: Problem | null,
    sentence: string,
  ) {
    super(sentence);
  }
  get code(): Problem['code'] | 'unreachable' {
    return this.problem?.code ?? 'unreachable';
  }
}

export function sentenceOf(error: unknown): string {
  return error instanceof ApiError ? error.message : 'Something went wrong here. Please try again.';
}
