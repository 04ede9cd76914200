import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { ProblemError } from '../http/problem.js';

/** Workers run what is built; from source (in tests) the way there is the same. */
const TASKS = fileURLToPath(new URL('../../dist/work/tasks.js', import.meta.url));

interface Limits {
  threads: number;
  /** How many may wait; whoever finds the queue full is told to come again. */
  waiting: number;
  megabytes: number;
  ms: number;
  /** What is said when a task takes more time or memory than it may. */
  tooMuch: string;
}

export const BUSY = 'Many people ask for this at once. Please try again in a moment.';

/** Threads for work that would hold up everybody else in the process. Started when first needed. */
export class WorkPool {
  private pool: Piscina | null = null;
  private under = 0;

  constructor(private readonly limits: Limits) {}

  /** Runs a task of tasks.ts. Fails with a sentence when there is no room for it, or too much of it. */
  async run<T>(name: string, input: unknown): Promise<T> {
    const { threads, waiting, megabytes, ms, tooMuch } = this.limits;
    if (this.under >= threads + waiting) throw new ProblemError('busy', BUSY);
    this.under++;
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
      return (await this.pool.run(input, { name, signal: time.signal })) as T;
    } catch (error) {
      const { name: kind, code } = error as Error & { code?: string };
      if (kind === 'AbortError' || code === 'ERR_WORKER_OUT_OF_MEMORY' || error instanceof RangeError)
        throw new ProblemError('too-large', tooMuch);
      throw error;
    } finally {
      this.under--;
      clearTimeout(timer);
    }
  }

  async close(): Promise<void> {
    const pool = this.pool;
    this.pool = null;
    await pool?.destroy();
  }
}
