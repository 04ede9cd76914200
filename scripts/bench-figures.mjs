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
