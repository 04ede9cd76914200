import type { Handlers } from '../http/handlers.js';
import { listCampaigns, seeCampaign } from './campaign-views.js';
import { addCampaign, changeCampaign, removeCampaign } from './campaigns.js';

export const campaignHandlers: Handlers = {
  'campaigns.list': ({ trx, person }) => listCampaigns(trx, person),
  'campaigns.add': ({ trx, person, body }) => addCampaign(trx, person, body),
  'campaigns.see': ({ trx, person, id }) => seeCampaign(trx, person, id),
  'campaigns.change': ({ trx, person, id, body }) => changeCampaign(trx, person, id, body),
  'campaigns.remove': ({ trx, person, id }) => removeCampaign(trx, person, id),
};
