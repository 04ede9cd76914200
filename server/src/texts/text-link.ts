import type { WebSocket } from 'ws';
import type { CurrentPerson } from '../http/current-person.js';
import type { TextReader } from './shared-text.js';

/** More than this unread, and the connection is cut: its client comes back and asks for what it lacks. */
const MAX_UNREAD_BYTES = 32 * 1024 * 1024;

/** The connection of one person to one text. */
export class TextLink implements TextReader {
  /** Has it answered since it was last asked whether it is there? */
  isAlive = true;

  constructor(
    private readonly socket: WebSocket,
    private readonly person: CurrentPerson,
    readonly postId: number,
    readonly sessionId: string,
    /** When the session ends of itself, in milliseconds. */
    readonly until: number,
  ) {}

  get name(): string {
    return this.person.name;
  }
  get personId(): number {
    return this.person.id;
  }
  get blogId(): number {
    return this.person.blogId;
  }

  send(message: Uint8Array): void {
    if (this.socket.readyState !== this.socket.OPEN) return;
    if (this.socket.bufferedAmount > MAX_UNREAD_BYTES) this.socket.terminate();
    else this.socket.send(message);
  }

  close(code: number): void {
    this.socket.close(code);
  }

  /** Asks whether anybody is there still, and cuts the connection when nobody was. */
  beat(now: number): void {
    if (!this.isAlive || this.until <= now) return this.socket.terminate();
    this.isAlive = false;
    this.socket.ping();
  }
}
