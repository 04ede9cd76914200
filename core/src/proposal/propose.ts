import { gapOf, solve } from '../assignment/index.js';
import { compile } from './compile.js';
import type { Placing, Problem } from './problem.js';

/** How far the search for a plan has come; the last one holds. */
export interface ProposalProgress {
  placings: readonly Placing[];
  /** What the plan is worth, and what no plan can exceed, in points of `WEIGHTS`. */
  worth: number;
  bound: number;
  /** Share by which a better plan could exceed this one at most; 0 once it is proven that none does. */
  gap: number;
  optimal: boolean;
}

/**
 * Looks for the best plan, step by step; see docs/planning.md. It takes as long as it is asked for more, and
 * ends by itself when the optimum is proven. Pure: the same problem gives the same steps.
 */
export function* propose(problem: Problem): Generator<ProposalProgress, void, void> {
  const { model, placings, pinned, base } = compile(problem);
  for (const progress of solve(model)) {
    const worth = base + progress.worth;
    const bound = base + progress.bound;
    yield {
      placings: [...pinned, ...[...progress.solution].filter((i) => i >= 0).map((i) => placings[i]!)],
      worth,
      bound,
      gap: gapOf({ worth, bound }),
      optimal: progress.optimal,
    };
  }
}
