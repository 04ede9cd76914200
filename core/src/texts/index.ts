export * from './shared-text.js';
