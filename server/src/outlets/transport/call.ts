import { lookup } from 'node:dns';
import { request as httpRequest, type IncomingHttpHeaders } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { isIP } from 'node:net';
import ipaddr from 'ipaddr.js';

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
  body?: Buffer | string;
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

/**
 * Calls an outlet's address by HTTP. Never a private network unless its origin is among those allowed; the
 * name is looked up once and that address is called, so a name that changes its mind is of no use. Redirects
 * are not followed: where they lead is said. Throws a CallFault that tells whether anything can have arrived.
 */
export function call(
  address: string,
  { method, headers = {}, body, timeoutMs = TIMEOUT_MS }: HttpRequest,
  allowed: readonly string[],
): Promise<HttpResponse> {
  let url: URL;
  try {
    url = new URL(address);
  } catch {
    return Promise.reject(new CallError('before', `“${address.slice(0, 200)}” is no web address.`));
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:')
    return Promise.reject(
      new CallError('before', 'Only addresses that begin with http or https are called.'),
    );
  const trusted = allowed.includes(url.origin);
  const literal = url.hostname.replace(/^\[|\]$/g, '');
  if (!trusted && isIP(literal) && !isOpenAddress(literal)) return Promise.reject(privateError(url.host));
  return new Promise((resolve, reject) => {
    let begun = false;
    const asking = (url.protocol === 'https:' ? httpsRequest : httpRequest)(url, {
      method,
      headers: {
        'user-agent': 'Key Roster',
        accept: 'application/json, */*;q=0.5',
        ...headers,
        ...(body === undefined ? {} : { 'content-length': String(Buffer.byteLength(body)) }),
      },
      agent: false,
      lookup: (host, options, done) =>
        lookup(host, options, (error, found, family) => {
          const list = Array.isArray(found) ? found : [{ address: found, family }];
          if (!error && !trusted && list.some((f) => !isOpenAddress(f.address)))
            done(privateError(host) as unknown as NodeJS.ErrnoException, found as string, family);
          else done(error, found as string, family);
        }),
    });
    const late = setTimeout(
      () =>
        asking.destroy(
          new CallError(
            begun ? 'after' : 'before',
            `${url.host} did not answer within ${timeoutMs / 1000} seconds.`,
          ),
        ),
      timeoutMs,
    );
    asking.once('socket', (socket) =>
      socket.once(url.protocol === 'https:' ? 'secureConnect' : 'connect', () => {
        begun = true;
      }),
    );
    asking.once('error', (error: NodeJS.ErrnoException) => {
      clearTimeout(late);
      reject(
        error instanceof CallError
          ? error
          : new CallError(
              begun ? 'after' : 'before',
              begun
                ? `${url.host} hung up before it answered.`
                : `${url.host} could not be reached (${error.code ?? error.message}).`,
            ),
      );
    });
    asking.once('response', (response) => {
      const parts: Buffer[] = [];
      let size = 0;
      response.on('data', (part: Buffer) => {
        size += part.length;
        if (size <= MAX_ANSWER) parts.push(part);
        else response.destroy();
      });
      const end = () => {
        clearTimeout(late);
        resolve({
          status: response.statusCode ?? 0,
          headers: response.headers,
          body: Buffer.concat(parts).toString('utf8'),
        });
      };
      response.once('end', end).once('close', end);
      response.once('error', () => {
        clearTimeout(late);
        reject(new CallError('after', `${url.host} hung up before it answered.`));
      });
    });
    asking.end(body);
  });
}
