export * from './list.js';
export * from './outside.js';
export * from './settle.js';
