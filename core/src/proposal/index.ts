export * from './problem.js';
export { deadlinesOf, type Deadlines } from './deadlines.js';
export { explain, formatLeadTime, type ExplainedPlacing, type Explanation } from './explain.js';
export { changesOf, type PlanChange } from './changes.js';
export { coverLines, type CoverDeed, type CoverLine, type CoverStep } from './cover.js';
export { openSlots, problemFor, type PlanFacts, type PlanPost, type PlanTask } from './facts.js';
export * from './turnaround.js';
export { propose, type ProposalProgress } from './propose.js';
