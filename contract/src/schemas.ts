import Joi from 'joi';
import { accessBodies, accessQueries } from './access/schemas.js';
import { accountsBodies } from './accounts/schemas.js';
import { postsBodies, postsQueries } from './posts/schemas.js';
import { archiveBodies, archiveQueries } from './archive/schemas.js';
import { changesBodies, changesQueries } from './changes/schemas.js';
import { deskBodies, deskQueries } from './desk/schemas.js';
import { mediaBodies, mediaQueries } from './media/schemas.js';
import { plannerBodies, plannerQueries } from './planner/schemas.js';
import { slotsBodies } from './slots/schemas.js';
import { findQueries } from './find/schemas.js';
import { outletsBodies, outletsQueries } from './outlets/schemas.js';
import { serialsBodies } from './serials/schemas.js';
import { siteBodies } from './site/schemas.js';
import { versionsBodies, versionsQueries } from './versions/schemas.js';
import { campaignsBodies } from './campaigns/schemas.js';
import { specialsBodies } from './specials/schemas.js';
import { commentsBodies, commentsQueries } from './comments/schemas.js';
import { lettersBodies, lettersQueries } from './letters/schemas.js';
export { emailAddress } from './letters/schemas.js';
import { resultsQueries } from './results/schemas.js';
import { checklistsBodies } from './checklists/schemas.js';
import { rosterBodies, rosterQueries } from './roster/schemas.js';
import { liveQueries } from './live/schemas.js';
import { ROUTES, type RouteName } from './routes.js';
import type { Bodies, Queries } from './parts/of.js';
import { id } from './parts/parts.js';

export interface RouteSchemas {
  params: Joi.ObjectSchema;
  query: Joi.ObjectSchema;
  body: Joi.ObjectSchema | null;
}

const bodies: Bodies = {
  ...accessBodies,
  ...accountsBodies,
  ...postsBodies,
  ...archiveBodies,
  ...changesBodies,
  ...deskBodies,
  ...mediaBodies,
  ...plannerBodies,
  ...slotsBodies,
  ...outletsBodies,
  ...serialsBodies,
  ...siteBodies,
  ...versionsBodies,
  ...rosterBodies,
  ...checklistsBodies,
  ...campaignsBodies,
  ...specialsBodies,
  ...commentsBodies,
  ...lettersBodies,
};

const queries: Queries = {
  ...accessQueries,
  ...postsQueries,
  ...archiveQueries,
  ...changesQueries,
  ...deskQueries,
  ...mediaQueries,
  ...plannerQueries,
  ...findQueries,
  ...versionsQueries,
  ...outletsQueries,
  ...commentsQueries,
  ...lettersQueries,
  ...resultsQueries,
  ...rosterQueries,
  ...liveQueries,
};

const splitStages = (query: Record<string, unknown>) => ({
  ...query,
  ...(typeof query['stage'] === 'string' ? { stage: query['stage'].split(',') } : {}),
});

/** The Joi schemas of a route. Unknown fields are refused everywhere. */
export function schemasOf(name: RouteName): RouteSchemas {
  return {
    params: ROUTES[name].path.includes(':id') ? Joi.object({ id: id().required() }) : Joi.object({}),
    query: queries[name] ?? Joi.object({}),
    body: bodies[name] ?? null,
  };
}

export function prepareQuery(name: RouteName, query: Record<string, unknown>): Record<string, unknown> {
  if (name === 'posts.list') return splitStages(query);
  return typeof query['ids'] === 'string' ? { ...query, ids: query['ids'].split(',') } : query;
}
