import Joi from 'joi';
import { type SlotException } from '@keyroster/core';
import type { NewSlot, SlotQuestion } from '../planner/types.js';
import type { Bodies } from '../parts/of.js';
import { clock, date, id, text, weekday } from '../parts/parts.js';

const slot = () =>
  Joi.object<NewSlot, true>({
    weekday: weekday().required(),
    time: clock().required(),
    categoryId: id().required(),
    format: text(60).default(''),
    from: date().allow(null).default(null),
    until: date().allow(null).default(null),
    everyWeeks: Joi.number().integer().min(1).max(26).default(1),
    exceptions: Joi.array()
      .items(
        Joi.object<SlotException, true>({
          date: date().required(),
          movedTo: date().allow(null).required(),
          movedTime: clock().allow(null).required(),
        }),
      )
      .max(200)
      .default([]),
  });

export const slotsBodies = {
  'slots.add': slot(),
  'slots.change': slot(),
  'slots.weigh': Joi.object<SlotQuestion, true>({
    id: id().allow(null).required(),
    slot: slot().allow(null).required(),
  }),
} satisfies Bodies;
