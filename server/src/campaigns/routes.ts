import type { Handlers } from '../http/handlers.js';
import { addCampaign, changeCampaign, listCampaigns, removeCampaign, seeCampaign } from './campaigns.js';

export const campaignHandlers: Handlers = {
  'campaigns.list': ({ trx, person }) => listCampaigns(trx, person),
  'campaigns.add': ({ trx, person, body }) => addCampaign(trx, person, body),
  'campaigns.see': ({ trx, person, id }) => seeCampaign(trx, person, id),
  'campaigns.change': ({ trx, person, id, body }) => changeCampaign(trx, person, id, body),
  'campaigns.remove': ({ trx, person, id }) => removeCampaign(trx, person, id),
};
