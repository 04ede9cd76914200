export * from './best-times.js';
/** Pieces in time: when they go out, by the release of their post. */
export * from './clash.js';
export * from './evergreen.js';
export * from './timing.js';
