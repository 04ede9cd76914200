import type { Handlers } from '../http/handlers.js';
import { listCampaigns, seeCampaign } from './campaign-views.js';
import { addCampaign, changeCampaign, removeCampaign } from './campaigns.js';

export const campaignHandlers: Handlers = {
  'campaigns.list': ({ trx, person }) => listCampaigns(trx, person),
  'campaigns.add': ({ trx, person, body }) => addCampaign(trx, person, body),
  'campaigns.see': ({ trx, person, id }) => seeCampaign(trx, person, id),
  'campaigns.change': ({ id, body, ...change }) => changeCampaign(change, id, body),
  'campaigns.remove': ({ id, ...change }) => removeCampaign(change, id),
};
