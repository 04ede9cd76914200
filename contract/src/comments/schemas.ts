import Joi from 'joi';
import { COMMENT_STATES, MAX_COMMENT } from '@keyroster/core';
import type { Bodies, Queries } from '../parts/of.js';
import { id, text } from '../parts/parts.js';
import type { CommentAnswer, CommentMove, CommentsQuery } from './types.js';

/** Comments that are moved at once, at most. */
export const MAX_MOVED = 10_000;
const state = () => Joi.string().valid(...COMMENT_STATES);

export const commentsBodies = {
  'comments.move': Joi.object<CommentMove, true>({
    ids: Joi.array().items(id()).min(1).max(MAX_MOVED).unique().required() as unknown as Joi.ObjectSchema<
      readonly number[]
    >,
    to: state().required(),
  }),
  'comments.undo': Joi.object({}),
  'comments.answer': Joi.object<CommentAnswer, true>({ text: text(MAX_COMMENT, 1).required() }),
} satisfies Bodies;

export const commentsQueries = {
  'comments.list': Joi.object<CommentsQuery, true>({
    state: state(),
    postId: id(),
    q: text(100),
    before: id(),
  }),
} satisfies Queries;
