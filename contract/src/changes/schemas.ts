import Joi from 'joi';
import type { Bodies, Queries } from '../parts/of.js';
import { id } from '../parts/parts.js';
import { CHANGE_FIELDS, type ChangesQuery } from './types.js';

export const changesQueries = {
  'changes.list': Joi.object<ChangesQuery, true>({
    kind: Joi.string().valid(...Object.keys(CHANGE_FIELDS)),
    before: id(),
  }),
} satisfies Queries;

export const changesBodies = { 'changes.undo': Joi.object({}) } satisfies Bodies;
