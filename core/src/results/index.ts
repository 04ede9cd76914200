export * from './best-hours.js';
export * from './figures.js';
export * from './groups.js';
export * from './spans.js';
export * from './statistics.js';
