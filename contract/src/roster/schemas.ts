import Joi from 'joi';
import { ROLES } from '@keyroster/core';
import type { Bodies, Queries } from '../parts/of.js';
import { date, email, id, link, newPassword, text, zone } from '../parts/parts.js';
import {
  NOTIFY,
  type Reassignment,
  type InviteSecret,
  type InviteAccepted,
  type LoadQuery,
  type NewInvite,
  type ProfileChanges,
} from './types.js';

const secret = () =>
  Joi.string()
    .pattern(/^[A-Za-z0-9_-]{20,100}$/)
    .required();

export const rosterBodies = {
  'people.profile': Joi.object<ProfileChanges, true>({
    name: text(120, 1),
    zone: zone().allow(null),
    biography: text(2000),
    pictureId: id().allow(null),
    links: Joi.array()
      .items(Joi.object({ label: text(80, 1).required(), url: link().min(1).required() }))
      .max(8),
    notify: Joi.string().valid(...NOTIFY),
    digestHour: Joi.number().integer().min(0).max(23),
  }).min(1),
  'people.reassign': Joi.object<Reassignment, true>({
    to: id().required(),
    from: date().allow(null).default(null),
    until: date().allow(null).default(null),
  }),
  'invites.make': Joi.object<NewInvite, true>({
    name: text(120, 1).required(),
    email: email().required(),
    role: Joi.string()
      .valid(...ROLES)
      .required(),
    categories: Joi.array().items(id()).max(100).unique().required(),
  }),
  'invites.see': Joi.object<InviteSecret, true>({ secret: secret() }),
  'invites.accept': Joi.object<InviteAccepted, true>({
    secret: secret(),
    name: text(120, 1).required(),
    password: newPassword().required(),
  }),
  'sessions.end': Joi.object<{ session: string }, true>({
    session: Joi.string().hex().length(64).required(),
  }),
} satisfies Bodies;

export const rosterQueries = {
  'load.see': Joi.object<LoadQuery, true>({
    from: date(),
    weeks: Joi.number().integer().min(1).max(26),
  }),
} satisfies Queries;
