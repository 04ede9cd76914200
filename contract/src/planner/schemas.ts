import Joi from 'joi';
import { manyIds } from '../archive/schemas.js';
import { daysBetween, STAGES, type PlanTask } from '@keyroster/core';
import type {
  AbsenceChanges,
  AcceptPlan,
  CardsQuery,
  NewAbsence,
  NewCalendar,
  PitchList,
  PlannerQuery,
  PlanQuery,
  RunListQuery,
  Sweep,
} from './types.js';
import { CALENDARS } from './types.js';
import type { Bodies, Queries } from '../parts/of.js';
import { date, fieldText, id, text } from '../parts/parts.js';

/** At most so many days are planned at once: more than a year is nobody's plan. */
const MAX_DAYS = 400;

/** Two days, the first not after the last, with other fields. */
function span<T>(fields: Joi.SchemaMap): Joi.ObjectSchema<T> {
  return Joi.object({ ...fields, from: date().required(), to: date().required() })
    .custom((value: { from: string; to: string }, helpers) =>
      value.to < value.from
        ? helpers.error('span.order')
        : daysBetween(value.from, value.to) > MAX_DAYS
          ? helpers.error('span.long')
          : value,
    )
    .messages({
      'span.order': 'The last day is before the first.',
      'span.long': `At most ${MAX_DAYS} days can be planned at once.`,
    }) as Joi.ObjectSchema<T>;
}

export const plannerBodies = {
  'planner.sweep': Joi.object<Sweep, true>({
    postIds: manyIds().min(1).unique().required(),
  }),
  'pitches.keep': Joi.object<PitchList, true>({
    titles: Joi.array().items(fieldText('title')).min(1).max(500).required(),
    categoryId: id().allow(null).required(),
  }),
  'plan.accept': Joi.object<AcceptPlan, true>({
    task: Joi.alternatives<PlanTask>(
      span({ kind: Joi.string().valid('fill', 'cover').required() }),
      span({ kind: Joi.string().valid('without').required(), writerId: id().required() }),
    ).required(),
    places: Joi.array()
      .items(
        Joi.object({
          postId: id().required(),
          slot: Joi.string()
            .pattern(/^-?\d{1,10}\|\d{4}-\d{2}-\d{2}$/)
            .required(),
          writerId: id().required(),
        }),
      )
      .min(1)
      .max(400)
      .unique('postId')
      .required(),
    leaveMisfits: Joi.boolean().default(false),
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
  'plan.facts': span<PlanQuery>({}),
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
