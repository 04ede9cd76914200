export * from './batch.js';
export * from './changes.js';
export * from './differences.js';
export type { BatchContext } from './edits-of.js';
export * from './replace.js';
export * from './run-times.js';
export { formatChange, type BatchNames } from './format.js';
