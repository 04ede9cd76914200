export * from './at-release.js';
export * from './delivery-report.js';
export * from './letter.js';
export * from './refusal.js';
export * from './subscriber.js';
