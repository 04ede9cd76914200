import Joi from 'joi';
import type { Bodies, Queries } from '../parts/of.js';
import { text } from '../parts/parts.js';
import type { MemberChanges, MembersQuery, NewPreviewLink } from './types.js';

/** How long a link for outsiders may lead somewhere. */
export const MAX_PREVIEW_DAYS = 60;

export const accessBodies = {
  'previewLinks.add': Joi.object<NewPreviewLink, true>({
    label: text(120).required(),
    days: Joi.number().integer().min(1).max(MAX_PREVIEW_DAYS).required(),
  }),
  'members.change': Joi.object<MemberChanges, true>({ blocked: Joi.boolean().required() }),
} satisfies Bodies;

export const accessQueries = {
  'members.list': Joi.object<MembersQuery, true>({ q: text(254) }),
} satisfies Queries;
