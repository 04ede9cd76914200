export * from './delay.js';
export * from './serial.js';
