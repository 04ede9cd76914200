export * from './look.js';
export * from './menu.js';
export * from './palettes.js';
export * from './panels.js';
export * from './settings.js';
export * from './short-code.js';
export type { LookTokens } from './looks/tokens.js';
export * from './around.js';
export * from './spotlight.js';
