export * from './problem.js';
export { deadlinesOf, type Deadlines } from './deadlines.js';
export { explain, formatLeadTime, type ExplainedPlacing, type Explanation } from './explain.js';
export { propose, type ProposalProgress } from './propose.js';
