import { createDecoder, readVarString, readVarUint, readVarUint8Array } from 'lib0/decoding';
import { createEncoder, toUint8Array, writeVarUint, writeVarUint8Array } from 'lib0/encoding';
import { Awareness, applyAwarenessUpdate, encodeAwarenessUpdate } from 'y-protocols/awareness';
import { readSyncMessage, writeSyncStep1, writeUpdate } from 'y-protocols/sync';
import { WebSocket } from 'ws';
import * as Y from 'yjs';
import { TEXT_MESSAGES, textPath } from '@keyroster/contract';
import { TEXT_FIELD, bodyOfShared } from '@keyroster/core/texts';
import { eventually } from './newsroom.js';

/** Somebody with a text open, as any program could: with a connection and a document of their own. */
export class Writer {
  readonly doc = new Y.Doc();
  readonly awareness = new Awareness(this.doc);
  readonly refusals: string[] = [];
  readonly notStored: string[] = [];
  /** What the last text that changed the post made of it. */
  stored: { version: number; words: number; stage: string } | null = null;
  /** So often the post was said to have the text already. */
  hadAlready = 0;
  storedUpTo = -1;
  kept = 0;
  keptId = 0;
  sent = 0;
  closed: number | null = null;
  private synced = false;

  private constructor(readonly socket: WebSocket) {
    socket.binaryType = 'nodebuffer';
    socket.on('open', () => this.send(TEXT_MESSAGES.sync, (to) => writeSyncStep1(to, this.doc)));
    socket.on('message', (data: Buffer) => this.receive(new Uint8Array(data)));
    socket.on('close', (code) => (this.closed = code));
    socket.on('error', () => undefined);
    this.doc.on('update', (update: Uint8Array, origin: unknown) => {
      if (origin === this) return;
      this.sent++;
      this.send(TEXT_MESSAGES.sync, (to) => writeUpdate(to, update));
    });
  }

  /** Opens a text; fails with the status of the answer when it is refused. */
  static async open(url: string, postId: number, cookie: string, headers: object = {}): Promise<Writer> {
    const socket = new WebSocket(url.replace('http', 'ws') + textPath(postId), {
      headers: { Cookie: cookie, ...headers },
    });
    const writer = new Writer(socket);
    await new Promise<void>((done, failed) => {
      socket.once('open', done);
      socket.once('unexpected-response', (_req, res) => failed(new Error(String(res.statusCode))));
      socket.once('error', failed);
    }).catch((error: unknown) => {
      writer.awareness.destroy();
      throw error;
    });
    await eventually(async () => writer.synced || writer.closed !== null);
    return writer;
  }

  get text(): string {
    const answer = bodyOfShared(this.doc);
    return answer.ok
      ? (JSON.stringify(answer.body)
          .match(/(?<="text":")[^"]*/g)
          ?.join('|') ?? '')
      : answer.sentence;
  }
  block(index: number): Y.XmlText {
    const block = this.doc.getXmlFragment(TEXT_FIELD).get(index) as Y.XmlElement;
    if (block.length === 0) block.insert(0, [new Y.XmlText()]);
    return block.get(0) as Y.XmlText;
  }
  /** Types words into a block, at a place or at its end. */
  type(words: string, index = 0, at?: number): void {
    this.doc.transact(() => {
      const text = this.block(index);
      text.insert(Math.min(at ?? text.length, text.length), words);
    });
  }
  isKept = async (): Promise<boolean> => this.kept >= this.sent;
  /** Has the post taken in all that was typed here? */
  isStored = async (): Promise<boolean> => this.kept >= this.sent && this.storedUpTo >= this.keptId;

  /** Asks for what was typed to be stored at once. */
  store(): void {
    this.send(TEXT_MESSAGES.store, () => undefined);
  }
  /** Sends an update that is not of one's own document. */
  update(update: Uint8Array): void {
    this.send(TEXT_MESSAGES.sync, (to) => writeUpdate(to, update));
  }
  raw(bytes: Uint8Array): void {
    this.socket.send(bytes);
  }
  here(state: object): void {
    this.awareness.setLocalState(state);
    const states = encodeAwarenessUpdate(this.awareness, [this.doc.clientID]);
    this.send(TEXT_MESSAGES.awareness, (to) => writeVarUint8Array(to, states));
  }
  names(): string[] {
    return [...this.awareness.getStates().values()].flatMap(
      (s) => (s as { user?: { name: string } }).user?.name ?? [],
    );
  }
  close(): void {
    this.awareness.destroy();
    this.socket.close();
  }

  private send(kind: number, write: (to: ReturnType<typeof createEncoder>) => void): void {
    const to = createEncoder();
    writeVarUint(to, kind);
    write(to);
    if (this.socket.readyState === WebSocket.OPEN) this.socket.send(toUint8Array(to));
  }

  private receive(data: Uint8Array): void {
    const from = createDecoder(data);
    const kind = readVarUint(from);
    if (kind === TEXT_MESSAGES.sync) {
      readSyncMessage(from, createEncoder(), this.doc, this);
      this.synced = true;
    } else if (kind === TEXT_MESSAGES.awareness)
      applyAwarenessUpdate(this.awareness, readVarUint8Array(from), this);
    else if (kind === TEXT_MESSAGES.kept) {
      this.kept += readVarUint(from);
      this.keptId = readVarUint(from);
    } else if (kind === TEXT_MESSAGES.refused) this.refusals.push(readVarString(from));
    else if (kind === TEXT_MESSAGES.notStored) this.notStored.push(readVarString(from));
    else if (kind === TEXT_MESSAGES.stored) {
      this.storedUpTo = readVarUint(from);
      const stored = { version: readVarUint(from), words: readVarUint(from), stage: readVarString(from) };
      if (stored.version > 0) this.stored = stored;
      else this.hadAlready++;
    }
  }
}
