import Joi from 'joi';
import type { Queries } from '../parts/of.js';
import type { TaskKey } from './types.js';

export const taskKey = () => Joi.string().guid({ version: 'uuidv4' });

export const liveQueries = {
  'tasks.see': Joi.object<TaskKey, true>({ key: taskKey().required() }),
} satisfies Queries;
