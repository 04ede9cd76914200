import type { Choice, Model } from './model.js';

/** A model in the LP format that solvers of linear programs read; for holding `solve` against one. */
export function lpOf({ choices, limits, softLimits, places, items }: Model): string {
  const terms = (which: (choice: Choice) => boolean) =>
    choices
      .flatMap((c, i) => (which(c) ? [`+ x${i}`] : []))
      .reduce((text, term, i) => text + (i % 12 === 11 ? `\n ${term}` : ` ${term}`), '');
  const rows: string[] = [];
  const row = (left: string, max: number) => left && rows.push(` r${rows.length}:${left} <= ${max}`);
  for (let p = 0; p < places; p++)
    row(
      terms((c) => c.place === p),
      1,
    );
  for (let i = 0; i < items; i++)
    row(
      terms((c) => c.item === i),
      1,
    );
  for (const [l, { max }] of limits.entries())
    row(
      terms((c) => c.limits.includes(l)),
      max,
    );
  for (const [l, { max }] of softLimits.entries()) {
    const left = terms((c) => c.softLimits.includes(l));
    if (left) row(`${left} - e${l}`, max);
  }
  const worth = [
    ...choices.map((c, i) => `${c.value < 0 ? '-' : '+'} ${Math.abs(c.value)} x${i}`),
    ...softLimits.map(({ cost }, l) => `- ${cost} e${l}`),
  ];
  return [
    'Maximize',
    ` obj: ${worth.join('\n ')}`,
    'Subject To',
    ...rows,
    'Binary',
    ...choices.map((_, i) => ` x${i}`),
    'End',
  ].join('\n');
}
