import type { Restoring } from '@keyroster/contract';
import {
  deskText,
  POST_FIELDS,
  restorePassage,
  SETTABLE_FIELDS,
  type BodyNode,
  type Post,
  type PostEdit,
  type SetValues,
} from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { ProblemError } from '../http/problem.js';
import { editPost, type Done } from '../posts/edit.js';
import type { WholePostRow } from '../posts/store.js';
import { checkText } from '../work/computing.js';
import { postAt } from './versions.js';

/** What the writer of a post sets comes back; stage, dates, people and address stay as they are. */
const RESTORED = SETTABLE_FIELDS.filter((field) => POST_FIELDS[field].set === 'write');

/** Restores an earlier version of a post whose row is held, through the one way to change a post. */
export async function restoreVersion(
  trx: Trx,
  row: WholePostRow,
  person: CurrentPerson,
  restoring: Restoring,
): Promise<Done> {
  const then = await postAt(trx, row, restoring.version);
  const { answer, words } = await checkText(bodyAfter(row, then, restoring));
  if (!answer.ok) throw new ProblemError('bad-text', answer.sentence);
  const edits: PostEdit[] = [{ kind: 'text', body: answer.body, words }];
  if (restoring.what === 'all')
    edits.push({
      kind: 'set',
      values: Object.fromEntries(RESTORED.map((field) => [field, then[field]])) as SetValues,
    });
  const done = await editPost(trx, row, person, ...edits);
  if (done.version === row.version) return { ...done, sentence: 'It is like that already.' };
  await trx('post_versions')
    .where({ post_id: row.id, version: done.version })
    .update({ restored: restoring.version });
  const what = { all: '', text: 'The text of ', passage: 'The passage of ' }[restoring.what];
  return { ...done, sentence: `${what}${what ? 'version' : 'Version'} ${restoring.version} is restored.` };
}

function bodyAfter(row: WholePostRow, then: Post, { what, passage }: Restoring): BodyNode {
  if (what !== 'passage') return deskText(then)!;
  const now = deskText(row)!;
  const { before, after } = passage!;
  const [earlier, later] = [then.body!.content?.length ?? 0, row.body.content?.length ?? 0];
  // Passages are told by their blocks in the text as it was.
  if ((now.content?.length ?? 0) !== later)
    throw new ProblemError(
      'invalid',
      'Whole blocks are suggested in the text. Accept or refuse them first, then a passage can be restored.',
    );
  if (before.to > earlier || after.to > later)
    throw new ProblemError('invalid', 'That passage is not in these versions.');
  return restorePassage(then.body!, now, [before.from, before.to], [after.from, after.to]);
}
