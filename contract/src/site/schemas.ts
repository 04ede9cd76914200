import Joi from 'joi';
import { CHECKS, CHECK_WEIGHTS, type CheckSettings } from '@keyroster/core';
import type { BlogChanges, CategoryChanges, NewCategory } from './types.js';
import type { Bodies } from '../parts/of.js';
import { id, text, weekday } from '../parts/parts.js';

const hue = () => Joi.number().integer().min(1).max(10);
const checkSettings = () =>
  Joi.object<CheckSettings>(
    Object.fromEntries(CHECKS.map((key) => [key, Joi.string().valid(...CHECK_WEIGHTS)])),
  );

export const siteBodies = {
  'blog.change': Joi.object<BlogChanges, true>({
    title: text(120, 1),
    tagline: text(300),
    firstWeekday: weekday(),
    checks: checkSettings(),
    binDays: Joi.number().integer().min(1).max(3650).allow(null),
  }).min(1),
  'categories.add': Joi.object<NewCategory, true>({ name: text(60, 1).required(), hue: hue().required() }),
  'categories.change': Joi.object<CategoryChanges, true>({
    name: text(60, 1),
    hue: hue(),
    mergeInto: id(),
  }).min(1),
} satisfies Bodies;
