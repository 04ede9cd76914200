import Joi from 'joi';
import {
  ACCESS,
  REPLACE_LIMITS,
  REPLACE_PLACES,
  STAGES,
  type BatchChange,
  type ReplacePlace,
} from '@keyroster/core';
import {
  ARCHIVE_SORTS,
  ITEM_STATES,
  type ArchiveQuery,
  type BatchItemsQuery,
  type BinAsked,
  type ItemChanges,
  type NewBatch,
  type NewKeptFilter,
  type PickQuery,
  type RevertAsked,
} from './types.js';
import type { Bodies, Queries } from '../parts/of.js';
import { date, fieldText, formatValue, id, spotlight, text } from '../parts/parts.js';

/** More posts than a blog has are not named one by one. */
const MAX_POSTS = 100_000;
const isId = (value: unknown): boolean =>
  Number.isInteger(value) && (value as number) >= 1 && (value as number) <= 2_147_483_647;
/** Looked at in one go: a schema for each of 100,000 numbers would hold up everybody else. */
export const manyIds = () =>
  Joi.array<number[]>()
    .max(MAX_POSTS)
    .custom((value: number[], helpers) => (value.every(isId) ? value : helpers.error('array.ids')))
    .messages({ 'array.ids': '{{#label}} must hold numbers of posts' });
const line = () => text(1000);
const sort = () => Joi.string().valid(...ARCHIVE_SORTS.flatMap((s) => [s, `-${s}`]));
const tagIds = () => Joi.array().items(id()).max(40).unique().required();
const merged = () => Joi.array().items(id()).min(1).max(40).unique().required();

type ChangeOf<K extends BatchChange['kind']> = Omit<Extract<BatchChange, { kind: K }>, 'kind'>;
const change = <K extends BatchChange['kind']>(
  kind: K,
  fields: { [F in keyof Required<ChangeOf<K>>]: Joi.Schema },
) => Joi.object({ kind: Joi.string().valid(kind).required(), ...fields });

const changes = () =>
  Joi.array<BatchChange[]>()
    .min(1)
    .max(12)
    .items(
      change('byline', { to: id().allow(null).required() }),
      change('category', { to: id().required() }),
      change('second category', { to: id().allow(null).required() }),
      change('tags', { gain: tagIds(), lose: tagIds() }),
      change('categories merge', { from: merged(), into: id().required() }),
      change('tags merge', { from: merged(), into: id().required() }),
      change('lighten', { max: Joi.number().integer().min(50_000).max(10_000_000).required() }),
      change('tags become', { to: tagIds() }),
      change('access', {
        to: Joi.string()
          .valid(...ACCESS)
          .required(),
      }),
      change('comments', { to: Joi.boolean().required() }),
      change('spotlight', { to: spotlight().allow(null).required() }),
      change('campaign', { to: fieldText('campaign').required() }),
      change('format field', {
        formatId: id().required(),
        key: Joi.string().max(40).required(),
        to: formatValue().allow(null).required(),
      }),
      change('replace', {
        places: Joi.array<ReplacePlace[]>()
          .items(Joi.string().valid(...REPLACE_PLACES))
          .min(1)
          .unique()
          .required(),
        find: Joi.string().max(REPLACE_LIMITS.find).required(),
        with: Joi.string().max(REPLACE_LIMITS.with).allow('').required(),
        pattern: Joi.boolean().required(),
        capitals: Joi.boolean().required(),
      }),
      change('shift', {
        days: Joi.number().integer().min(-36_500).max(36_500).required(),
        minutes: Joi.number().integer().min(-1440).max(1440).required(),
      }),
      change('spread', { from: date().required() }),
      change('stage', {
        to: Joi.string()
          .valid(...STAGES.filter((s) => s !== 'published'))
          .required(),
        note: text(4000),
      }),
      change('reassign', { from: id().required(), to: id().required() }),
      change('bin', {}),
    )
    .required();

export const archiveBodies = {
  'filters.add': Joi.object<NewKeptFilter, true>({
    name: text(80, 1).required(),
    line: line().required(),
    sort: sort().allow('').required(),
    shared: Joi.boolean().required(),
  }),
  'batches.preview': Joi.object<NewBatch>({
    changes: changes(),
    ids: manyIds().min(1),
    line: line(),
    except: manyIds(),
    atOnce: Joi.boolean(),
  }).xor('ids', 'line'),
  'batches.choose': Joi.object<ItemChanges>({ leave: manyIds(), include: manyIds() }).min(1),
  'posts.open': Joi.object({}),
  'batches.apply': Joi.object({}),
  'batches.undo': Joi.object({}),
  'batches.cancel': Joi.object({}),
  'batches.revert': Joi.object<RevertAsked>({ force: Joi.boolean() }),
  'bin.restore': Joi.object<BinAsked>({ ids: manyIds().min(1).required() }),
  'bin.weigh': Joi.object<BinAsked>({ ids: manyIds().min(1).required() }),
  'bin.erase': Joi.object<BinAsked>({ ids: manyIds().min(1).required() }),
} satisfies Bodies;

const query = { line: line(), sort: sort() };
export const archiveQueries = {
  'archive.rows': Joi.object<ArchiveQuery>({ ...query, limit: Joi.number().integer().min(1).max(200) }),
  'archive.ids': Joi.object<ArchiveQuery>(query),
  'archive.counts': Joi.object<ArchiveQuery>({ line: line() }),
  'archive.csv': Joi.object<ArchiveQuery>(query),
  'archive.pick': Joi.object<PickQuery>({
    ids: Joi.array().items(id()).single().min(1).max(200).required(),
    words: text(1000),
  }),
  'batches.items': Joi.object<BatchItemsQuery>({
    state: Joi.string().valid(...ITEM_STATES),
    from: Joi.number().integer().min(0).max(MAX_POSTS),
    limit: Joi.number().integer().min(1).max(200),
  }),
} satisfies Queries;
