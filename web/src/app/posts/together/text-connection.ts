import { createDecoder, readVarString, readVarUint, readVarUint8Array } from 'lib0/decoding';
import { createEncoder, toUint8Array, writeVarUint, writeVarUint8Array, type Encoder } from 'lib0/encoding';
import { BehaviorSubject, Subject } from 'rxjs';
import { applyAwarenessUpdate, Awareness, encodeAwarenessUpdate } from 'y-protocols/awareness';
import { messageYjsSyncStep2, messageYjsUpdate, writeSyncStep1, writeUpdate } from 'y-protocols/sync';
import { applyUpdate, Doc, mergeUpdates, type Transaction } from 'yjs';
import { TEXT_CLOSED, TEXT_MESSAGES } from '@keyroster/contract';
import { fillEmptyBlocks } from '@keyroster/core/texts';

/** Who is in a text, and where; the server puts the name. */
export interface TextPerson {
  id: number;
  name: string;
}

/** The post has taken the text in. */
export interface TextStored {
  version: number;
  words: number;
  stage: string;
}

/** Comes back after so long, at first and at most, in ms. */
const RETRY_MS = 250;
const MAX_RETRY_MS = 4000;
/** A connection that answers nothing for so long is given up. */
const PATIENCE_MS = 8000;

/**
 * One text as it is open here: a document, and a connection that carries what is typed to the server and what others
 * type to here. It comes back by itself when it breaks; what was not answered goes out again.
 */
export class TextConnection {
  readonly doc = new Doc();
  readonly awareness = new Awareness(this.doc);
  readonly state = new BehaviorSubject<'joining' | 'here' | 'away' | 'closed'>('joining');
  /** What of one's own is on its way: false when the post has all of it. */
  readonly unsaved = new BehaviorSubject(false);
  /** Told right before what others wrote is put into the document. */
  readonly arriving = new Subject<void>();
  readonly stored = new Subject<TextStored>();
  readonly notStored = new Subject<string>();
  /** Something of one's own was refused: the document here is no longer the one there. */
  readonly refused = new Subject<string>();
  /** The server showed us out: the session ended, or the post is not to be seen any more. */
  readonly shownOut = new Subject<void>();
  /** Others, without oneself; one who has the text open twice is there once. */
  readonly people = new BehaviorSubject<readonly TextPerson[]>([]);

  private socket: WebSocket | null = null;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private patience: ReturnType<typeof setTimeout> | undefined;
  private tries = 0;
  /** One's own updates that the server has not answered, in order. */
  private own: Uint8Array[] = [];
  private keptId = 0;
  private storedId = 0;

  constructor(
    private readonly url: string,
    private readonly mayWrite: () => boolean,
    /** Keeps on this device what is not answered yet; null when nothing is. */
    private readonly keep: (update: Uint8Array | null) => void,
  ) {
    this.awareness.on('update', this.moved);
    this.doc.on('afterTransaction', this.fill);
    window.addEventListener('online', this.comeBack);
    window.addEventListener('offline', this.goAway);
    this.connect();
  }

  /** Takes up what was typed before, on this device, and never reached the server. */
  resume(update: Uint8Array): void {
    applyUpdate(this.doc, update, 'kept');
  }

  /** What is not answered yet, as one update. */
  unanswered(): Uint8Array | null {
    if (this.own.length > 1) this.own = [mergeUpdates(this.own)];
    return this.own[0] ?? null;
  }

  /** Has the post take in at once what was typed. */
  store(): void {
    this.send(TEXT_MESSAGES.store, () => undefined);
  }

  close(): void {
    this.state.next('closed');
    window.removeEventListener('online', this.comeBack);
    window.removeEventListener('offline', this.goAway);
    clearTimeout(this.retry);
    clearTimeout(this.patience);
    this.awareness.destroy();
    this.socket?.close();
    this.socket = null;
  }

  private connect(): void {
    if (this.state.value === 'closed' || this.socket || !navigator.onLine) return;
    const socket = new WebSocket(this.url);
    this.socket = socket;
    socket.binaryType = 'arraybuffer';
    socket.addEventListener('open', () => {
      this.send(TEXT_MESSAGES.sync, (to) => writeSyncStep1(to, this.doc));
      this.await();
    });
    socket.addEventListener('message', ({ data }: MessageEvent<ArrayBuffer>) => {
      if (this.socket === socket) this.receive(new Uint8Array(data));
    });
    socket.addEventListener('close', ({ code }) => this.lost(socket, code));
  }

  private lost(socket: WebSocket, code: number): void {
    if (this.socket !== socket || this.state.value === 'closed') return;
    this.socket = null;
    clearTimeout(this.patience);
    if (code === TEXT_CLOSED.garbage)
      return this.refused.next('The server could not read what was typed here.');
    this.state.next('away');
    if (code === TEXT_CLOSED.notYours) this.shownOut.next();
    const wait = Math.min(MAX_RETRY_MS, RETRY_MS * 2 ** this.tries++) * (0.75 + Math.random() / 2);
    clearTimeout(this.retry);
    this.retry = setTimeout(() => this.connect(), wait);
  }

  private readonly comeBack = (): void => {
    clearTimeout(this.retry);
    this.tries = 0;
    this.connect();
  };
  private readonly goAway = (): void => {
    const { socket } = this;
    if (!socket) return;
    socket.close();
    this.lost(socket, 0);
  };

  private receive(data: Uint8Array): void {
    const from = createDecoder(data);
    const kind = readVarUint(from);
    clearTimeout(this.patience);
    if (kind === TEXT_MESSAGES.sync) {
      const step = readVarUint(from);
      if (step !== messageYjsSyncStep2 && step !== messageYjsUpdate) return;
      this.arriving.next();
      applyUpdate(this.doc, readVarUint8Array(from), this);
      if (step === messageYjsSyncStep2) this.joined();
    } else if (kind === TEXT_MESSAGES.awareness)
      applyAwarenessUpdate(this.awareness, readVarUint8Array(from), this);
    else if (kind === TEXT_MESSAGES.kept) {
      this.own.splice(0, readVarUint(from));
      this.keptId = readVarUint(from);
      this.changed();
    } else if (kind === TEXT_MESSAGES.stored) {
      this.storedId = readVarUint(from);
      this.stored.next({ version: readVarUint(from), words: readVarUint(from), stage: readVarString(from) });
      this.changed();
    } else if (kind === TEXT_MESSAGES.notStored) this.notStored.next(readVarString(from));
    else if (kind === TEXT_MESSAGES.refused) this.refused.next(readVarString(from));
    if (this.own.length > 0) this.await();
  }

  private joined(): void {
    this.tries = 0;
    // Not before: nobody can have typed, and what comes first would be written out once more to be told here.
    this.doc.off('update', this.typed);
    this.doc.on('update', this.typed);
    const left = this.unanswered();
    this.state.next('here');
    if (left) this.sendUpdate(left);
    // What was answered on another connection may be stored by now; the server says so when it has looked.
    if (this.keptId > this.storedId) this.store();
    // Sent again, so that it is news to a client that had dropped it.
    this.awareness.setLocalState({ ...this.awareness.getLocalState() });
  }

  /** A new line gets its text before anybody writes in it. */
  private readonly fill = ({ local, changed }: Transaction): void => {
    if (local && changed.size > 0 && this.mayWrite())
      this.doc.transact(() => fillEmptyBlocks(changed.keys()));
  };

  private readonly typed = (update: Uint8Array, origin: unknown): void => {
    if (origin === this || !this.mayWrite()) return;
    this.own.push(update);
    this.changed();
    if (this.state.value === 'here') this.sendUpdate(update);
  };

  private readonly moved = (
    { added, updated, removed }: Record<'added' | 'updated' | 'removed', number[]>,
    origin: unknown,
  ): void => {
    const others = new Map<number, TextPerson>();
    this.awareness.getStates().forEach((state, client) => {
      const { user } = state as { user?: TextPerson };
      if (user && client !== this.doc.clientID) others.set(user.id, user);
    });
    this.people.next([...others.values()].sort((a, b) => a.id - b.id));
    const own = [...added, ...updated, ...removed].includes(this.doc.clientID);
    if (origin === this || !own || this.state.value !== 'here') return;
    const states = encodeAwarenessUpdate(this.awareness, [this.doc.clientID]);
    this.send(TEXT_MESSAGES.awareness, (to) => writeVarUint8Array(to, states));
  };

  private changed(): void {
    this.unsaved.next(this.own.length > 0 || this.storedId < this.keptId);
    this.keep(this.own.length > 1 ? mergeUpdates(this.own) : (this.own[0] ?? null));
  }

  private sendUpdate(update: Uint8Array): void {
    this.send(TEXT_MESSAGES.sync, (to) => writeUpdate(to, update));
    this.await();
  }

  /** An answer is due. */
  private await(): void {
    clearTimeout(this.patience);
    this.patience = setTimeout(this.goAway, PATIENCE_MS);
  }

  private send(kind: number, write: (to: Encoder) => void): void {
    if (this.socket?.readyState !== WebSocket.OPEN) return;
    const to = createEncoder();
    writeVarUint(to, kind);
    write(to);
    this.socket.send(toUint8Array(to));
  }
}
