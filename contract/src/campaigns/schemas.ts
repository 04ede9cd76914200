import Joi from 'joi';
import { MAX_CAMPAIGN_ABOUT, MAX_CAMPAIGN_NAME } from '@keyroster/core';
import type { Bodies } from '../parts/of.js';
import { date, id, line, text } from '../parts/parts.js';
import type { CampaignChanges, NewCampaign } from './types.js';

const name = () => line(MAX_CAMPAIGN_NAME, 1).required();
/** Outlets that everything in a campaign goes to, at most. */
const MAX_OUTLETS = 20;

export const campaignsBodies = {
  'campaigns.add': Joi.object<NewCampaign, true>({ name: name() }),
  'campaigns.change': Joi.object<CampaignChanges, true>({
    name: name(),
    about: text(MAX_CAMPAIGN_ABOUT).required(),
    from: date().allow(null).required(),
    until: date().allow(null).required(),
    outletIds: Joi.array().items(id()).max(MAX_OUTLETS).unique().required() as unknown as Joi.ObjectSchema<
      readonly number[]
    >,
  }),
} satisfies Bodies;
