/**
 * What crosses the wire: types, paths and error codes. The Joi schemas are in ./schemas, so that browsers
 * need not load them.
 */
export * from './access/types.js';
export * from './accounts/types.js';
export * from './archive/types.js';
export * from './checklists/types.js';
export * from './campaigns/types.js';
export * from './changes/types.js';
export * from './specials/types.js';
export * from './comments/types.js';
export * from './letters/types.js';
export * from './live/types.js';
export * from './results/types.js';
export * from './desk/types.js';
export * from './outlets/types.js';
export * from './planner/types.js';
export * from './planner/answer.js';
export * from './posts/types.js';
export * from './problem.js';
export * from './versioned.js';
export type { RouteRow } from './route.js';
export * from './routes.js';
export * from './roster/types.js';
export * from './serials/types.js';
export * from './site/types.js';
export * from './texts/messages.js';
export * from './today/types.js';
export * from './versions/types.js';
