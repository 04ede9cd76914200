import type { Handlers } from '../http/handlers.js';
import { addChecklist, changeChecklist, listChecklists, removeChecklist } from './checklists.js';
import { addChores, changeChore, listChores, removeChore } from './chores.js';

export const checklistHandlers: Handlers = {
  'checklists.list': ({ trx, person }) => listChecklists(trx, person.blogId),
  'checklists.add': ({ trx, person, body }) => addChecklist(trx, person, body),
  'checklists.change': ({ id, body, ...change }) => changeChecklist(change, id, body),
  'checklists.remove': ({ id, ...change }) => removeChecklist(change, id),
  'chores.list': ({ trx, person, id }) => listChores(trx, person, id),
  'chores.add': ({ trx, person, id, body }) => addChores(trx, person, id, body),
  'chores.change': ({ id, body, ...change }) => changeChore(change, id, body),
  'chores.remove': ({ id, ...change }) => removeChore(change, id),
};
