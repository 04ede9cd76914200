import Joi from 'joi';
import {
  ACCESS,
  POST_FIELDS,
  SETTABLE_FIELDS,
  STAGES,
  type Brief,
  type DateConstraint,
  type LeadPicture,
  type SettableField,
  type TextFieldName,
} from '@keyroster/core';
import type { NewCapture, NewMove, NewPost, PostChanges, PostQuery } from './types.js';
import { POST_SORTS } from './types.js';
import type { Bodies, Queries } from '../parts/of.js';
import {
  link,
  slug,
  date,
  fieldText,
  formatValue,
  id,
  ids,
  tagNames,
  text,
  wallTime,
  spotlight,
} from '../parts/parts.js';

const brief = Joi.object<Brief, true>({
  angle: text(4000).required(),
  length: Joi.number().integer().min(1).max(100_000).allow(null).required(),
  copyDate: date().allow(null).required(),
});
const leadPicture = Joi.object<LeadPicture>({ media: id().required(), alt: text(1000).required() });
const dateConstraint = () =>
  Joi.object<DateConstraint, true>({
    notBefore: date().allow(null).required(),
    notAfter: date().allow(null).required(),
    mustBeOn: date().allow(null).required(),
  });
const formatValues = () => Joi.object().pattern(Joi.string().max(40), formatValue()).max(40);
/** `stage=drafting,cleared` or `stage=drafting&stage=cleared`. */
const stages = () =>
  Joi.array()
    .items(Joi.string().valid(...STAGES))
    .single()
    .max(STAGES.length);

type Plain = { text: Joi.StringSchema; flag: Joi.BooleanSchema; reference: Joi.NumberSchema };
type KindOf<F extends SettableField> = (typeof POST_FIELDS)[F]['kind'];
type PlainField = { [F in SettableField]: KindOf<F> extends keyof Plain ? F : never }[SettableField];
const PLAIN: { [K in keyof Plain]: (field: SettableField) => Plain[K] } = {
  text: (field) => fieldText(field as TextFieldName),
  flag: () => Joi.boolean(),
  reference: () => id().allow(null),
};
const isPlain = (kind: string): kind is keyof Plain => kind in PLAIN;
/** Fields of text, switches and references, by the registry; the others say below what they may be. */
const PLAIN_CHANGES = Object.fromEntries(
  SETTABLE_FIELDS.flatMap((field) => {
    const { kind } = POST_FIELDS[field];
    return isPlain(kind) ? [[field, PLAIN[kind](field)]] : [];
  }),
) as { [F in PlainField]: Plain[Extract<KindOf<F>, keyof Plain>] };

export const postsBodies = {
  'posts.pitch': Joi.object<NewPost, true>({
    title: fieldText('title').required(),
    thought: fieldText('thought'),
    categoryId: id().allow(null),
    bylineId: id().allow(null),
    dateConstraint: dateConstraint(),
    runAt: wallTime(),
  }),
  'posts.capture': Joi.object<NewCapture, true>({
    key: Joi.string().guid({ version: 'uuidv4' }).required(),
    title: fieldText('title').required(),
    thought: fieldText('thought').required(),
    text: text(100_000).required(),
    categoryId: id().allow(null).required(),
  }),
  'posts.change': Joi.object<PostChanges, true>({
    ...PLAIN_CHANGES,
    leadPicture: leadPicture.allow(null),
    slug: slug().allow(null),
    coauthorIds: ids() as unknown as Joi.ObjectSchema<readonly number[]>,
    access: Joi.string().valid(...ACCESS),
    tags: tagNames(),
    formatValues: formatValues(),
    sourceUrl: link(),
    spotlight: spotlight().allow(null),
    brief,
    dateConstraint: dateConstraint(),
    rating: Joi.number().integer().min(1).max(5).allow(null),
    runAt: wallTime().allow(null),
  }).min(1),
  'posts.move': Joi.object<NewMove, true>({
    to: Joi.string()
      .valid(...STAGES)
      .required(),
    runAt: wallTime(),
    note: text(4000),
  }),
} satisfies Bodies;

export const postsQueries = {
  'posts.list': Joi.object<PostQuery, true>({
    stage: stages(),
    category: id(),
    byline: id(),
    words: text(200),
    sort: Joi.string().valid(...POST_SORTS),
    cursor: Joi.string().max(400),
    limit: Joi.number().integer().min(1).max(200),
  }),
} satisfies Queries;
