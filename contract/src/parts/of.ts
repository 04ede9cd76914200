import type Joi from 'joi';
import type { RouteName } from '../routes.js';

/** Schemas of what routes take. */
export type Bodies = Partial<Record<RouteName, Joi.ObjectSchema>>;
export type Queries = Partial<Record<RouteName, Joi.ObjectSchema>>;
