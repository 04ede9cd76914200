import Joi from 'joi';
import { MAX_SPECIAL_INTRO, MAX_SPECIAL_POSTS, MAX_SPECIAL_TITLE } from '@keyroster/core';
import type { Bodies } from '../parts/of.js';
import { host, id, line, look, slug, text } from '../parts/parts.js';
import type { NewSpecial, SpecialDraft, SpecialPublished, SpecialTried } from './types.js';

const draft = {
  title: line(MAX_SPECIAL_TITLE, 1).required(),
  intro: text(MAX_SPECIAL_INTRO).required(),
  slug: slug().required(),
  host: host().required(),
  look: look(),
  coverId: id().allow(null).required(),
  coverAlt: line(500).required(),
  postIds: Joi.array().items(id()).max(MAX_SPECIAL_POSTS).unique().required() as unknown as Joi.ObjectSchema<
    readonly number[]
  >,
};

export const specialsBodies = {
  'specials.add': Joi.object<NewSpecial, true>({ title: line(MAX_SPECIAL_TITLE, 1).required() }),
  'specials.change': Joi.object<SpecialDraft, true>(draft),
  'specials.try': Joi.object<SpecialTried, true>({ page: id().allow(null).required(), ...draft }),
  'specials.publish': Joi.object<SpecialPublished, true>({
    published: Joi.boolean().required(),
  }),
} satisfies Bodies;
