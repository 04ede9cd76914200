import { writeVarString, writeVarUint } from 'lib0/encoding';
import { TEXT_MESSAGES } from '@keyroster/contract';
import type { Db } from '../db/connect.js';
import { message, type SharedText } from './shared-text.js';
import { storeText } from './store-text.js';

/** A text is stored when nobody typed for so long, in ms; and while they go on, so often. */
const QUIET_MS = 600;
const MAX_MS = 4000;

/** When an open text is stored in its post, and what those who have it open hear of it. */
export class TextStoring {
  private last: Promise<void> | null = null;
  private timer: NodeJS.Timeout | undefined;
  /** Since when something waits to be stored. */
  private since = 0;

  constructor(
    private readonly db: Db,
    private readonly text: SharedText,
    private readonly say: (error: unknown) => void,
  ) {}

  /** Something was typed. */
  later(): void {
    const now = Date.now();
    this.since ||= now;
    clearTimeout(this.timer);
    const wait = Math.max(0, Math.min(QUIET_MS, this.since + MAX_MS - now));
    this.timer = setTimeout(() => void this.now().catch(this.say), wait);
  }

  /** Stores what was typed until now, after what is being stored already. */
  now(): Promise<void> {
    this.stop();
    this.since = 0;
    const before = this.last ?? Promise.resolve();
    const now = before.then(() => this.store());
    this.last = now.catch(() => undefined);
    return now;
  }

  /** Stores what still waits. */
  async finish(): Promise<void> {
    this.stop();
    if (this.since > 0) await this.now().catch(this.say);
  }

  stop(): void {
    clearTimeout(this.timer);
  }

  private async store(): Promise<void> {
    const answer = await storeText(this.db, this.text.postId);
    if (!answer) return;
    this.text.tell(
      answer.kind === 'refused'
        ? message(TEXT_MESSAGES.notStored, (to) => writeVarString(to, answer.sentence))
        : message(TEXT_MESSAGES.stored, (to) => {
            writeVarUint(to, answer.upTo);
            writeVarUint(to, answer.taken?.version ?? 0);
            writeVarUint(to, answer.taken?.words ?? 0);
            writeVarString(to, answer.taken?.stage ?? '');
          }),
    );
  }
}
