import Joi from 'joi';
import { type Focus } from '@keyroster/core';
import type { Crop, LighterQuery, MediaChanges, MediaQuery, Replacement } from '../desk/types.js';
import { MEDIA_USES } from '../desk/types.js';
import type { Bodies, Queries } from '../parts/of.js';
import { id, tagNames, text } from '../parts/parts.js';

const focus = () =>
  Joi.object<Focus, true>({
    x: Joi.number().min(0).max(1).required(),
    y: Joi.number().min(0).max(1).required(),
  });
const weight = () => Joi.number().integer().min(20_000).max(20_000_000).required();
const pixels = (min: number) => Joi.number().integer().min(min).max(20_000).required();

export const mediaBodies = {
  'media.change': Joi.object<MediaChanges, true>({
    name: text(200),
    alt: text(1000),
    caption: text(1000),
    credit: text(300),
    licence: text(200),
    source: text(2000),
    tags: tagNames(),
    focus: focus(),
    binned: Joi.boolean(),
  }).min(1),
  'media.lighten': Joi.object<LighterQuery, true>({ bytes: weight() }),
  'media.crop': Joi.object<Crop, true>({
    left: pixels(0),
    top: pixels(0),
    width: pixels(1),
    height: pixels(1),
  }),
  'media.replace': Joi.object<Replacement, true>({ with: id().required() }),
} satisfies Bodies;

export const mediaQueries = {
  'media.list': Joi.object<MediaQuery, true>({
    words: text(200),
    tag: text(60),
    use: Joi.string().valid(...MEDIA_USES),
    before: id(),
  }),
  'media.weigh': Joi.object<LighterQuery, true>({ bytes: weight() }),
} satisfies Queries;
