import type { BodyStored } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { mustBeCurrent } from '../posts/change.js';
import { editPost } from '../posts/edit.js';
import type { WholePostRow } from '../posts/store.js';
import { checkText } from '../work/computing.js';

/** A text that fits the schema, with its words. Done before there is a transaction: long texts take their time. */
export async function readBody(sent: unknown) {
  const { answer, words } = await checkText(sent);
  if (!answer.ok) throw new ProblemError('bad-text', answer.sentence);
  return { body: answer.body, words };
}

/** Stores a text. The caller holds the row's lock. */
export async function storeBody(
  trx: Trx,
  row: WholePostRow,
  person: CurrentPerson,
  { body, words }: Awaited<ReturnType<typeof readBody>>,
  version: number | null,
): Promise<BodyStored> {
  await mustBeCurrent(trx, row, version);
  const done = await editPost(trx, row, person, { kind: 'text', body, words });
  return { version: done.version, words, stage: done.stage };
}
