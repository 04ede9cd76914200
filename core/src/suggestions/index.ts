export * from './list.js';
export * from './settle.js';
