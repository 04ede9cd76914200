import Joi from 'joi';
import { FIELD_KINDS, type FormatField } from '@keyroster/core';
import type {
  FormatChanges,
  NewBody,
  NewFormat,
  NewNote,
  NewTemplate,
  NewTitleTrial,
  NoteChanges,
  OutQuery,
  TagChanges,
  TemplateChanges,
} from './types.js';
import type { NewCopy } from '../posts/types.js';
import { OUT_KINDS } from './types.js';
import { taskKey } from '../live/schemas.js';
import type { TaskOf } from '../live/types.js';
import type { Bodies, Queries } from '../parts/of.js';
import { fieldText, id, text } from '../parts/parts.js';

const field = Joi.object<FormatField, true>({
  key: Joi.string()
    .pattern(/^[a-z][a-z0-9-]{0,39}$/)
    .required(),
  label: text(80, 1).required(),
  kind: Joi.string()
    .valid(...FIELD_KINDS)
    .required(),
  required: Joi.boolean().required(),
  hint: text(200).required(),
  choices: Joi.array<readonly string[]>()
    .items(text(80, 1))
    .max(40)
    .required() as unknown as Joi.ObjectSchema<readonly string[]>,
});
const formatFields = () => Joi.array().items(field).max(30);
const starter = () => Joi.string().max(100_000).allow('');

export const deskBodies = {
  'posts.copy': Joi.object<NewCopy, true>({ title: fieldText('title'), blogId: id(), move: Joi.boolean() }),
  'body.store': Joi.object<NewBody, true>({ body: Joi.object().unknown(true).required() }),
  'notes.add': Joi.object<NewNote, true>({
    text: text(4000, 1).required(),
    passage: Joi.object({
      exact: Joi.string().min(1).max(4000).required(),
      prefix: Joi.string().max(64).allow('').required(),
      suffix: Joi.string().max(64).allow('').required(),
    })
      .custom((value, helpers) =>
        /\u0000|[\ud800-\udfff]/u.test(Object.values(value).join('')) ? helpers.error('any.invalid') : value,
      )
      .allow(null),
    parentId: id().allow(null),
  }),
  'notes.see': Joi.object({}),
  'tags.change': Joi.object<TagChanges, true>({ name: text(60, 1), mergeInto: id() }).xor(
    'name',
    'mergeInto',
  ),
  'formats.add': Joi.object<NewFormat, true>({
    name: text(60, 1).required(),
    hint: text(300).default(''),
    fields: formatFields().default([]),
    starterText: starter().default(''),
  }),
  'formats.change': Joi.object<FormatChanges, true>({
    name: text(60, 1),
    hint: text(300),
    fields: formatFields(),
    starterText: starter(),
    retired: Joi.boolean(),
  }).min(1),
  'templates.add': Joi.object<NewTemplate, true>({
    name: text(80, 1).required(),
    text: starter(),
    postId: id(),
  }).xor('text', 'postId'),
  'templates.change': Joi.object<TemplateChanges, true>({ name: text(80, 1), text: starter() }).min(1),
  'trials.keep': Joi.object<NewTitleTrial, true>({ title: fieldText('title').required() }),
  'notes.change': Joi.object<NoteChanges, true>({ settled: Joi.boolean().required() }),
} satisfies Bodies;

export const deskQueries = {
  'import.convert': Joi.object<TaskOf, true>({ task: taskKey() }),
  'posts.out': Joi.object<OutQuery, true>({
    as: Joi.string()
      .valid(...OUT_KINDS)
      .required(),
    suggestions: Joi.boolean().when('as', { not: Joi.valid('html', 'docx'), then: Joi.valid(false) }),
  }),
} satisfies Queries;
