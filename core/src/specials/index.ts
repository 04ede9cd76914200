export * from './offline.js';
export * from './specials.js';
