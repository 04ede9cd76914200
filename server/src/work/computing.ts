import {
  type BodyNode,
  type CardAsk,
  type Check,
  type CheckFacts,
  type CheckSettings,
  type MakeAnswer,
  type Rewritten,
} from '@keyroster/core';
import type { DocxAsk } from '../documents/write-docx.js';
import { WorkPool } from './pool.js';
import * as tasks from './tasks.js';

/** Shorter texts cost less than carrying them to another thread. */
const LONG = 20_000;
/** The same for what nobody waits for, or what takes longer: there a thread may be started for it first. */
const LONG_LATER = 2_000;

const computing = new WorkPool({
  threads: 2,
  waiting: 200,
  megabytes: 512,
  ms: 60_000,
  tooMuch: 'That text is longer than we can work through.',
  tooLong: 'Working through that text took too long and was stopped. Please try again in a moment.',
});

/** A measure of one text may take so long; two that took the whole minute would hold up all cards and checks. */
const MEASURE_MS = 10_000;

/** About how long a body is, without walking through more of it than tells. */
function isLong(node: unknown, from = LONG): boolean {
  let left = from;
  const visit = (value: unknown): boolean => {
    if (typeof value === 'string') left -= value.length;
    else if (typeof value === 'object' && value !== null) {
      left -= 8;
      for (const part of Object.values(value)) if (visit(part)) return true;
    }
    return left < 0;
  };
  return visit(node);
}

type TextAnswer = ReturnType<typeof tasks.text>;
export type Likeness = NonNullable<ReturnType<typeof tasks.likeness>>;

/** A text against the schema with its words counted; long ones in another thread. */
export const checkText = async (body: unknown): Promise<TextAnswer> =>
  isLong(body) ? computing.run<TextAnswer>('text', body) : tasks.text(body);

const LONG_STATE = 60_000;
const areLong = (updates: readonly Uint8Array[]) => updates.reduce((n, u) => n + u.length, 0) > LONG_STATE;

/** Somebody waits for the text to open: of 10,000 words it is made in 10 ms, and starting a thread takes a second. */
const LONG_TO_BEGIN = 100_000;

export const sharedTextOf = async (body: BodyNode): Promise<Uint8Array> =>
  isLong(body, LONG_TO_BEGIN) ? computing.run<Uint8Array>('sharedText', body) : tasks.sharedText(body);

export const joinedText = async (updates: readonly Uint8Array[]): Promise<ReturnType<typeof tasks.joined>> =>
  areLong(updates) ? computing.run('joined', updates) : tasks.joined(updates);

export const sharedChangeOf = async (
  updates: readonly Uint8Array[],
  body: BodyNode,
): Promise<Uint8Array | null> =>
  areLong(updates)
    ? computing.run<Uint8Array | null>('sharedChange', { updates, body })
    : tasks.sharedChange({ updates, body });

export const onlySuggests = async (
  state: Uint8Array,
  update: Uint8Array,
  personId: number,
): Promise<boolean> =>
  areLong([state, update])
    ? computing.run<boolean>('onlySuggests', { state, update, personId })
    : tasks.onlySuggests({ state, update, personId });

export const likenessOf = async (body: BodyNode): Promise<Likeness | null> =>
  isLong(body, LONG_LATER)
    ? computing.run<Likeness | null>('likeness', body, { ms: MEASURE_MS })
    : tasks.likeness(body);

export const sharesOf = async (text: string, others: readonly string[]): Promise<number[]> =>
  isLong([text, ...others], LONG_LATER)
    ? computing.run<number[]>('shares', { text, others })
    : tasks.shares({ text, others });

export const checksOf = async (facts: CheckFacts, settings: CheckSettings): Promise<Check[]> =>
  isLong(facts.body, LONG_LATER)
    ? computing.run<Check[]>('checks', { facts, settings }, { ms: MEASURE_MS })
    : tasks.checks({ facts, settings });

/** A body in sentences and pictures, as pieces are built from it. */
export const sourceFrom = async (body: BodyNode): Promise<tasks.TextSource> =>
  isLong(body, LONG_LATER) ? computing.run<tasks.TextSource>('source', body) : tasks.source(body);

/** See the task. */
export const piecesOf = async (
  post: tasks.PostToMakeOf,
  asks: readonly tasks.PieceToMake[],
): Promise<MakeAnswer[]> =>
  isLong([post.body, asks], LONG_LATER)
    ? computing.run<MakeAnswer[]>('pieces', { post, asks })
    : tasks.pieces({ post, asks });

/** See the task. */
export const sentencesIn = async (post: tasks.PostToMakeOf): Promise<ReturnType<typeof tasks.sentences>> =>
  isLong(post.body, LONG_LATER) ? computing.run('sentences', post) : tasks.sentences(post);

export const stemsOfPost = async (title: string, body: BodyNode, max: number): Promise<string[]> =>
  isLong(body, LONG_LATER)
    ? computing.run<string[]>('stems', { title, body, max })
    : tasks.stems({ title, body, max });

export const phrasesOfPost = async (ask: tasks.PhrasesAsk): Promise<string[]> =>
  isLong(ask.body, LONG_LATER) ? computing.run<string[]>('phrases', ask) : tasks.phrases(ask);

/** The terms of posts, by which they are compared. */
export const termsOfPosts = async (of: readonly tasks.TermsOf[]): Promise<Map<string, number>[]> =>
  isLong(of, LONG_LATER) ? computing.run<Map<string, number>[]>('terms', of) : tasks.terms(of);

/** A card as PNG; always in another thread, since setting its words and packing its pixels both take long. */
export const cardOf = async (ask: CardAsk): Promise<Buffer> =>
  Buffer.from(await computing.run<Uint8Array>('card', ask));

/** A post as a Word document; always in another thread, since packing it takes long. */
export const docxOf = async (ask: DocxAsk): Promise<Buffer> =>
  Buffer.from(await computing.run<Uint8Array>('wordFile', ask));

export type { PieceToMake, PostToMakeOf, ReplaceChange } from './tasks.js';
/** See the task; always in another thread, since a pattern may take its time over a short text, too. */
export const rewritesOf = (
  changes: readonly tasks.ReplaceChange[],
  bodies: readonly BodyNode[],
): Promise<Rewritten[][]> => computing.run<Rewritten[][]>('rewrites', { changes, bodies });

export const closeComputing = (): Promise<void> => computing.close();
