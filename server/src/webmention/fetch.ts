import { CallError, call, type HttpResponse } from '../outlets/transport/call.js';
import type { Settings } from '../settings.js';

const MAX_REDIRECTS = 5;

export type MentionSettings = Pick<Settings, 'privateMentions' | 'publicUrl'>;

/**
 * Origins in private networks that may be called for a mention. Anybody can send one, so what is allowed for outlets
 * does not count: only the newsroom's own blogs, and what PRIVATE_MENTIONS names.
 */
export const allowedBy = ({ privateMentions, publicUrl }: MentionSettings): string[] => [
  ...privateMentions,
  new URL(publicUrl).origin,
];

/** What a mention may be in (W3C Recommendation Webmention, section 3.2.2). */
const ACCEPTED = 'text/html, text/plain;q=0.5, application/json;q=0.5, */*;q=0.1';

/** A page and where it was found in the end. */
export interface Fetched extends HttpResponse {
  url: string;
}

/** Fetches a page of the open network, led on a few times; each step is looked at as the first one is. */
export async function fetchPage(address: string, allowed: readonly string[]): Promise<Fetched> {
  let url = address;
  for (let step = 0; step <= MAX_REDIRECTS; step++) {
    const answer = await call(url, { method: 'GET', headers: { accept: ACCEPTED } }, allowed);
    const to = answer.headers['location'];
    if (answer.status < 300 || answer.status > 399 || to === undefined) return { ...answer, url };
    if (!URL.canParse(to, url)) break;
    url = new URL(to, url).href;
  }
  throw new CallError('before', `${new URL(address).host} leads on and on.`);
}
