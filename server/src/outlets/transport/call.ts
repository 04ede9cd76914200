import { lookup } from 'node:dns';
import type { IncomingHttpHeaders } from 'node:http';
import { isIP, type LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';
import type { FormData } from 'undici';

/** What went wrong on the way. `before`: nothing can have arrived; `after`: it may have. */
export class CallError extends Error {
  constructor(
    readonly when: 'before' | 'after',
    sentence: string,
  ) {
    super(sentence);
  }
}

export interface HttpResponse {
  status: number;
  headers: IncomingHttpHeaders;
  body: string;
}

export interface HttpRequest {
  method: 'GET' | 'POST';
  headers?: Record<string, string>;
  body?: Buffer | string | FormData;
  timeoutMs?: number;
}

/** More of an answer than this is not read. */
const MAX_ANSWER = 1_000_000;
const TIMEOUT_MS = 10_000;

/**
 * Is this address on the open network, and not this machine, a private network or one kept for other
 * purposes?
 */
export function isOpenAddress(address: string): boolean {
  if (!ipaddr.isValid(address)) return false;
  // A version 4 address in version 6 clothes is what it is underneath.
  return ipaddr.process(address).range() === 'unicast';
}

const privateError = (host: string) =>
  new CallError(
    'before',
    `${host} is an address within a private network. It is not asked; the settings can allow it.`,
  );

/** Looks a name up once, for an address that is then called; private networks are no answer. */
const openLookup: LookupFunction = (host, options, done) =>
  lookup(host, options, (error, found, family) => {
    const list = Array.isArray(found) ? found : [{ address: found, family }];
    if (!error && list.some((f) => !isOpenAddress(f.address))) done(privateError(host), '');
    else done(error, found as string, family);
  });

/**
 * Calls an outlet's address by HTTP. Never a private network unless its origin is among those allowed; the
 * name is looked up once and that address is called, so a name that changes its mind is of no use. Redirects
 * are not followed: where they lead is said. Throws a CallError that tells whether anything can have arrived.
 */
export async function call(
  address: string,
  { method, headers = {}, body, timeoutMs = TIMEOUT_MS }: HttpRequest,
  allowed: readonly string[],
): Promise<HttpResponse> {
  if (!URL.canParse(address)) throw new CallError('before', `“${address.slice(0, 200)}” is no web address.`);
  const url = new URL(address);
  if (url.protocol !== 'http:' && url.protocol !== 'https:')
    throw new CallError('before', 'Only addresses that begin with http or https are called.');
  const trusted = allowed.includes(url.origin);
  const literal = url.hostname.replace(/^\[|\]$/g, '');
  if (!trusted && isIP(literal) && !isOpenAddress(literal)) throw privateError(url.host);
  let when = 'before' as CallError['when'];
  // Loaded by the first call: most that this process does needs none.
  const { Agent, buildConnector, request } = await import('undici');
  const connect = buildConnector({ timeout: timeoutMs, ...(trusted ? {} : { lookup: openLookup }) });
  const dispatcher = new Agent({
    connect: (options, done) =>
      connect(options, (...[error, socket]) => {
        if (error) return done(error, null);
        when = 'after';
        done(null, socket);
      }),
  });
  const signal = AbortSignal.timeout(timeoutMs);
  try {
    const response = await request(url, {
      dispatcher,
      method,
      headers: { 'user-agent': 'Key Roster', accept: 'application/json, */*;q=0.5', ...headers },
      body: body ?? null,
      signal,
    });
    return {
      status: response.statusCode,
      headers: response.headers as IncomingHttpHeaders,
      body: await start(response.body),
    };
  } catch (error) {
    if (error instanceof CallError) throw error;
    if (signal.aborted)
      throw new CallError(when, `${url.host} did not answer within ${timeoutMs / 1000} seconds.`);
    const { code, message } = error as NodeJS.ErrnoException;
    throw new CallError(
      when,
      when === 'after'
        ? `${url.host} hung up before it answered.`
        : `${url.host} could not be reached (${code ?? message}).`,
    );
  } finally {
    await dispatcher.destroy();
  }
}

/** The start of an answer; more is not read. */
async function start(body: AsyncIterable<Buffer>): Promise<string> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of body) {
    size += part.length;
    if (size > MAX_ANSWER) break;
    parts.push(part);
  }
  return Buffer.concat(parts).toString('utf8');
}
