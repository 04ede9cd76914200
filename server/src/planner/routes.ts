import type { Handlers } from '../http/handlers.js';
import { addAbsence, changeAbsence, listAbsences, removeAbsence } from './absences.js';
import { acceptPlan } from './accept-plan.js';
import { alikePitches } from './alike.js';
import { listCalendars, makeCalendar, revokeCalendar } from './calendars.js';
import { importPitches, addPitches } from './pitches.js';
import { runListCsv } from './run-list.js';
import { planFacts } from './plan-facts.js';
import { plannerCards, plannerText } from './planner-view.js';
import { rhythmView } from './rhythm.js';
import { sweep } from './sweep.js';

export const plannerHandlers: Handlers = {
  'planner.see': async ({ trx, person, query, res }) => {
    const text = await plannerText(trx, person, query);
    res.type('json').send(text);
    return undefined as never;
  },
  'planner.cards': ({ trx, person, query }) => plannerCards(trx, person, query.ids),
  'planner.sweep': ({ trx, person, body }) => sweep(trx, person, body.postIds),
  'planner.runList': async ({ trx, person, query, res }) => {
    const csv = await runListCsv(trx, person, query);
    res
      .set({
        'Content-Type': 'text/csv; charset=utf-8',
        'Content-Disposition': 'attachment; filename="run-list.csv"',
        'Cache-Control': 'no-store',
      })
      .send(csv);
    return undefined as never;
  },
  'pitches.keep': ({ trx, person, body }) => addPitches(trx, person, body),
  'pitches.import': ({ trx, person, file }) => importPitches(trx, person, file),
  'pitches.alike': ({ trx, person }) => alikePitches(trx, person),
  'rhythm.see': ({ trx, person }) => rhythmView(trx, person),
  'plan.facts': ({ trx, person, query }) => planFacts(trx, person, query),
  'plan.accept': ({ trx, person, body }) => acceptPlan(trx, person, body),
  'absences.list': ({ trx, person }) => listAbsences(trx, person),
  'absences.add': ({ trx, person, body }) => addAbsence(trx, person, body),
  'absences.change': ({ id, body, ...change }) => changeAbsence(change, id, body),
  'absences.remove': ({ id, ...change }) => removeAbsence(change, id),
  'calendars.list': ({ trx, person }) => listCalendars(trx, person),
  'calendars.make': ({ trx, person, body, services }) =>
    makeCalendar(trx, person, body, services.settings.publicUrl),
  'calendars.revoke': ({ trx, person, id }) => revokeCalendar(trx, person, id),
};
