import { createDecoder, readVarUint, readVarUint8Array } from 'lib0/decoding';
import { createEncoder, toUint8Array, writeVarString, writeVarUint, type Encoder } from 'lib0/encoding';
import { writeSyncStep2, writeUpdate } from 'y-protocols/sync';
import { applyUpdate, Doc, encodeStateAsUpdate, XmlElement } from 'yjs';
import { TEXT_MESSAGES } from '@keyroster/contract';
import { sharedFrom, sharedOf, TEXT_FIELD } from '@keyroster/core/texts';
import { TextConnection } from './text-connection';

/** The other end, as the test plays it. */
class Socket extends EventTarget {
  static readonly OPEN = 1;
  static all: Socket[] = [];
  readyState = 0;
  binaryType = '';
  readonly updates: Uint8Array[] = [];
  asked = 0;
  constructor() {
    super();
    Socket.all.push(this);
  }
  send(data: Uint8Array): void {
    const from = createDecoder(data);
    const kind = readVarUint(from);
    if (kind === TEXT_MESSAGES.store) this.asked++;
    if (kind !== TEXT_MESSAGES.sync || readVarUint(from) !== 2) return;
    this.updates.push(readVarUint8Array(from));
  }
  close(): void {
    this.readyState = 3;
  }
  /** Opens, and sends the text there is. */
  answer(text: Doc): void {
    this.readyState = 1;
    this.dispatchEvent(new Event('open'));
    this.tell(TEXT_MESSAGES.sync, (to) => writeSyncStep2(to, text, new Uint8Array([0])));
  }
  tell(kind: number, write: (to: Encoder) => void): void {
    const to = createEncoder();
    writeVarUint(to, kind);
    write(to);
    this.dispatchEvent(new MessageEvent('message', { data: toUint8Array(to) }));
  }
  keeps(count: number, id: number): void {
    this.tell(TEXT_MESSAGES.kept, (to) => (writeVarUint(to, count), writeVarUint(to, id)));
  }
  stores(upTo: number): void {
    this.tell(TEXT_MESSAGES.stored, (to) => {
      for (const n of [upTo, 4, 12]) writeVarUint(to, n);
      writeVarString(to, 'drafting');
    });
  }
  breaks(code = 1006): void {
    this.readyState = 3;
    this.dispatchEvent(Object.assign(new Event('close'), { code }));
  }
}

const text = () =>
  sharedOf([
    sharedFrom({
      type: 'doc',
      content: [{ type: 'paragraph', content: [{ type: 'text', text: 'It was' }] }],
    }),
  ]);
const words = (doc: Doc) =>
  doc
    .getXmlFragment(TEXT_FIELD)
    .toString()
    .replace(/<[^>]*>/g, '');
const type = (doc: Doc, what: string) => {
  const block = doc.getXmlFragment(TEXT_FIELD).get(0) as unknown as {
    get(i: number): { insert(at: number, s: string): void; length: number };
  };
  block.get(0).insert(block.get(0).length, what);
};
const pause = (ms = 0) => new Promise((done) => setTimeout(done, ms));
const last = () => Socket.all.at(-1)!;
async function next(count: number): Promise<void> {
  while (Socket.all.length < count) await pause(5);
}

let connection: TextConnection;
let kept: (Uint8Array | null)[];
let mayWrite: boolean;
const real = globalThis.WebSocket;
beforeEach(() => {
  Socket.all = [];
  kept = [];
  mayWrite = true;
  globalThis.WebSocket = Socket as never;
  connection = new TextConnection(
    'ws://blog.example/text',
    () => mayWrite,
    (update) => kept.push(update),
  );
});
afterEach(() => {
  connection.close();
  globalThis.WebSocket = real;
});

describe('the connection to a text', () => {
  it('gives a new line its text before anybody writes in it, so that two there write into one', () => {
    const there = text();
    last().answer(there);
    const line = new XmlElement('paragraph');
    connection.doc.getXmlFragment(TEXT_FIELD).insert(1, [line]);
    expect(line.length).toBe(1);
    // It is sent like what is typed, and so it is there once for everybody.
    last().updates.forEach((update) => applyUpdate(there, update));
    expect((there.getXmlFragment(TEXT_FIELD).get(1) as XmlElement).length).toBe(1);
  });

  it('brings the text here, and what is typed there', () => {
    expect(connection.state.value).toBe('joining');
    last().answer(text());
    expect([connection.state.value, words(connection.doc)]).toEqual(['here', 'It was']);
    type(connection.doc, ' dark.');
    const there = text();
    last().updates.forEach((update) => applyUpdate(there, update));
    expect(connection.unsaved.value).toBe(true);
    // Kept is safe; saved is when the post has it.
    last().keeps(1, 8);
    expect([connection.unsaved.value, kept.at(-1)]).toEqual([true, null]);
    last().stores(8);
    expect(connection.unsaved.value).toBe(false);
  });

  it('shows what others type, without sending it back', () => {
    const there = text();
    last().answer(there);
    there.on('update', (update: Uint8Array) =>
      last().tell(TEXT_MESSAGES.sync, (to) => writeUpdate(to, update)),
    );
    type(there, ' light.');
    expect(words(connection.doc)).toBe('It was light.');
    expect([last().updates.length, connection.unsaved.value]).toEqual([0, false]);
  });

  it('keeps on this device what was not answered, and sends it again when it is back', async () => {
    const there = text();
    last().answer(there);
    type(connection.doc, ' dark.');
    last().breaks();
    expect(connection.state.value).toBe('away');
    type(connection.doc, ' And cold.');
    const device = sharedOf([encodeStateAsUpdate(there), kept.at(-1)!]);
    expect(words(device)).toBe('It was dark. And cold.');
    await next(2);
    last().answer(there);
    expect(last().updates).toHaveLength(1);
    applyUpdate(there, last().updates[0]!);
    expect(words(there)).toBe('It was dark. And cold.');
    last().keeps(1, 3);
    expect(kept.at(-1)).toBeNull();
  });

  it('gives up a connection on which nothing is answered', () => {
    last().answer(text());
    window.dispatchEvent(new Event('offline'));
    expect(connection.state.value).toBe('away');
  });

  it('comes back at once when the network does', async () => {
    last().answer(text());
    window.dispatchEvent(new Event('offline'));
    window.dispatchEvent(new Event('online'));
    expect(Socket.all).toHaveLength(2);
  });

  it('takes up what an earlier page left, as if it was just typed', () => {
    const earlier = text();
    const left = text();
    applyUpdate(left, encodeStateAsUpdate(earlier));
    last().answer(earlier);
    const typed: Uint8Array[] = [];
    const copy = sharedOf([encodeStateAsUpdate(earlier)]);
    copy.on('update', (update: Uint8Array) => typed.push(update));
    type(copy, ' left over.');
    connection.resume(typed[0]!);
    expect(words(connection.doc)).toBe('It was left over.');
    expect(last().updates).toHaveLength(1);
  });

  it('sends nothing of somebody who may only read', () => {
    mayWrite = false;
    last().answer(text());
    type(connection.doc, ' forged.');
    expect([last().updates.length, connection.unsaved.value]).toEqual([0, false]);
  });

  it('tells what was refused, and why', () => {
    const refused: string[] = [];
    connection.refused.subscribe((sentence) => refused.push(sentence));
    last().answer(text());
    last().tell(TEXT_MESSAGES.refused, (to) => writeVarString(to, 'Not yours.'));
    last().breaks(4400);
    expect(refused).toEqual(['Not yours.', 'The server could not read what was typed here.']);
  });

  it('tells when it is shown out', () => {
    let out = 0;
    connection.shownOut.subscribe(() => out++);
    last().answer(text());
    last().breaks(4403);
    expect([out, connection.state.value]).toEqual([1, 'away']);
  });

  it('asks whether it is stored when it comes back after an answer', async () => {
    const there = text();
    last().answer(there);
    type(connection.doc, ' dark.');
    last().keeps(1, 8);
    last().breaks();
    await next(2);
    last().answer(there);
    expect([last().updates.length, last().asked]).toEqual([0, 1]);
    last().stores(9);
    expect(connection.unsaved.value).toBe(false);
  });
});
