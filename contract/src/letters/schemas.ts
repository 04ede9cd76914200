import Joi from 'joi';
import { MAX_LETTER_INTRO, MAX_LETTER_POSTS, MAX_SUBJECT, SUBSCRIBER_STATES } from '@keyroster/core';
import { taskKey } from '../live/schemas.js';
import type { TaskOf } from '../live/types.js';
import type { Bodies, Queries } from '../parts/of.js';
import { id, line, text } from '../parts/parts.js';
import type {
  LetterChanges,
  LetterDoubt,
  NewLetter,
  NewSubscriber,
  RestoreSubscribers,
  SubscriberChanges,
  SubscribersQuery,
} from './types.js';

/** As long as a reason is kept. */
const MAX_REASON = 500;

const postIds = () =>
  Joi.array().items(id()).max(MAX_LETTER_POSTS).unique().required() as unknown as Joi.ObjectSchema<
    readonly number[]
  >;

/** An address as it is kept: in small letters, as mail programs compare them. */
export const emailAddress = () => Joi.string().trim().lowercase().max(254).email({ tlds: false });

export const lettersBodies = {
  'subscribers.add': Joi.object<NewSubscriber, true>({
    email: emailAddress().required(),
    name: line(120).required(),
  }),
  'subscribers.change': Joi.object<SubscriberChanges, true>({
    name: line(120),
    left: Joi.valid(true) as unknown as Joi.BooleanSchema<true>,
  }).min(1),
  'subscribers.restore': Joi.object<RestoreSubscribers, true>({
    ids: Joi.array().items(id()).min(1).max(200) as unknown as Joi.ObjectSchema<readonly number[]>,
    reason: text(MAX_REASON),
  }).xor('ids', 'reason'),
  'letters.add': Joi.object<NewLetter, true>({ postIds: postIds() }),
  'letters.change': Joi.object<LetterChanges, true>({
    subject: line(MAX_SUBJECT).required(),
    intro: text(MAX_LETTER_INTRO).required(),
    whole: Joi.boolean().required(),
    postIds: postIds(),
  }),
  'letters.try': Joi.object({}),
  'letters.send': Joi.object({}),
  'letters.stop': Joi.object({}),
  'letters.resume': Joi.object({}),
  'letters.settle': Joi.object<LetterDoubt, true>({ again: Joi.boolean().required() }),
} satisfies Bodies;

export const lettersQueries = {
  'subscribers.import': Joi.object<TaskOf, true>({ task: taskKey() }),
  'subscribers.list': Joi.object<SubscribersQuery, true>({
    state: Joi.string().valid(...SUBSCRIBER_STATES),
    q: text(254),
    before: id(),
  }),
} satisfies Queries;
