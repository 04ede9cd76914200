import Joi from 'joi';
import { ACCESS, type Brief, type DateConstraint, type LeadPicture, STAGES } from '@keyroster/core';
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
    title: fieldText('title'),
    thought: fieldText('thought'),
    excerpt: fieldText('excerpt'),
    leadPicture: leadPicture.allow(null),
    slug: slug().allow(null),
    categoryId: id().allow(null),
    secondCategoryId: id().allow(null),
    bylineId: id().allow(null),
    coauthorIds: ids() as unknown as Joi.ObjectSchema<readonly number[]>,
    editorId: id().allow(null),
    proofreaderId: id().allow(null),
    proofreaderWrites: Joi.boolean(),
    access: Joi.string().valid(...ACCESS),
    readingPassword: fieldText('readingPassword'),
    subtitle: fieldText('subtitle'),
    tags: tagNames(),
    formatId: id().allow(null),
    formatValues: formatValues(),
    sharePicture: id().allow(null),
    inSearch: Joi.boolean(),
    mailAtRelease: Joi.boolean(),
    searchTitle: fieldText('searchTitle'),
    searchDescription: fieldText('searchDescription'),
    sourceUrl: link(),
    titleLinks: Joi.boolean(),
    place: fieldText('place'),
    comments: Joi.boolean(),
    commentCall: fieldText('commentCall'),
    campaign: fieldText('campaign'),
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
