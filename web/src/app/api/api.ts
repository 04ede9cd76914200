import { HttpClient, HttpHeaders, HttpParams } from '@angular/common/http';
import { Injectable, inject } from '@angular/core';
import {
  ROUTES,
  type BodyOf,
  type HasId,
  type QueryOf,
  type ReplyOf,
  type RouteName,
} from '@keyroster/contract';
import { firstValueFrom, lastValueFrom, takeUntil, type Observable } from 'rxjs';

export { ApiError, sentenceOf } from './api-error';

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

/** Calls the routes of the contract. Failures are `ApiError`s. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  /** One answer. It is not called off, whatever becomes of the screen that asked. */
  call<K extends RouteName>(name: K, input: CallInput<K>): Promise<ReplyOf<K>> {
    return firstValueFrom(this.request(name, input));
  }

  /** One answer, or null when `left` says before it came that nobody waits for it any more; it is called off then. */
  until<K extends RouteName>(
    left: Observable<unknown>,
    name: K,
    input: CallInput<K>,
  ): Promise<ReplyOf<K> | null> {
    return lastValueFrom(this.request(name, input).pipe(takeUntil(left)), { defaultValue: null });
  }

  /** The same as a stream: asked when it is subscribed to, called off when it is left. */
  request<K extends RouteName>(name: K, input: CallInput<K>): Observable<ReplyOf<K>> {
    const row = ROUTES[name];
    const query = Object.entries((input.query ?? {}) as Record<string, unknown>)
      .filter(([, value]) => value !== undefined && value !== null && value !== '')
      .map(([key, value]): [string, string] => [key, Array.isArray(value) ? value.join(',') : String(value)]);
    const form = input.file ? new FormData() : null;
    if (form) form.append('file', input.file!);
    const text = input.body === undefined ? undefined : JSON.stringify(input.body);
    let headers = new HttpHeaders({ Accept: 'application/json' });
    if (text !== undefined) headers = headers.set('Content-Type', 'application/json');
    if (input.ifMatch !== undefined) headers = headers.set('If-Match', `"${input.ifMatch}"`);
    return this.http.request<ReplyOf<K>>(row.method, row.path.replace(':id', String(input.id)), {
      body: form ?? text,
      headers,
      params: new HttpParams({ fromObject: Object.fromEntries(query) }),
      credentials: 'same-origin',
      keepalive: input.leaving === true && (text?.length ?? 0) * 3 < MAX_LEFT_BYTES,
    });
  }
}
