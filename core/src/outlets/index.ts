/** Pieces made from posts. */
export * from './alt.js';
export * from './card.js';
export * from './choose.js';
export * from './instruction.js';
export * from './length.js';
export * from './make.js';
export * from './moved-on.js';
export * from './outlet.js';
export * from './piece.js';
export * from './phrases.js';
export * from './rank.js';
export * from './source.js';
