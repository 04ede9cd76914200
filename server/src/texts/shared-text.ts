import { randomUUID } from 'node:crypto';
import { createDecoder, readVarString, readVarUint } from 'lib0/decoding';
import { createEncoder, toUint8Array, writeVarUint, writeVarUint8Array, type Encoder } from 'lib0/encoding';
import {
  applyAwarenessUpdate,
  Awareness,
  encodeAwarenessUpdate,
  modifyAwarenessUpdate,
  removeAwarenessStates,
} from 'y-protocols/awareness';
import { writeSyncStep2, writeUpdate } from 'y-protocols/sync';
import * as Y from 'yjs';
import { TEXT_MESSAGES } from '@keyroster/contract';
import { hasBareBlocks, TEXT_FIELD } from '@keyroster/core/texts';
import { onlySuggests } from '../work/computing.js';
import type { KeptText } from './updates.js';

/** A document may be so large, in bytes: several times what the longest text needs. */
const MAX_DOCUMENT_BYTES = 48 * 1024 * 1024;

/** This process, among those that serve a text. */
export const PROCESS = randomUUID();

/** Somebody who has a text open, as seen from the text. */
export interface TextReader {
  readonly name: string;
  readonly personId: number;
  send(message: Uint8Array): void;
}

export function message(type: number, write: (to: Encoder) => void): Uint8Array {
  const to = createEncoder();
  writeVarUint(to, type);
  write(to);
  return toUint8Array(to);
}

/** The text of one post as this process holds it while somebody here has it open. */
export class SharedText {
  private readonly doc = new Y.Doc();
  private readonly awareness = new Awareness(this.doc);
  private readonly readers = new Map<TextReader, number | null>();
  /** Who writes through which client, as far as it was asked for here. */
  readonly owners = new Map<number, number>();
  /** Bytes of the document, or more. */
  private size = 0;
  /** Up to this update all are in here. */
  lastId: number;
  /** Updates after that which were let in here, and of which the database has not told yet. */
  private readonly own = new Set<number>();

  constructor(
    readonly postId: number,
    kept: KeptText,
    /** Who is where has changed here; other processes want to know. */
    private readonly onStates: (states: Uint8Array) => void,
  ) {
    this.lastId = -1;
    this.awareness.setLocalState(null);
    this.awareness.on('update', this.spread);
    this.merge(kept);
  }

  get isEmpty(): boolean {
    return this.readers.size === 0;
  }
  /** Is there an empty line that two people may not begin at once? See `fillText`. */
  get lacksTexts(): boolean {
    return hasBareBlocks([this.doc.getXmlFragment(TEXT_FIELD)]);
  }
  /** Everybody here. */
  get everybody(): readonly TextReader[] {
    return [...this.readers.keys()];
  }

  join(reader: TextReader): void {
    this.readers.set(reader, null);
    const known = [...this.awareness.getStates().keys()];
    if (known.length > 0) reader.send(this.statesOf(known));
  }

  leave(reader: TextReader): void {
    const client = this.readers.get(reader);
    this.readers.delete(reader);
    if (client) removeAwarenessStates(this.awareness, [client], reader);
  }

  close(): void {
    this.awareness.destroy();
    this.doc.destroy();
  }

  /** Answers with what the document holds beyond what the client has. */
  answerStep1(reader: TextReader, stateVector: Uint8Array): void {
    reader.send(message(TEXT_MESSAGES.sync, (to) => writeSyncStep2(to, this.doc, stateVector)));
  }

  /** Did anybody write through this client? */
  holds(client: number): boolean {
    return Y.getState(this.doc.store, client) > 0;
  }

  /** Whose caret this client has; names and numbers of people are put in by the server. */
  seenAs(client: number): number | null {
    const state = this.awareness.getStates().get(client) as { user?: { id?: number } } | undefined;
    return state?.user?.id ?? null;
  }

  /** Would this update do nothing but suggest, as this person? Tried on a copy. */
  suggestsOnly(content: Uint8Array, personId: number): Promise<boolean> {
    return onlySuggests(Y.encodeStateAsUpdate(this.doc), content, personId);
  }

  /** Takes in an update that was let in here and is kept. */
  letIn(content: Uint8Array, id: number, by: TextReader): void {
    // The database announced it before it answered: everybody here has it.
    if (id <= this.lastId) return;
    this.own.add(id);
    this.apply(content, by);
  }

  /** Was this update, of which the database tells, let in here? It tells of them in order. */
  isOwn(id: number): boolean {
    if (!this.own.delete(id)) return false;
    this.lastId = Math.max(this.lastId, id);
    return true;
  }

  /**
   * Is there room for this update? Everything that was ever typed leaves its mark in a document, and words that were
   * let in and taken out again are never too long for a post.
   */
  hasRoomFor(content: Uint8Array): boolean {
    if (this.size + content.length <= MAX_DOCUMENT_BYTES) return true;
    // Counted as they came; together they are less.
    this.size = Y.encodeStateAsUpdate(this.doc).length;
    return this.size + content.length <= MAX_DOCUMENT_BYTES;
  }

  /** Passes an update on to everybody here but who made it. */
  private apply(content: Uint8Array, by: TextReader | null): void {
    this.size += content.length;
    Y.applyUpdate(this.doc, content, by);
    const update = message(TEXT_MESSAGES.sync, (to) => writeUpdate(to, content));
    for (const reader of this.readers.keys()) if (reader !== by) reader.send(update);
  }

  /** Takes in what others let in meanwhile. */
  merge(kept: KeptText): void {
    if (kept.stateId > this.lastId) this.apply(kept.state, null);
    this.lastId = Math.max(this.lastId, kept.stateId);
    for (const { id, content } of kept.updates) {
      if (!this.own.has(id)) this.apply(content, null);
      this.lastId = Math.max(this.lastId, id);
    }
  }

  tell(told: Uint8Array): void {
    for (const reader of this.readers.keys()) reader.send(told);
  }

  /** Who is where, as a client says: of itself alone, and under the name that it came in with. */
  receiveStates(reader: TextReader, states: Uint8Array): void {
    const known = this.readers.get(reader);
    const client = onlyClientIn(states);
    if (client === null || (known !== null && known !== client)) return;
    if (known === null && this.awareness.meta.has(client) && this.awareness.states.has(client)) return;
    this.readers.set(reader, client);
    const user = { id: reader.personId, name: reader.name };
    const named = modifyAwarenessUpdate(states, (state: object | null) => state && { ...state, user });
    applyAwarenessUpdate(this.awareness, named, reader);
  }
  /** The same, as another process says. */
  mergeStates(states: Uint8Array): void {
    applyAwarenessUpdate(this.awareness, states, 'elsewhere');
  }
  /** Who is where in this process. */
  ownStates(): Uint8Array | null {
    const own = [...this.readers.values()].filter((c): c is number => c !== null);
    return own.length > 0 ? encodeAwarenessUpdate(this.awareness, own) : null;
  }

  private readonly spread = (
    { added, updated, removed }: Record<'added' | 'updated' | 'removed', number[]>,
    origin: unknown,
  ): void => {
    const clients = [...added, ...updated, ...removed];
    this.tell(this.statesOf(clients));
    if (origin !== 'elsewhere' && origin !== 'timeout')
      this.onStates(encodeAwarenessUpdate(this.awareness, clients));
  };

  private statesOf(clients: number[]): Uint8Array {
    const states = encodeAwarenessUpdate(this.awareness, clients);
    return message(TEXT_MESSAGES.awareness, (to) => writeVarUint8Array(to, states));
  }
}

/** The one client that states are of; null when they are of several, or are none. */
function onlyClientIn(states: Uint8Array): number | null {
  const from = createDecoder(states);
  if (readVarUint(from) !== 1) return null;
  const client = readVarUint(from);
  readVarUint(from);
  JSON.parse(readVarString(from));
  return client;
}
