export { worthOf, type Choice, type Model, type Solution } from './model.js';
export { bestAssignment, type Assignment } from './hungarian.js';
export { gapOf, solve, type Progress } from './solve.js';
