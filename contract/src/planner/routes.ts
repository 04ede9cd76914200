import type { PlanFacts } from '@keyroster/core';
import type { PackedCards, PlannerAnswer } from './answer.js';
import type {
  AbsenceChanges,
  AbsenceView,
  CalendarMade,
  CalendarView,
  CardsQuery,
  NewAbsence,
  NewCalendar,
  AcceptPlan,
  PitchAlike,
  PlanAccepted,
  PlanQuery,
  PitchList,
  PitchesKept,
  PlannerQuery,
  RhythmView,
  RunListQuery,
  Sweep,
  Swept,
} from './types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface PlannerRoutes {
  'planner.see': { query: PlannerQuery; reply: PlannerAnswer };
  'planner.cards': { query: CardsQuery; reply: PackedCards };
  'planner.sweep': { body: Sweep; reply: Swept };
  'planner.runList': { query: RunListQuery; reply: never };
  'pitches.keep': { body: PitchList; reply: PitchesKept };
  'pitches.import': { file: true; reply: PitchesKept };
  'pitches.alike': { reply: PitchAlike[] };
  'rhythm.see': { reply: RhythmView };
  'plan.facts': { query: PlanQuery; reply: PlanFacts };
  'plan.accept': { body: AcceptPlan; reply: PlanAccepted };
  'absences.list': { reply: AbsenceView[] };
  'absences.add': { body: NewAbsence; reply: AbsenceView };
  'absences.change': { id: true; body: AbsenceChanges; reply: AbsenceView };
  'absences.remove': { id: true; reply: null };
  'calendars.list': { reply: CalendarView[] };
  'calendars.make': { body: NewCalendar; reply: CalendarMade };
  'calendars.revoke': { id: true; reply: null };
}

/** Who may call what, and where. */
export const PLANNER_ROUTES = {
  'planner.see': {
    method: 'GET',
    path: '/api/planner',
    who: 'enterNewsroom',
    summary: 'Weeks with their posts and slots, and the pitch tray',
  },
  'planner.cards': {
    method: 'GET',
    path: '/api/planner/cards',
    who: 'enterNewsroom',
    summary: 'A few posts as the planner draws them',
  },
  'planner.sweep': {
    method: 'POST',
    path: '/api/planner/sweep',
    who: 'enterNewsroom',
    summary: 'Sweep late posts back to the tray, all or none',
  },
  'planner.runList': {
    method: 'GET',
    path: '/api/planner/run-list.csv',
    who: 'enterNewsroom',
    summary: 'The run list as CSV (RFC 4180)',
  },
  'pitches.keep': {
    method: 'POST',
    path: '/api/pitches',
    who: 'pitch',
    summary: 'Put several pitches in the tray, all or none',
    status: 201,
  },
  'pitches.import': {
    method: 'POST',
    path: '/api/pitches/import',
    who: 'pitch',
    summary: 'Put the rows of a CSV file in the tray, all or none',
    status: 201,
    file: true,
  },
  'pitches.alike': {
    method: 'GET',
    path: '/api/pitches/alike',
    who: 'enterNewsroom',
    summary: 'Pitches that resemble an earlier post or pitch',
  },
  'rhythm.see': {
    method: 'GET',
    path: '/api/rhythm',
    who: 'enterNewsroom',
    summary: 'Releases of the last and next 13 weeks against the wanted rhythm',
  },
  'plan.facts': {
    method: 'GET',
    path: '/api/plan',
    who: 'proposePlan',
    summary:
      'What a plan for some days is made from: slots, posts, pitches, writers with their pace, absences',
  },
  'plan.accept': {
    method: 'POST',
    path: '/api/plan',
    who: 'proposePlan',
    summary: 'Put posts where a plan has them, as one batch; what no longer fits is told',
  },
  'absences.list': {
    method: 'GET',
    path: '/api/absences',
    who: 'enterNewsroom',
    summary: 'Absences that are not over',
  },
  'absences.add': {
    method: 'POST',
    path: '/api/absences',
    who: 'enterNewsroom',
    summary: 'Enter an absence: one’s own, or anybody’s for the managing editor',
    status: 201,
  },
  'absences.change': {
    method: 'PATCH',
    path: '/api/absences/:id',
    who: 'enterNewsroom',
    saves: 'absence',
    summary: 'Change an absence',
  },
  'absences.remove': {
    method: 'DELETE',
    path: '/api/absences/:id',
    who: 'enterNewsroom',
    saves: 'absence',
    summary: 'Remove an absence',
    status: 204,
  },
  'calendars.list': {
    method: 'GET',
    path: '/api/calendars',
    who: 'enterNewsroom',
    summary: 'Subscription addresses: one’s own, and everybody’s for the managing editor',
  },
  'calendars.make': {
    method: 'POST',
    path: '/api/calendars',
    who: 'enterNewsroom',
    summary: 'Make a subscription address (iCalendar); the one before it ends',
    status: 201,
  },
  'calendars.revoke': {
    method: 'DELETE',
    path: '/api/calendars/:id',
    who: 'enterNewsroom',
    summary: 'End a subscription address',
    status: 204,
  },
} as const satisfies RoutesOf<PlannerRoutes>;
