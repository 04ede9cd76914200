import Joi from 'joi';
import { STAGES } from '@keyroster/core';
import type {
  AbsenceChanges,
  CardsQuery,
  NewAbsence,
  NewCalendar,
  PitchList,
  PlannerQuery,
  RunListQuery,
  Sweep,
} from './types.js';
import { CALENDARS } from './types.js';
import type { Bodies, Queries } from '../parts/of.js';
import { date, fieldText, id, text } from '../parts/parts.js';

export const plannerBodies = {
  'planner.sweep': Joi.object<Sweep, true>({
    postIds: Joi.array().items(id()).min(1).max(200).unique().required(),
  }),
  'pitches.keep': Joi.object<PitchList, true>({
    titles: Joi.array().items(fieldText('title')).min(1).max(500).required(),
    categoryId: id().allow(null).required(),
  }),
  'absences.add': Joi.object<NewAbsence, true>({
    personId: id().required(),
    from: date().required(),
    to: date().required(),
    note: text(300).default(''),
  }),
  'absences.change': Joi.object<AbsenceChanges, true>({ from: date(), to: date(), note: text(300) }).min(1),
  'calendars.make': Joi.object<NewCalendar, true>({
    kind: Joi.string()
      .valid(...CALENDARS)
      .required(),
  }),
} satisfies Bodies;

export const plannerQueries = {
  'planner.see': Joi.object<PlannerQuery, true>({
    from: date(),
    weeks: Joi.number().integer().min(1).max(12),
  }),
  'planner.cards': Joi.object<CardsQuery, true>({
    ids: Joi.array().items(id()).single().min(1).max(50).required(),
  }),
  'planner.runList': Joi.object<RunListQuery, true>({
    from: date(),
    weeks: Joi.number().integer().min(1).max(12),
    category: id(),
    person: id(),
    stage: Joi.string().valid(...STAGES),
  }),
} satisfies Queries;
