import { createHmac } from 'node:crypto';
import { call } from './call.js';
import { errorOutcome, outcomeOf, type Transport } from './transport.js';

/**
 * Signs as the open specification Standard Webhooks 1.0 says: HMAC-SHA-256 over `id.timestamp.body`, in
 * Base64.
 */
export function signature(secret: string, id: string, timestamp: number, body: string): string {
  const key = secret.startsWith('whsec_')
    ? Buffer.from(secret.slice(6), 'base64')
    : Buffer.from(secret, 'utf8');
  return `v1,${createHmac('sha256', key).update(`${id}.${timestamp}.${body}`).digest('base64')}`;
}

/**
 * Sends a piece as a signed webhook. The key is its `webhook-id`, which the specification makes the receiver
 * know again. Pictures go within, as data addresses.
 */
export const webhookTransport: Transport = async (to, parcel) => {
  const timestamp = Math.floor(Date.now() / 1000);
  const body = JSON.stringify({
    type: 'piece.published',
    timestamp: new Date(timestamp * 1000).toISOString(),
    data: {
      title: parcel.subject,
      text: parcel.parts.join('\n\n'),
      tags: parcel.tags.map((t) => t.replace(/^#/, '')),
      url: parcel.url,
      pictures: parcel.pictures.map((p) => ({
        url: `data:${p.type};base64,${p.bytes.toString('base64')}`,
        alt: p.alt,
      })),
    },
  });
  const headers = {
    'content-type': 'application/json',
    'webhook-id': parcel.key,
    'webhook-timestamp': String(timestamp),
    'webhook-signature': signature(to.credentials.token ?? '', parcel.key, timestamp, body),
  };
  const answer = await call(to.address, { method: 'POST', headers, body }, to.allowed).catch(errorOutcome);
  if ('outcome' in answer) return answer;
  if (answer.status < 200 || answer.status >= 300) return outcomeOf(to.name, answer);
  let url = '';
  try {
    const said: unknown = (JSON.parse(answer.body) as { url?: unknown }).url;
    if (typeof said === 'string' && /^https?:\/\//.test(said)) url = said.slice(0, 2000);
  } catch {
    /* The specification asks for a status only; an address is a courtesy. */
  }
  return { outcome: 'sent', url, sentence: 'It was taken.' };
};
