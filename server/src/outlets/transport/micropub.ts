import { call } from './call.js';
import {
  errorOutcome,
  outcomeOf,
  type Destination,
  type Outcome,
  type Message,
  type Transport,
} from './transport.js';

const bearer = (to: Destination) => ({ authorization: `Bearer ${to.credentials.token ?? ''}` });

interface Config {
  'media-endpoint'?: string;
}

/** What the outlet says of itself (Micropub, section 3.7.1), or why it could not be asked. */
export async function fetchConfig(to: Destination): Promise<{ config: Config } | { error: Outcome }> {
  const url = new URL(to.address);
  url.searchParams.set('q', 'config');
  const answer = await call(url.href, { method: 'GET', headers: bearer(to) }, to.allowed).catch(errorOutcome);
  if ('outcome' in answer) return { error: answer };
  if (answer.status !== 200) return { error: outcomeOf(to.name, answer) };
  try {
    const config = JSON.parse(answer.body) as Config;
    if (typeof config !== 'object' || config === null) throw new Error('not an object');
    return { config };
  } catch {
    return { error: { outcome: 'no', sentence: `${to.name} answered something that is not Micropub.` } };
  }
}

/**
 * Hands a picture to the media endpoint (Micropub, section 3.6). A picture handed in twice is only a picture
 * too many, never a piece.
 */
async function createEntry(
  to: Destination,
  endpoint: string,
  { bytes, type, name }: Message['pictures'][number],
): Promise<{ url: string } | { error: Outcome }> {
  const { FormData } = await import('undici');
  const form = new FormData();
  form.append('file', new Blob([Uint8Array.from(bytes)], { type }), name);
  const answer = await call(
    endpoint,
    {
      method: 'POST',
      headers: bearer(to),
      body: form,
      timeoutMs: 20_000,
    },
    to.allowed,
  ).catch(errorOutcome);
  if ('outcome' in answer)
    return {
      error: { ...answer, outcome: answer.outcome === 'unsure' ? 'again' : answer.outcome } as Outcome,
    };
  if (answer.status !== 201 || !answer.headers.location)
    return {
      error:
        answer.status === 201
          ? { outcome: 'no', sentence: `${to.name} took a picture and did not say where it is.` }
          : outcomeOf(to.name, answer),
    };
  return { url: new URL(answer.headers.location, endpoint).href };
}

/**
 * Posts by Micropub (W3C Recommendation, 2017): JSON entries, pictures by the media endpoint, a thread as
 * entries that answer each other.
 * Each part carries an Idempotency-Key of its own (draft-ietf-httpapi-idempotency-key-header), by which an
 * outlet that knows keys knows it again.
 */
export const micropubTransport: Transport = async (to, parcel, steps, keep) => {
  const pictures = steps.pictures ?? [];
  if (parcel.pictures.length > pictures.length) {
    const asked = await fetchConfig(to);
    if ('error' in asked)
      return asked.error.outcome === 'unsure' ? { ...asked.error, outcome: 'again' } : asked.error;
    const endpoint = asked.config['media-endpoint'];
    if (!endpoint) return { outcome: 'no', sentence: `${to.name} takes no pictures.` };
    for (const picture of parcel.pictures.slice(pictures.length)) {
      const created = await createEntry(to, endpoint, picture);
      if ('error' in created) return created.error;
      pictures.push(created.url);
      await keep({ ...steps, pictures });
    }
  }
  const photo = parcel.pictures.map((p, i) => ({ value: pictures[i]!, alt: p.alt }));
  // A gallery is one entry with several pictures; a thread is several entries.
  const texts = parcel.parts;
  const urls = steps.parts ?? [];
  for (const [i, text] of texts.entries()) {
    if (i < urls.length) continue;
    // A part whose address nobody knows cannot be answered; the one before it is.
    const answered = urls.slice(0, i).filter(Boolean).at(-1);
    const properties: Record<string, unknown[]> = {
      content: [text],
      ...(i === 0 && parcel.subject ? { name: [parcel.subject] } : {}),
      ...(i === 0 && parcel.tags.length > 0 ? { category: parcel.tags.map((t) => t.replace(/^#/, '')) } : {}),
      ...(i === 0 && photo.length > 0 ? { photo } : {}),
      ...(answered ? { 'in-reply-to': [answered] } : {}),
    };
    const answer = await call(
      to.address,
      {
        method: 'POST',
        headers: {
          ...bearer(to),
          'content-type': 'application/json',
          'idempotency-key': `"${parcel.key}-${i + 1}"`,
        },
        body: JSON.stringify({ type: ['h-entry'], properties }),
      },
      to.allowed,
    ).catch(errorOutcome);
    if ('outcome' in answer) return answer;
    if ((answer.status === 201 || answer.status === 202) && answer.headers.location)
      urls.push(new URL(answer.headers.location, to.address).href);
    else if (answer.status >= 200 && answer.status < 300)
      return {
        outcome: 'unsure',
        sentence:
          `${to.name} answered something that is not Micropub (${answer.status}, and no ` +
          'address of what it made).',
      };
    else return outcomeOf(to.name, answer);
    await keep({ ...steps, pictures, parts: urls });
  }
  return {
    outcome: 'sent',
    url: urls.find(Boolean) ?? '',
    sentence: texts.length > 1 ? `${texts.length} parts are out.` : 'It is out.',
  };
};
