import Joi from 'joi';
import type { FindQuery } from '../planner/types.js';
import type { Queries } from '../parts/of.js';
import { text } from '../parts/parts.js';

export const findQueries = {
  'find.all': Joi.object<FindQuery, true>({ words: text(200, 1).required() }),
} satisfies Queries;
