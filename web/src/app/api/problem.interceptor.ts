import { HttpErrorResponse, type HttpInterceptorFn } from '@angular/common/http';
import { Injectable, inject } from '@angular/core';
import type { Problem } from '@keyroster/contract';
import { Subject, catchError, from, map } from 'rxjs';
import { ApiError } from './api-error';

/** Told when an answer says that nobody is signed in any more. */
@Injectable({ providedIn: 'root' })
export class SignedOut extends Subject<void> {}

const isProblem = (answer: unknown): answer is Problem =>
  typeof answer === 'object' && answer !== null && 'code' in answer && 'detail' in answer;

/** The words of an answer that was asked for as a file, and is none. */
const wordsOf = async (answer: unknown): Promise<unknown> => {
  if (!(answer instanceof Blob)) return answer;
  try {
    return JSON.parse(await answer.text());
  } catch {
    return null;
  }
};

/** A request that takes longer is given up, so that what waits for it can go on. */
const READING_MS = 60_000;

/** Makes of every failure an `ApiError` with a sentence for people: the server's own, or one for no answer at all. */
export const problemInterceptor: HttpInterceptorFn = (request, next) => {
  const signedOut = inject(SignedOut);
  const fail = (problem: unknown): never => {
    if (!isProblem(problem))
      throw new ApiError(
        null,
        'The newsroom gave no usable answer. Nothing was lost; try again in a moment.',
      );
    if (problem.code === 'signed-out') signedOut.next();
    throw new ApiError(problem, problem.detail);
  };
  return next(request.method === 'GET' ? request.clone({ timeout: READING_MS }) : request).pipe(
    catchError((error: unknown) => {
      if (!(error instanceof HttpErrorResponse)) throw error;
      if (error.status === 0)
        throw new ApiError(
          null,
          'The newsroom cannot be reached just now. Nothing was lost; try again in a moment.',
        );
      return from(wordsOf(error.error)).pipe(map(fail));
    }),
  );
};
