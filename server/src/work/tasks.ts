import type { DocxAsk } from '../documents/write-docx.js';
import type { MessagePort } from 'node:worker_threads';
import type { AddressReport } from '../documents/address-list.js';
import {
  asItWas,
  bodyText,
  bodyWords,
  checkBody,
  checkPost,
  finderOf,
  jaccard,
  keyPhrases,
  makePiece,
  RankedSource,
  rewrite,
  runningText,
  sentenceStems,
  shingles,
  signature,
  sourceOf,
  suggestsOnly,
  termsOf,
  type BodyAnswer,
  type BatchChange,
  type BodyNode,
  type CardAsk,
  type Check,
  type CheckFacts,
  type CheckSettings,
  type MakeAnswer,
  type PieceAsk,
  type PostText,
  type Rewritten,
  type Source,
} from '@keyroster/core';
import { bodyOfShared, changeShared, rawBody, sharedFrom, sharedOf } from '@keyroster/core/texts';
import { encodeStateAsUpdate } from 'yjs';
import type { ProblemCode } from '@keyroster/contract';
import { ProblemError } from '../http/problem.js';
import type { ReadText } from '../documents/read-text.js';

/** Errors do not cross between threads whole; what people are told does. */
export type Answer<T> = { ok: true; value: T } | { ok: false; code: ProblemCode; sentence: string };

export async function document({
  bytes,
  name,
}: {
  bytes: Uint8Array;
  name: string;
}): Promise<Answer<ReadText>> {
  try {
    // In the thread that reads documents, and in no other.
    const { readDocument } = await import('../documents/read-document.js');
    return { ok: true, value: await readDocument(bytes, name) };
  } catch (error) {
    if (error instanceof ProblemError) return { ok: false, code: error.code, sentence: error.message };
    if (error instanceof RangeError)
      return {
        ok: false,
        code: 'too-large',
        sentence: `“${name}” is nested more deeply than anything a person writes.`,
      };
    throw error;
  }
}

/** Addresses of a file, into a port a chunk at a time. */
export async function addresses({
  bytes,
  port,
}: {
  bytes: Uint8Array;
  port: MessagePort;
}): Promise<Answer<AddressReport>> {
  try {
    const { readAddressesInto } = await import('../documents/address-list.js');
    return { ok: true, value: await readAddressesInto(bytes, port) };
  } catch (error) {
    if (error instanceof ProblemError) return { ok: false, code: error.code, sentence: error.message };
    throw error;
  }
}

/** A text against the schema, with its words counted, but for those that are only suggested. */
export function text(body: unknown): { answer: BodyAnswer; words: number } {
  const answer = checkBody(body);
  return { answer, words: answer.ok ? bodyWords(asItWas(answer.body)) : 0 };
}

/** The shared document of a text, as one update. */
export const sharedText = (body: BodyNode): Uint8Array => sharedFrom(body);

/** The text that updates make, with its words, and all of them as one update. */
export function joined(updates: readonly Uint8Array[]): {
  answer: BodyAnswer;
  words: number;
  state: Uint8Array;
} {
  const doc = sharedOf(updates);
  const answer = bodyOfShared(doc);
  return { answer, words: answer.ok ? bodyWords(asItWas(answer.body)) : 0, state: encodeStateAsUpdate(doc) };
}

/** The update that makes another text of a shared one; null when it is that already. */
export const sharedChange = ({
  updates,
  body,
}: {
  updates: readonly Uint8Array[];
  body: BodyNode;
}): Uint8Array | null => changeShared(sharedOf(updates), body);

/** The text that a document holds, and how many blocks of it fit none; null when none do. */
function textIn(updates: readonly Uint8Array[]): { body: BodyNode; unfit: number } | null {
  const doc = sharedOf(updates);
  const answer = bodyOfShared(doc);
  if (!answer.ok) return null;
  const [all, fit] = [rawBody(doc).content?.length ?? 0, answer.body.content?.length ?? 0];
  return { body: answer.body, unfit: Math.max(0, all - fit) };
}

/** Does an update do nothing to a shared text but suggest, as this person? */
export function onlySuggests({
  state,
  update,
  personId,
}: {
  state: Uint8Array;
  update: Uint8Array;
  personId: number;
}): boolean {
  const [before, after] = [textIn([state]), textIn([state, update])];
  // What fits no text is not shown to anybody, and not let in either.
  return (
    before !== null &&
    after !== null &&
    after.unfit === before.unfit &&
    suggestsOnly(before.body, after.body, personId)
  );
}

/** What finds alike texts: the plain text with its signature; null when it has too few words for one. */
export function likeness(body: BodyNode): { text: string; values: number[] } | null {
  const plain = bodyText(body);
  const set = shingles(plain);
  if (set.size === 0) return null;
  // Signed, as databases keep integers.
  return { text: plain, values: [...new Int32Array(signature(set))] };
}

/** How alike each of some texts is to one. */
export function shares({ text: own, others }: { text: string; others: readonly string[] }): number[] {
  const set = shingles(own);
  return others.map((other) => jaccard(set, shingles(other)));
}

export const checks = ({ facts, settings }: { facts: CheckFacts; settings: CheckSettings }): Check[] =>
  checkPost(facts, settings);

export const source = (body: BodyNode): TextSource => sourceOf(body);

/** A post as pieces are made of it: what is said about it, and its text. */
export interface PostToMakeOf {
  about: Omit<Source, keyof TextSource>;
  body: BodyNode;
}
/** A piece to be made, a digest's other posts as they are. */
export type PieceToMake = Omit<PieceAsk, 'others'> & { others: readonly PostToMakeOf[] };

const rankedOf = ({ about, body }: PostToMakeOf): RankedSource =>
  new RankedSource({ ...about, ...sourceOf(body) });

/** Pieces of one post, which is taken apart and ranked once. */
export function pieces({ post, asks }: { post: PostToMakeOf; asks: readonly PieceToMake[] }): MakeAnswer[] {
  const ranked = rankedOf(post);
  return asks.map((ask) => makePiece(ranked, { ...ask, others: ask.others.map(rankedOf) }));
}

/** The sentences of a post with which of them pieces can be made of, by index. */
export function sentences(post: PostToMakeOf): PostText & { usable: number[] } {
  const { source: whole, ranked } = rankedOf(post);
  return { title: whole.title, sentences: whole.sentences, usable: ranked.map((r) => r.at) };
}

/** The stems that come most often in a post, to be weighed against the archive. */
export function stems({ title, body, max }: { title: string; body: BodyNode; max: number }): string[] {
  const times = new Map<string, number>();
  for (const part of [title, ...runningText(body)])
    for (const stem of sentenceStems(part)) times.set(stem, (times.get(stem) ?? 0) + 1);
  return [...times]
    .sort((a, b) => b[1] - a[1])
    .slice(0, max)
    .map(([stem]) => stem);
}

/** How often each term comes in posts, by which they are compared. */
export const terms = (of: readonly TermsOf[]): Map<string, number>[] =>
  of.map(({ text: excerpt, body, names }) => termsOf({ text: `${excerpt}\n${bodyText(body)}`, names }));
export interface TermsOf {
  text: string;
  body: BodyNode;
  names: string[];
}

/** A card as PNG. What draws is loaded once something is drawn. */
export const card = async (ask: CardAsk): Promise<Uint8Array> => (await import('./draw.js')).cardPng(ask);

/** A post as a Word document. What writes them is loaded once one is asked for. */
export const wordFile = async (ask: DocxAsk): Promise<Uint8Array> =>
  (await import('../documents/write-docx.js')).writeDocx(ask);

export const phrases = ({ title, body, archive, max }: PhrasesAsk): string[] =>
  keyPhrases(title, runningText(body), archive, max).map((p) => p.text);

export type ReplaceChange = Extract<BatchChange, { kind: 'replace' }>;

/** What replacements make of texts: of each text, one after the other, until one is refused. */
export function rewrites({ changes, bodies }: RewritesAsk): Rewritten[][] {
  const finders = changes.map((change) => {
    const answer = finderOf(change);
    if (!answer.ok) throw new Error(answer.sentence);
    return answer.find;
  });
  return bodies.map((body) => {
    const steps: Rewritten[] = [];
    let now = body;
    for (const find of finders) {
      const step = rewrite(now, find);
      steps.push(step);
      if (step.state === 'refused') break;
      if (step.state === 'changed') now = step.body;
    }
    return steps;
  });
}

export interface RewritesAsk {
  changes: readonly ReplaceChange[];
  bodies: readonly BodyNode[];
}
export interface PhrasesAsk {
  title: string;
  body: BodyNode;
  archive: Parameters<typeof keyPhrases>[2];
  max: number;
}
export type TextSource = ReturnType<typeof sourceOf>;
