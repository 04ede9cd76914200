import type { OutletCredentials, OutletSettings } from '@keyroster/contract';
import type { OutletProtocol } from '@keyroster/core';
import { type HttpResponse, CallError } from './call.js';

/** A piece ready to go. */
export interface Message {
  /** What the outlet can know it again by; part after part has one of its own, made from it. */
  key: string;
  subject: string;
  parts: readonly string[];
  tags: readonly string[];
  /** Where readers find the post; '' when there is no link in the piece. */
  url: string;
  pictures: readonly { bytes: Buffer; type: string; alt: string; name: string }[];
  blog: string;
}

export interface Destination {
  name: string;
  protocol: OutletProtocol;
  address: string;
  settings: OutletSettings;
  credentials: OutletCredentials;
  /** Origins, and `host:port` of mail servers, that may be in a private network. */
  allowed: readonly string[];
  /** Where its feed is, without the ending that says the format. */
  feed: string;
  /** How long a mail server may be silent, in milliseconds; the transport's own limit where missing. */
  patienceMs?: number;
}

/** What is done already, kept after each step, so that a thread goes on where it stopped. */
export interface Steps {
  /** Addresses of the parts that are out; '' where a person only knows that it is there. */
  parts?: string[];
  /** Addresses of the pictures that the outlet has taken. */
  pictures?: string[];
  /** The feed holds it; its hub is told next. */
  inFeed?: boolean;
}
export type KeepSteps = (steps: Steps) => Promise<void>;

/**
 * What came of it. `again`: nothing arrived, and it is worth trying later; `no`: the outlet will not have it,
 * a person must look; `unsure`: it may have arrived.
 */
export type Outcome =
  | { outcome: 'sent'; url: string; sentence: string }
  | { outcome: 'again' | 'no' | 'unsure'; sentence: string; afterSeconds?: number };

/** One of our four ways to speak to outlets. */
export type Transport = (to: Destination, parcel: Message, steps: Steps, keep: KeepSteps) => Promise<Outcome>;

/** What an answer that is not a success means. */
export function outcomeOf(name: string, { status, headers, body }: HttpResponse): Outcome {
  const said = saidIn(body);
  if (status === 429)
    return {
      outcome: 'again',
      afterSeconds: Math.min(3600, Math.max(1, Number(headers['retry-after']) || 60)),
      sentence: `${name} asks for a slower pace.`,
    };
  // Only who says when to come again says that nothing arrived; any other failure may have come after it did.
  if (status === 503 && headers['retry-after'] !== undefined)
    return {
      outcome: 'again',
      afterSeconds: Math.min(3600, Math.max(1, Number(headers['retry-after']) || 60)),
      sentence: `${name} is out of order (503) and asks to be asked later.`,
    };
  if (status >= 500)
    return {
      outcome: 'unsure',
      sentence: `${name} is out of order (${status}); whether it took the piece is not known.`,
    };
  if (status === 401 || status === 403)
    return { outcome: 'no', sentence: `${name} does not accept the credentials (${status}).` };
  if (status >= 300 && status < 400)
    return {
      outcome: 'no',
      sentence:
        `${name} leads elsewhere, to ${(headers.location ?? 'nowhere').slice(0, 200)}. That ` +
        'is not followed; correct the outlet’s address if it moved.',
    };
  return { outcome: 'no', sentence: `${name} refused it (${status})${said ? `: ${said}` : '.'}` };
}

function saidIn(body: string): string {
  try {
    const { error_description: described, error } = JSON.parse(body) as {
      error_description?: unknown;
      error?: unknown;
    };
    return String(described ?? error ?? '').slice(0, 300);
  } catch {
    return '';
  }
}

/** A fault on the way, as an outcome. */
export function errorOutcome(error: unknown): Outcome {
  if (!(error instanceof CallError)) throw error;
  return {
    outcome:
      error.when === 'before'
        ? /private network|no web address|begin with http/.test(error.message)
          ? 'no'
          : 'again'
        : 'unsure',
    sentence: error.message,
  };
}
