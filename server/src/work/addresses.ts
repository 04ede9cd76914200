import { MessageChannel } from 'node:worker_threads';
import type { AddressChunk, AddressReport } from '../documents/address-list.js';
import { ProblemError } from '../http/problem.js';
import { WorkPool, type RunOptions } from './pool.js';
import type { Answer } from './tasks.js';

const lists = new WorkPool({
  threads: 1,
  waiting: 12,
  megabytes: 512,
  ms: 120_000,
  tooMuch: 'That list is larger than can be read at once. Import it in parts. Nobody was added.',
  tooLong:
    'Reading that list took longer than two minutes and was stopped. Nobody was added. Import it in parts.',
});

/** Reads a file of addresses in a thread of its own; `keep` gets them a chunk at a time, and is waited for. */
export async function addressesIn(
  bytes: Uint8Array,
  keep: (chunk: AddressChunk) => Promise<void>,
  options: Pick<RunOptions, 'onPlace' | 'signal'> = {},
): Promise<AddressReport> {
  const { port1, port2 } = new MessageChannel();
  const failing = new AbortController();
  let failure: unknown;
  let keeping: Promise<void> = Promise.resolve();
  port1.on('message', (chunk: AddressChunk) => {
    keeping = keep(chunk).then(
      () => port1.postMessage(null),
      (error: unknown) => {
        failure = error;
        failing.abort(error);
      },
    );
  });
  const signal = options.signal ? AbortSignal.any([failing.signal, options.signal]) : failing.signal;
  try {
    const answer = await lists.run<Answer<AddressReport>>(
      'addresses',
      { bytes: new Uint8Array(bytes), port: port2 },
      { ...options, signal, transfer: [port2] },
    );
    if (!answer.ok) throw new ProblemError(answer.code, answer.sentence);
    return answer.value;
  } catch (error) {
    throw failure ?? error;
  } finally {
    port1.close();
    // What is being kept in this moment must not come after what undoes it.
    await keeping;
  }
}

export const closeAddresses = (): Promise<void> => lists.close();
