import { Injectable } from '@angular/core';
import {
  ROUTES,
  type BodyOf,
  type HasId,
  type Problem,
  type QueryOf,
  type ReplyOf,
  type RouteName,
} from '@keyroster/contract';
import { Subject } from 'rxjs';

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

export type CallInput<K extends RouteName> = (HasId<K> extends true ? { id: number } : { id?: undefined }) &
  (BodyOf<K> extends undefined ? { body?: undefined } : { body: BodyOf<K> }) &
  (QueryOf<K> extends undefined ? { query?: undefined } : { query?: QueryOf<K> }) & {
    ifMatch?: number;
    file?: File;
    /** The page is going away: the request goes on without it, as long as it is small. */
    leaving?: boolean;
  };

/** What browsers let a page that goes away leave behind (Fetch, section 4.6), less what the headers take. */
const MAX_LEFT_BYTES = 60_000;

@Injectable({ providedIn: 'root' })
export class Api {
  /** Told when an answer says that nobody is signed in any more. */
  readonly signedOut = new Subject<void>();

  async call<K extends RouteName>(name: K, input: CallInput<K>): Promise<ReplyOf<K>> {
    const row = ROUTES[name];
    const query = new URLSearchParams();
    for (const [key, value] of Object.entries((input.query ?? {}) as Record<string, unknown>)) {
      if (value !== undefined && value !== null && value !== '')
        query.set(key, Array.isArray(value) ? value.join(',') : String(value));
    }
    const url = row.path.replace(':id', String(input.id)) + (query.size > 0 ? `?${query.toString()}` : '');
    const form = input.file ? new FormData() : null;
    if (form) form.append('file', input.file!);
    const text = input.body === undefined ? undefined : JSON.stringify(input.body);
    let response: Response;
    try {
      response = await fetch(url, {
        keepalive: input.leaving === true && (text?.length ?? 0) * 3 < MAX_LEFT_BYTES,
        method: row.method,
        credentials: 'same-origin',
        headers: {
          Accept: 'application/json',
          ...(input.body === undefined ? {} : { 'Content-Type': 'application/json' }),
          ...(input.ifMatch === undefined ? {} : { 'If-Match': `"${input.ifMatch}"` }),
        },
        body: form ?? text,
      });
    } catch {
      throw new ApiError(
        null,
        'The newsroom cannot be reached just now. Nothing was lost; try again in a moment.',
      );
    }
    if (response.ok) return (response.status === 204 ? null : await response.json()) as ReplyOf<K>;
    const problem = (await response.json().catch(() => null)) as Problem | null;
    if (problem?.code === 'signed-out') this.signedOut.next();
    if (!problem?.code)
      throw new ApiError(
        null,
        'The newsroom gave no usable answer. Nothing was lost; try again in a moment.',
      );
    throw new ApiError(problem, problem.detail);
  }
}

export function sentenceOf(error: unknown): string {
  return error instanceof ApiError ? error.message : 'Something went wrong here. Please try again.';
}
