import { meaningOf, formatClock, formatDate, type RunTime } from '@keyroster/core';
import { ProblemError } from '../http/problem.js';

/** The run time that a text means in the blog's zone; throws with the two choices where the clock jumps. */
export function runTimeOf(text: string, zone: string): RunTime {
  const meaning = meaningOf(text, zone);
  if (!meaning) throw new ProblemError('bad-time', 'That is not a date and time that exists.');
  if (meaning.kind === 'exact') return { local: meaning.local, zone, at: meaning.at };
  const { choices } = meaning;
  const [first, second] = choices;
  const [day, time] = [formatDate(text), text.slice(11, 16)];
  if (meaning.kind === 'gap')
    throw new ProblemError(
      'time-gap',
      `On ${day} the clocks go forward and ${time} does not exist. ` +
        `The nearest times are ${formatClock(first.local)} and ${formatClock(second.local)}.`,
      { choices },
    );
  throw new ProblemError(
    'time-doubled',
    `On ${day} the clocks go back and ${time} happens twice. Choose the earlier or the later one.`,
    { choices },
  );
}
