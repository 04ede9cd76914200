import type { ChangeKind, FieldValues, NewSlot } from '@keyroster/contract';
import { changePerson } from '../accounts/people.js';
import { changedSince, findChange } from '../changes/list.js';
import type { Change } from '../changes/save.js';
import { changeChecklist } from '../checklists/checklists.js';
import { changeChore } from '../checklists/chores.js';
import { changeFormat, changeTemplate } from '../desk/formats.js';
import { changeTag } from '../desk/tags.js';
import type { Handlers } from '../http/handlers.js';
import { ProblemError } from '../http/problem.js';
import { changeSubscriber } from '../letters/subscribers.js';
import { changeOutlet } from '../outlets/outlets.js';
import { changeMedia } from '../media/library.js';
import { changeAbsence } from '../planner/absences.js';
import { changeProfile } from '../roster/person.js';
import { changeCategory } from '../site/blog.js';
import { changeSlot, slotOf } from '../slots/slots.js';

/** How each kind is changed: an undone change goes the same way as any other, with all that is asked there. */
const CHANGE: Record<ChangeKind, (change: Change, id: number, values: FieldValues) => Promise<unknown>> = {
  slot: async (change, id, values) =>
    changeSlot(change, id, {
      ...(await slotOf(change.trx, change.person.blogId, id)),
      ...values,
    } as NewSlot),
  absence: changeAbsence,
  tag: changeTag,
  category: changeCategory,
  person: (change, id, values) => changePerson(change, id, values, null),
  profile: changeProfile,
  picture: changeMedia,
  subscriber: changeSubscriber,
  template: changeTemplate,
  outlet: changeOutlet,
  format: changeFormat,
  checklist: changeChecklist,
  chore: changeChore,
};

/** Puts back what a change replaced. Refused where somebody changed the same fields since. */
export const undoHandlers: Handlers = {
  'changes.undo': async ({ trx, person, id }) => {
    const change = await findChange(trx, person.blogId, id);
    if (!change.undoable || change.was === null)
      throw new ProblemError('invalid', 'That cannot be undone here.');
    const later = await changedSince(trx, person.blogId, change);
    if (later)
      throw new ProblemError(
        'version-conflict',
        `${later.by} changed the same on “${later.name}” since then. Undo that first.`,
      );
    await CHANGE[change.kind]({ trx, person, ifMatch: null }, change.ofId, change.was);
    return null;
  },
};
