import { existsSync, readFileSync } from 'node:fs';

/** The middle one; of an even number, the upper of the two in the middle. */
export const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
export const max = (list) => Math.max(...list);
export const said = (list) => `median ${median(list).toFixed(0)} ms (most ${max(list).toFixed(0)} ms)`;

/** The cookies that an answer sets, to be sent back. */
export const cookiesOf = (answer) =>
  answer.headers
    .getSetCookie()
    .map((line) => line.split(';')[0])
    .join('; ');

/** Time of all processors since the start of the machine, in ticks: worked for us, and taken by the host (Linux). */
export function cpuTimes() {
  if (!existsSync('/proc/stat')) return { all: 0, stolen: 0 };
  const ticks = readFileSync('/proc/stat', 'utf8').split('\n')[0].trim().split(/\s+/).slice(1, 9).map(Number);
  return { all: ticks.reduce((sum, t) => sum + t, 0), stolen: ticks[7] };
}

/** The share that the host took between two looks, in percent. */
export const stolenBetween = (before, after) =>
  after.all === before.all ? 0 : (100 * (after.stolen - before.stolen)) / (after.all - before.all);
