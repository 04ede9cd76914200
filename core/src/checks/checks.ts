import { CHECKS, type Check, type CheckFacts, type CheckSettings, USUAL_WEIGHTS } from './check.js';
import { RULES } from './rules.js';

const ORDER = { blocks: 0, warns: 1, fine: 2 } as const;

/** All checks of a post, what blocks first. Those that the blog turned off are left out. */
export function checkPost(facts: CheckFacts, settings: CheckSettings = {}): Check[] {
  return CHECKS.flatMap((key): Check[] => {
    const weight = settings[key] ?? USUAL_WEIGHTS[key];
    if (weight === 'off') return [];
    const { ok, ...finding } = RULES[key](facts);
    return [{ key, state: ok ? 'fine' : weight, ...finding }];
  }).sort((a, b) => ORDER[a.state] - ORDER[b.state]);
}

/** What is said of a post whose checks would take too long: that, as a warning, and nothing else. */
export function tooLongToCheck(settings: CheckSettings = {}): Check[] {
  const state = settings.reading ?? USUAL_WEIGHTS.reading;
  if (state === 'off') return [];
  const wanted = 'a text that can be measured in a few seconds';
  return [{ key: 'reading', state, measure: 'Too long to measure', wanted, fix: 'text', offer: 'Show' }];
}

export interface CheckCounts {
  blocks: number;
  warns: number;
}

export function countChecks(checks: readonly Check[]): CheckCounts {
  return {
    blocks: checks.filter((c) => c.state === 'blocks').length,
    warns: checks.filter((c) => c.state === 'warns').length,
  };
}
