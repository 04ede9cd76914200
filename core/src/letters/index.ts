export * from './delivery-report.js';
export * from './letter.js';
export * from './subscriber.js';
