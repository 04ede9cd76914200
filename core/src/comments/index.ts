export * from './comments.js';
export * from './corpus.js';
export * from './spam.js';
