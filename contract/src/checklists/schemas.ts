import Joi from 'joi';
import { ASSIGNEES, type ChoreRule } from '@keyroster/core';
import type { Bodies } from '../parts/of.js';
import { id, text } from '../parts/parts.js';
import type { ChoreChanges, NewChecklist, NewChore } from './types.js';

const assignee = () => Joi.string().valid(...ASSIGNEES);
const daysBefore = () => Joi.number().integer().min(0).max(365);
/** A chore’s rule, with other fields; a person is named where the chore is a person’s, and nowhere else. */
const rule = (fields: Joi.SchemaMap = {}) =>
  Joi.object({
    ...fields,
    text: text(200, 1).required(),
    assignee: assignee().required(),
    personId: id().allow(null).required(),
    daysBefore: daysBefore().required(),
    holds: Joi.boolean().required(),
  })
    .custom((value: ChoreRule, helpers) => {
      if (value.assignee !== 'person') return { ...value, personId: null };
      return value.personId === null ? helpers.error('chore.person') : value;
    })
    .messages({ 'chore.person': '{{#label}} is a person’s: say whose' });
const checklist = {
  name: text(80, 1).required(),
  formats: Joi.array().items(id()).max(100).unique().required(),
  categories: Joi.array().items(id()).max(100).unique().required(),
  items: Joi.array()
    .items(rule({ id: id().allow(null).required() }))
    .min(1)
    .max(40)
    .required(),
};

export const checklistsBodies = {
  'checklists.add': Joi.object<NewChecklist, true>(checklist),
  'checklists.change': Joi.object<NewChecklist, true>(checklist),
  'chores.add': Joi.object<NewChore>({ checklistId: id(), chore: rule() }).xor('checklistId', 'chore'),
  'chores.change': Joi.object<ChoreChanges, true>({
    done: Joi.boolean(),
    text: text(200, 1),
    assignee: assignee(),
    personId: id().allow(null),
    daysBefore: daysBefore(),
    holds: Joi.boolean(),
  }).min(1),
} satisfies Bodies;
