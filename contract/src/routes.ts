import { ACCESS_ROUTES, type AccessRoutes } from './access/routes.js';
import { ACCOUNTS_ROUTES, type AccountsRoutes } from './accounts/routes.js';
import { POSTS_ROUTES, type PostsRoutes } from './posts/routes.js';
import { ARCHIVE_ROUTES, type ArchiveRoutes } from './archive/routes.js';
import { CHANGES_ROUTES, type ChangesRoutes } from './changes/routes.js';
import { DESK_ROUTES, type DeskRoutes } from './desk/routes.js';
import { MEDIA_ROUTES, type MediaRoutes } from './media/routes.js';
import { PLANNER_ROUTES, type PlannerRoutes } from './planner/routes.js';
import { SLOTS_ROUTES, type SlotsRoutes } from './slots/routes.js';
import { TODAY_ROUTES, type TodayRoutes } from './today/routes.js';
import { FIND_ROUTES, type FindRoutes } from './find/routes.js';
import { OUTLETS_ROUTES, type OutletsRoutes } from './outlets/routes.js';
import { LETTERS_ROUTES, type LettersRoutes } from './letters/routes.js';
import { RESULTS_ROUTES, type ResultsRoutes } from './results/routes.js';
import { CAMPAIGNS_ROUTES, type CampaignsRoutes } from './campaigns/routes.js';
import { SPECIALS_ROUTES, type SpecialsRoutes } from './specials/routes.js';
import { SERIALS_ROUTES, type SerialsRoutes } from './serials/routes.js';
import { SITE_ROUTES, type SiteRoutes } from './site/routes.js';
import { LIVE_ROUTES, type LiveRoutes } from './live/routes.js';
import { VERSIONS_ROUTES, type VersionsRoutes } from './versions/routes.js';
import { COMMENTS_ROUTES, type CommentsRoutes } from './comments/routes.js';
import { CHECKLISTS_ROUTES, type ChecklistsRoutes } from './checklists/routes.js';
import { ROSTER_ROUTES, type RosterRoutes } from './roster/routes.js';
import type { RouteRow } from './route.js';

/** Every route, of all features. `file` routes take multipart form data with one part `file`. */
export interface RouteTypes
  extends
    AccessRoutes,
    AccountsRoutes,
    PostsRoutes,
    ArchiveRoutes,
    ChangesRoutes,
    DeskRoutes,
    MediaRoutes,
    PlannerRoutes,
    SlotsRoutes,
    TodayRoutes,
    FindRoutes,
    OutletsRoutes,
    CommentsRoutes,
    CampaignsRoutes,
    LettersRoutes,
    ResultsRoutes,
    SerialsRoutes,
    SpecialsRoutes,
    SiteRoutes,
    LiveRoutes,
    VersionsRoutes,
    RosterRoutes,
    ChecklistsRoutes {}

export type RouteName = keyof RouteTypes;

export const ROUTES: { readonly [K in RouteName]: RouteRow } = {
  ...ACCESS_ROUTES,
  ...ACCOUNTS_ROUTES,
  ...POSTS_ROUTES,
  ...ARCHIVE_ROUTES,
  ...CHANGES_ROUTES,
  ...DESK_ROUTES,
  ...MEDIA_ROUTES,
  ...PLANNER_ROUTES,
  ...SLOTS_ROUTES,
  ...TODAY_ROUTES,
  ...FIND_ROUTES,
  ...OUTLETS_ROUTES,
  ...CAMPAIGNS_ROUTES,
  ...LETTERS_ROUTES,
  ...RESULTS_ROUTES,
  ...SERIALS_ROUTES,
  ...SPECIALS_ROUTES,
  ...SITE_ROUTES,
  ...LIVE_ROUTES,
  ...VERSIONS_ROUTES,
  ...ROSTER_ROUTES,
  ...CHECKLISTS_ROUTES,
  ...COMMENTS_ROUTES,
};

type Part<K extends RouteName, P extends string> = RouteTypes[K] extends Record<P, infer T> ? T : undefined;
export type BodyOf<K extends RouteName> = Part<K, 'body'>;
export type QueryOf<K extends RouteName> = Part<K, 'query'>;
export type ReplyOf<K extends RouteName> = RouteTypes[K]['reply'];
export type HasId<K extends RouteName> = RouteTypes[K] extends { id: true } ? true : false;
