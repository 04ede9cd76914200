/** What crosses the wire: types, paths and error codes. The Joi schemas are in ./schemas, so that browsers need not load them. */
export * from './accounts.js';
export * from './archive.js';
export * from './desk.js';
export * from './outlets.js';
export * from './planner.js';
export * from './planner-answer.js';
export * from './posts.js';
export * from './problem.js';
export * from './routes.js';
export * from './site.js';
