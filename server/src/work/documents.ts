import type { UploadedFile } from '../http/handlers.js';
import type { ReadText } from '../documents/read-text.js';
import { ProblemError } from '../http/problem.js';
import { WorkPool, type RunOptions } from './pool.js';
import type { Answer } from './tasks.js';

/** One document at a time: it may take all the memory that there is for them. */
const documents = new WorkPool({
  threads: 1,
  waiting: 12,
  megabytes: 512,
  ms: 20_000,
  tooMuch: 'That document is larger than one post can hold. Import it in parts, or as plain text.',
  tooLong:
    'Reading that document took longer than 20 seconds and was stopped. Nothing was changed. Try again in a moment, or ' +
    'import it in parts.',
});

/** Reads a document; `onPlace` hears how many documents come first, `signal` ends it. */
export async function readInWorker(
  { bytes, name }: UploadedFile,
  options: Pick<RunOptions, 'onPlace' | 'signal'> = {},
): Promise<ReadText> {
  const answer = await documents.run<Answer<ReadText>>(
    'document',
    { bytes: new Uint8Array(bytes), name },
    options,
  );
  if (!answer.ok) throw new ProblemError(answer.code, answer.sentence);
  return answer.value;
}

export const closeDocuments = (): Promise<void> => documents.close();
