import { meaningOf, sayClock, sayDate, sayWhen, type Instant, type WallTime } from '@keyroster/core';
import { ProblemError } from '../http/problem.js';

export interface RunTime {
  run_local: WallTime;
  run_zone: string;
  run_at: Instant;
}

/** The run time that a text means in the blog's zone; throws with the two choices where the clock jumps. */
export function runTimeOf(text: string, zone: string): RunTime {
  const meaning = meaningOf(text, zone);
  if (!meaning) throw new ProblemError('bad-time', 'That is not a date and time that exists.');
  if (meaning.kind === 'exact') return { run_local: meaning.local, run_zone: zone, run_at: meaning.at };
  const [first, second] = meaning.choices;
  const day = sayDate(text);
  if (meaning.kind === 'gap') {
    throw new ProblemError('time-gap', `On ${day} the clocks go forward and ${text.slice(11, 16)} does not exist. The nearest times are ${sayClock(first.local)} and ${sayClock(second.local)}.`, { choices: meaning.choices });
  }
  throw new ProblemError('time-doubled', `On ${day} the clocks go back and ${text.slice(11, 16)} happens twice. Choose the earlier or the later one.`, { choices: meaning.choices });
}

/** The sentence that confirms a scheduled post. */
export function sayRelease(run: RunTime, nowLocal: string, backdated: boolean): string {
  const today = nowLocal.slice(0, 10);
  return backdated ? `Goes out now, dated ${sayDate(run.run_local, today)}, ${sayClock(run.run_local)}.` : `Goes out ${sayWhen(run.run_local, today)}.`;
}
