import Joi from 'joi';
import type { Bodies, Queries } from '../parts/of.js';
import { text } from '../parts/parts.js';
import type {
  BlockRange,
  ComparisonQuery,
  Imported,
  Restoring,
  VersionName,
  VersionsQuery,
} from './types.js';

const version = () => Joi.number().integer().min(1).max(2_000_000_000);
const range = () =>
  Joi.object<BlockRange, true>({
    from: Joi.number().integer().min(0).max(60_000).required(),
    to: Joi.number().integer().min(Joi.ref('from')).max(60_000).required(),
  });

export const versionsQueries = {
  'versions.list': Joi.object<VersionsQuery, true>({
    before: version(),
    limit: Joi.number().integer().min(1).max(200),
  }),
  'versions.compare': Joi.object<ComparisonQuery, true>({
    from: version().required(),
    to: version().required(),
  }),
} satisfies Queries;

export const versionsBodies = {
  'versions.name': Joi.object<VersionName, true>({
    version: version().required(),
    name: Joi.string().trim().allow('').max(80).required(),
  }),
  'versions.imported': Joi.object<Imported, true>({ file: text(200, 1).required() }),
  'versions.update': Joi.object({}),
  'versions.restore': Joi.object<Restoring>({
    version: version().required(),
    what: Joi.string().valid('all', 'text', 'passage').required(),
    passage: Joi.object({ before: range().required(), after: range().required() }).when('what', {
      is: 'passage',
      then: Joi.required(),
      otherwise: Joi.forbidden(),
    }),
  }),
} satisfies Bodies;
