/// <reference lib="webworker" />
import {
  changesOf,
  coverLines,
  explain,
  problemFor,
  propose,
  type Placing,
  type PlanFacts,
  type PlanTask,
  type Problem,
} from '@keyroster/core';
import type { PlanAsked, PlanFound, PlanTold } from './plan-work';

addEventListener('message', ({ data }: MessageEvent<PlanAsked>) => {
  const end = performance.now() + data.ms;
  const problem = problemFor(data.facts, data.task, data.wishes);
  let last: { worth: number; bound: number; gap: number; optimal: boolean } | null = null;
  const tell = (told: PlanTold) => postMessage(told);
  for (const { placings, worth, bound, gap, optimal } of propose(problem)) {
    const better = last === null || worth > last.worth;
    if (better || bound < last!.bound || optimal)
      tell({
        found: better ? foundOf(data.facts, data.task, problem, placings) : null,
        gap,
        optimal,
        done: false,
      });
    last = { worth, bound, gap, optimal };
    if (performance.now() > end) break;
  }
  tell({ found: null, gap: last?.gap ?? 0, optimal: last?.optimal ?? true, done: true });
});

function foundOf(
  facts: PlanFacts,
  task: PlanTask,
  problem: Problem,
  placings: readonly Placing[],
): PlanFound {
  const explanation = explain(problem, placings);
  return {
    explanation,
    slots: problem.slots.length,
    changes: task.kind === 'without' ? changesOf(facts, problem, placings) : [],
    lines: task.kind === 'cover' ? coverLines(facts, task, explanation.placings) : [],
  };
}
