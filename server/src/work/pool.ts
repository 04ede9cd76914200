import { fileURLToPath } from 'node:url';
import type { TransferListItem } from 'node:worker_threads';
import pLimit from 'p-limit';
import { Piscina } from 'piscina';
import { ProblemError } from '../http/problem.js';
import type * as tasks from './tasks.js';

/** Workers run what is built; from source (in tests) the way there is the same. */
const TASKS = fileURLToPath(new URL('../../dist/work/tasks.js', import.meta.url));

interface Limits {
  threads: number;
  /** How many may wait; with more in the queue, the sender is asked to come again. */
  waiting: number;
  megabytes: number;
  /** How long a task may work, in milliseconds; time in the queue does not count. */
  ms: number;
  /** What is said when a task needs more memory than it may. */
  tooMuch: string;
  /** What is said when a task works longer than it may. */
  tooLong: string;
}

export interface RunOptions {
  /** Hears how many tasks come first, each time that changes; 0 once this one begins. */
  onPlace?: (place: number) => void;
  /** Ends the task, in the queue or at work. */
  signal?: AbortSignal;
  transfer?: TransferListItem[];
  /** How long it may work, where that is less than the pool allows; in milliseconds. */
  ms?: number;
}

/** A task that worked longer than it may, and was ended. */
export class TookTooLong extends ProblemError {
  constructor(sentence: string) {
    super('busy', sentence);
  }
}

export const BUSY = 'Many people ask for this at once. Please try again in a moment.';

/** Threads for work that would hold up everybody else in the process. Started when first needed. */
export class WorkPool {
  private pool: Piscina | null = null;
  private readonly limit;
  private readonly line: { onPlace?: (place: number) => void }[] = [];

  constructor(private readonly limits: Limits) {
    this.limit = pLimit(limits.threads);
  }

  /**
   * Runs a task of tasks.ts. Fails with a sentence: `busy` when there is no room in the queue, or the task worked
   * longer than it may (both may go better later), `too-large` when it needs more memory than it may.
   */
  async run<T>(
    name: keyof typeof tasks,
    input: unknown,
    { onPlace, signal, transfer = [], ms }: RunOptions = {},
  ): Promise<T> {
    if (this.limit.pendingCount >= this.limits.waiting) throw new ProblemError('busy', BUSY);
    const turn = onPlace ? { onPlace } : {};
    this.line.push(turn);
    const leave = () => {
      const at = this.line.indexOf(turn);
      if (at < 0) return;
      this.line.splice(at, 1);
      this.line.forEach((other, place) => other.onPlace?.(place + 1));
    };
    onPlace?.(this.limit.activeCount < this.limits.threads ? 0 : this.line.length);
    return this.limit(async () => {
      leave();
      onPlace?.(0);
      signal?.throwIfAborted();
      return this.work<T>(name, input, { transfer, signal, ms: Math.min(ms ?? Infinity, this.limits.ms) });
    }).finally(leave);
  }

  private async work<T>(
    name: keyof typeof tasks,
    input: unknown,
    { transfer, signal, ms }: { transfer: TransferListItem[]; signal: AbortSignal | undefined; ms: number },
  ): Promise<T> {
    const { threads, megabytes, tooMuch, tooLong } = this.limits;
    this.pool ??= new Piscina({
      filename: TASKS,
      minThreads: 0,
      maxThreads: threads,
      idleTimeout: 30_000,
      resourceLimits: { maxOldGenerationSizeMb: megabytes, maxYoungGenerationSizeMb: 32, stackSizeMb: 4 },
    });
    const time = new AbortController();
    const timer = setTimeout(() => time.abort(), ms);
    try {
      const either = signal ? AbortSignal.any([time.signal, signal]) : time.signal;
      return (await this.pool.run(input, { name, signal: either, transferList: transfer })) as T;
    } catch (error) {
      const { name: kind, code } = error as Error & { code?: string };
      if (signal?.aborted) throw signal.reason;
      if (kind === 'AbortError') throw new TookTooLong(tooLong);
      if (code === 'ERR_WORKER_OUT_OF_MEMORY' || error instanceof RangeError)
        throw new ProblemError('too-large', tooMuch);
      throw error;
    } finally {
      clearTimeout(timer);
    }
  }

  async close(): Promise<void> {
    const pool = this.pool;
    this.pool = null;
    await pool?.destroy();
  }
}
