/**
 * Things put into places, each at most once, so that the sum of their values is as large as it can be. It
 * knows nothing of posts; see docs/planning.md for the model in symbols.
 */

/** One thing that may be done: put `item` into `place`. Several choices may do so, in different ways. */
export interface Choice {
  /** 0 to `items` − 1 */
  item: number;
  /** 0 to `places` − 1 */
  place: number;
  /** What it is worth; a whole number, so that bounds can be rounded down. */
  value: number;
  /** Limits that it counts towards, by index. */
  limits: readonly number[];
  /** Soft limits that it counts towards, by index. */
  softLimits: readonly number[];
}

export interface Model {
  items: number;
  places: number;
  choices: readonly Choice[];
  /** At most `max` of the choices that count towards it. */
  limits: readonly { max: number }[];
  /** Each choice beyond `max` costs `cost`, a whole number above 0. */
  softLimits: readonly { max: number; cost: number }[];
}

/** For each place the index of its choice, or -1 where it stays empty. */
export type Solution = Int32Array;

/** What a solution is worth; null when it breaks a limit, or uses an item twice. */
export function worthOf(model: Model, solution: Solution): number | null {
  const used = new Set<number>();
  const limits = new Int32Array(model.limits.length);
  const soft = new Int32Array(model.softLimits.length);
  let worth = 0;
  for (const [place, index] of solution.entries()) {
    if (index < 0) continue;
    const choice = model.choices[index]!;
    if (choice.place !== place || used.has(choice.item)) return null;
    used.add(choice.item);
    worth += choice.value;
    for (const l of choice.limits) if (++limits[l]! > model.limits[l]!.max) return null;
    for (const l of choice.softLimits)
      if (++soft[l]! > model.softLimits[l]!.max) worth -= model.softLimits[l]!.cost;
  }
  return worth;
}
