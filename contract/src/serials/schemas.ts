import Joi from 'joi';
import { MAX_DELAY, MAX_PARTS, type Delay } from '@keyroster/core';
import type { Bodies } from '../parts/of.js';
import { id, text, wallTime } from '../parts/parts.js';
import type { FirstVisit, NewSerial, SerialChanges } from './types.js';

const count = (max: number) => Joi.number().integer().min(0).max(max).required();
const delay = () =>
  Joi.object<Delay, true>({
    days: count(MAX_DELAY.days),
    hours: count(MAX_DELAY.hours),
    minutes: count(MAX_DELAY.minutes),
  }).required();
const named = { title: text(120, 1).required(), intro: text(1000).required() };

export const serialsBodies = {
  'serials.add': Joi.object<NewSerial, true>(named),
  'serials.change': Joi.object<SerialChanges, true>({
    ...named,
    parts: Joi.array()
      .items(Joi.object({ postId: id().required(), delay: delay() }))
      .max(MAX_PARTS)
      .unique('postId')
      .required() as unknown as Joi.ArraySchema,
    accepting: Joi.boolean().required(),
  }),
  'serials.seenAs': Joi.object<FirstVisit, true>({
    firstVisit: wallTime().required(),
    page: Joi.string().valid('front', 'part').required(),
    postId: id().allow(null).required(),
  }),
} satisfies Bodies;
