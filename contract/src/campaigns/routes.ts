import type { RoutesOf } from '../route.js';
import type { CampaignChanges, CampaignLine, CampaignView, NewCampaign } from './types.js';

/** What goes in and comes out of each route. */
export interface CampaignsRoutes {
  'campaigns.list': { reply: CampaignLine[] };
  'campaigns.add': { body: NewCampaign; reply: CampaignView };
  'campaigns.see': { id: true; reply: CampaignView };
  'campaigns.change': { id: true; body: CampaignChanges; reply: CampaignView };
  'campaigns.remove': { id: true; reply: null };
}

/** Who may call what, and where. */
export const CAMPAIGNS_ROUTES = {
  'campaigns.list': {
    method: 'GET',
    path: '/api/campaigns',
    who: 'planCampaigns',
    summary: 'Campaigns, with how many posts each has and how many are out',
  },
  'campaigns.add': {
    method: 'POST',
    path: '/api/campaigns',
    who: 'planCampaigns',
    summary: 'Begin a campaign; posts that name it already are in it',
    status: 201,
  },
  'campaigns.see': {
    method: 'GET',
    path: '/api/campaigns/:id',
    who: 'planCampaigns',
    summary: 'A campaign: its posts and pieces in time, what is missing, what came of it',
  },
  'campaigns.change': {
    method: 'PUT',
    path: '/api/campaigns/:id',
    who: 'planCampaigns',
    saves: 'campaign',
    summary: 'Change a campaign; another name goes into its posts as well',
  },
  'campaigns.remove': {
    method: 'DELETE',
    path: '/api/campaigns/:id',
    who: 'planCampaigns',
    saves: 'campaign',
    summary: 'Delete a campaign; its posts stay and name it no more',
    status: 204,
  },
} as const satisfies RoutesOf<CampaignsRoutes>;
