import Joi from 'joi';
import { ROLES, TOKEN_SCOPES } from '@keyroster/core';
import type { MeChanges, NewPassword, NewPerson, NewToken, PersonChanges, SetUp, SignIn } from './types.js';
import type { Bodies } from '../parts/of.js';
import { email, id, newPassword, text, zone } from '../parts/parts.js';

const capacity = () => Joi.number().integer().min(0).max(50).allow(null);

export const accountsBodies = {
  'session.choose': Joi.object<{ blogId: number }, true>({ blogId: id().required() }),
  'session.open': Joi.object<SignIn, true>({
    email: Joi.string().trim().lowercase().max(254).required(),
    password: Joi.string().max(200).required(),
  }),
  'setup.make': Joi.object<SetUp, true>({
    blogTitle: text(120, 1).required(),
    zone: zone().required(),
    name: text(120, 1).required(),
    email: email().required(),
    password: newPassword().required(),
  }),
  'me.change': Joi.object<MeChanges, true>({
    mailMentions: Joi.boolean(),
    mailComments: Joi.boolean(),
  }).min(1),
  'me.password': Joi.object<NewPassword, true>({
    current: Joi.string().max(200).required(),
    password: newPassword().required(),
  }),
  'tokens.make': Joi.object<NewToken, true>({
    name: text(80, 1).required(),
    scopes: Joi.array()
      .items(Joi.string().valid(...TOKEN_SCOPES))
      .min(1)
      .unique()
      .required(),
  }),
  'people.add': Joi.object<NewPerson, true>({
    name: text(120, 1).required(),
    email: email().required(),
    password: newPassword().required(),
    role: Joi.string()
      .valid(...ROLES)
      .required(),
    categories: Joi.array().items(id()).max(100).unique().required(),
  }),
  'people.change': Joi.object<PersonChanges, true>({
    name: text(120, 1),
    role: Joi.string().valid(...ROLES),
    categories: Joi.array().items(id()).max(100).unique(),
    active: Joi.boolean(),
    password: newPassword(),
    capacity: capacity(),
    writes: Joi.array().items(id()).max(100).unique(),
  }).min(1),
} satisfies Bodies;
