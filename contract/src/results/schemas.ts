import Joi from 'joi';
import type { Queries } from '../parts/of.js';
import { date, id } from '../parts/parts.js';
import type { PlaceQuery, ResultsQuery } from './types.js';

const span = () => Joi.object<ResultsQuery, true>({ from: date(), to: date() }).and('from', 'to');

export const resultsQueries = {
  'results.see': span(),
  'results.export': span(),
  'results.place': Joi.object<PlaceQuery, true>({ person: id(), outlet: id(), post: id() }).length(1),
} satisfies Queries;
