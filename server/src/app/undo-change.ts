import type { ChangeKind, FieldValues, NewSlot } from '@keyroster/contract';
import { USUAL_WEIGHTS, type Around, type CheckSettings, type Look } from '@keyroster/core';
import { changePerson } from '../accounts/people.js';
import { changeCampaign } from '../campaigns/campaigns.js';
import { changedSince, findChange } from '../changes/list.js';
import type { Change } from '../changes/save.js';
import { changeChecklist } from '../checklists/checklists.js';
import { changeChore } from '../checklists/chores.js';
import { changeFormat, changeTemplate } from '../desk/formats.js';
import { changeTag } from '../desk/tags.js';
import type { Handlers } from '../http/handlers.js';
import { ProblemError } from '../http/problem.js';
import { changeLetter } from '../letters/letters.js';
import { changeSubscriber } from '../letters/subscribers.js';
import { changeOutlet } from '../outlets/outlets.js';
import { changePattern } from '../pieces/patterns.js';
import { changeMedia } from '../media/library.js';
import { changeAbsence } from '../planner/absences.js';
import { changeProfile } from '../roster/person.js';
import { changeSerial } from '../serials/serials.js';
import type { Settings } from '../settings.js';
import { putAround } from '../site/around.js';
import { changeBlog, changeCategory } from '../site/blog.js';
import { placeBlog } from '../site/blogs.js';
import { applyLook, changeSite } from '../site/site-view.js';
import { changeSlot, slotOf } from '../slots/slots.js';
import { changeSpecial, publishSpecial } from '../specials/specials.js';

const weightsOf = ({ checks }: FieldValues): CheckSettings => ({
  ...USUAL_WEIGHTS,
  ...(checks as CheckSettings),
});

/** How each kind is changed: an undone change goes the same way as any other, with all that is asked there. */
const CHANGE: Record<
  ChangeKind,
  (change: Change, id: number, values: FieldValues, settings: Settings) => Promise<unknown>
> = {
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
  campaign: changeCampaign,
  pattern: changePattern,
  serial: (change, id, values) => changeSerial(change, id, { ...values, accepting: false }),
  special: (change, id, values, settings) =>
    'published' in values
      ? publishSpecial(change, id, { published: values['published'] === true }, settings)
      : changeSpecial(change, id, values, settings),
  letter: changeLetter,
  blog: (change, _id, values, settings) =>
    'path' in values || 'host' in values
      ? placeBlog(change, values, settings)
      : // What the blog had not decided had the usual weight.
        changeBlog(change, 'checks' in values ? { ...values, checks: weightsOf(values) } : values),
  site: (change, _id, values, settings) =>
    'look' in values
      ? applyLook(change, values['look'] as Look | null, settings)
      : 'around' in values
        ? putAround(change, () => values['around'] as Around | null, settings)
        : changeSite(change, values, settings),
};

/** Puts back what a change replaced. Refused where somebody changed the same fields since. */
export const undoHandlers: Handlers = {
  'changes.undo': async ({ trx, person, id, services }) => {
    const change = await findChange(trx, person.blogId, id);
    if (!change.undoable || change.was === null)
      throw new ProblemError('invalid', 'That cannot be undone here.');
    const later = await changedSince(trx, person.blogId, change);
    if (later)
      throw new ProblemError(
        'version-conflict',
        `${later.by} changed the same on “${later.name}” since then. Undo that first.`,
      );
    await CHANGE[change.kind]({ trx, person, ifMatch: null }, change.ofId, change.was, services.settings);
    return null;
  },
};
