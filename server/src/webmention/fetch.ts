import { CallError, call, type HttpResponse } from '../outlets/transport/call.js';
import type { Settings } from '../settings.js';

const MAX_REDIRECTS = 5;

/** Addresses within the house that may be asked: those that the settings name, and the blogs of this newsroom. */
export const allowedBy = ({
  privateOutlets,
  publicUrl,
}: Pick<Settings, 'privateOutlets' | 'publicUrl'>): string[] => [
  ...privateOutlets,
  new URL(publicUrl).origin,
];

/** A page and where it was found in the end. */
export interface Fetched extends HttpResponse {
  url: string;
}

/** Fetches a page of the open network, led on a few times; each step is looked at as the first one is. */
export async function fetchPage(address: string, allowed: readonly string[]): Promise<Fetched> {
  let url = address;
  for (let step = 0; step <= MAX_REDIRECTS; step++) {
    const answer = await call(url, { method: 'GET', headers: { accept: 'text/html, */*;q=0.1' } }, allowed);
    const to = answer.headers['location'];
    if (answer.status < 300 || answer.status > 399 || to === undefined) return { ...answer, url };
    if (!URL.canParse(to, url)) break;
    url = new URL(to, url).href;
  }
  throw new CallError('before', `${new URL(address).host} leads on and on.`);
}
