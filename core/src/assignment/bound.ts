import { bestAssignment } from './hungarian.js';
import type { Model, Solution } from './model.js';

/** A price for each limit, then for each soft limit; what breaking it costs while it is not a rule. */
export type Prices = Float64Array;

export interface Bound {
  /** No solution of the node is worth more. */
  upper: number;
  /** What the relaxation chooses; may break limits. */
  relaxed: Solution;
  /** For each choice, by how much the bound falls when it has to be in; infinite where it is ruled out. */
  falls: Float64Array;
}

/** Whether a choice is ruled out in a part of the search, open, or has to be in. */
export const OUT = 0;
export const OPEN = 1;
export const IN = 2;

/** Large enough that a choice with it is always taken, small enough that whole numbers stay exact. */
const ALWAYS = 1e9;

/** A part of the search: what is settled in it, the best prices so far, and no solution in it is worth more. */
export interface Node {
  prices: Prices;
  upper: number;
  /** For each choice `OUT`, `OPEN` or `IN`. */
  states: Uint8Array;
}

/**
 * Upper bounds by Lagrangian relaxation (A. M. Geoffrion, Lagrangean relaxation for integer programming,
 * Mathematical Programming Study 2, 1974): limits are given prices instead of being kept, which leaves an
 * assignment problem that is solved exactly. For any prices the outcome is a bound.
 */
export class Relaxation {
  private readonly values: Float64Array;
  private readonly bestOf: Int32Array;
  private readonly slope: Float64Array;

  constructor(private readonly model: Model) {
    this.values = new Float64Array(model.places * model.items);
    this.bestOf = new Int32Array(model.places * model.items);
    this.slope = new Float64Array(model.limits.length + model.softLimits.length);
  }

  noPrices(): Prices {
    return new Float64Array(this.slope.length);
  }

  bound(prices: Prices, states: Uint8Array): Bound {
    const { choices, places, items, limits, softLimits } = this.model;
    this.values.fill(-Infinity);
    this.bestOf.fill(-1);
    let always = 0;
    const worth = new Float64Array(choices.length);
    for (let index = 0; index < choices.length; index++) {
      if (states[index] === OUT) continue;
      const choice = choices[index]!;
      let value = choice.value;
      for (const l of choice.limits) value -= prices[l]!;
      for (const l of choice.softLimits) value -= prices[limits.length + l]!;
      if (states[index] === IN) {
        value += ALWAYS;
        always += ALWAYS;
      }
      worth[index] = value;
      const pair = choice.place * items + choice.item;
      if (value > this.values[pair]!) {
        this.values[pair] = value;
        this.bestOf[pair] = index;
      }
    }
    const { columnOf, total, rowPrice, columnPrice } = bestAssignment(places, items, this.values);
    let upper = total - always;
    for (const [l, { max }] of limits.entries()) upper += prices[l]! * max;
    for (const [l, { max }] of softLimits.entries()) upper += prices[limits.length + l]! * max;
    const relaxed = new Int32Array(places).fill(-1);
    for (let place = 0; place < places; place++)
      if (columnOf[place]! >= 0) relaxed[place] = this.bestOf[place * items + columnOf[place]!]!;
    const falls = new Float64Array(choices.length).fill(Infinity);
    for (let index = 0; index < choices.length; index++)
      if (states[index] !== OUT) {
        const { place, item } = choices[index]!;
        falls[index] = rowPrice[place]! + columnPrice[item]! - worth[index]!;
      }
    return { upper, relaxed, falls };
  }

  /** By how much each limit is broken (or, below 0, not used) by what was chosen. */
  private slopeOf(relaxed: Solution): Float64Array {
    const { choices, limits, softLimits } = this.model;
    for (const [l, { max }] of limits.entries()) this.slope[l] = -max;
    for (const [l, { max }] of softLimits.entries()) this.slope[limits.length + l] = -max;
    for (const index of relaxed) {
      if (index < 0) continue;
      for (const l of choices[index]!.limits) this.slope[l]!++;
      for (const l of choices[index]!.softLimits) this.slope[limits.length + l]!++;
    }
    return this.slope;
  }

  /**
   * New prices, a step downhill from `prices` as Polyak has it: as long as the gap to the best known worth
   * asks for, times `pace`. Its direction keeps some of the one before (P. M. Camerini, L. Fratta and F.
   * Maffioli, On improving relaxation methods by modified gradient techniques, Mathematical Programming
   * Study 3, 1975), which `direction` holds and which is brought up to date. The price of a soft limit is
   * never above its cost. Null at the lowest point.
   */
  step(
    prices: Prices,
    { upper, relaxed }: Bound,
    best: number,
    pace: number,
    direction: Float64Array,
  ): Prices | null {
    const slope = this.slopeOf(relaxed);
    const { limits, softLimits } = this.model;
    const costOf = (l: number) => (l < limits.length ? Infinity : softLimits[l - limits.length]!.cost);
    let square = 0;
    let along = 0;
    let before = 0;
    for (let l = 0; l < slope.length; l++) {
      // Where a price cannot move, its slope says nothing.
      if ((slope[l]! < 0 && prices[l] === 0) || (slope[l]! > 0 && prices[l]! >= costOf(l))) slope[l] = 0;
      square += slope[l]! ** 2;
      along += slope[l]! * direction[l]!;
      before += direction[l]! ** 2;
    }
    if (square === 0) return null;
    const keep = along < 0 && before > 0 ? (-1.5 * along) / before : 0;
    let size = 0;
    for (let l = 0; l < slope.length; l++) {
      direction[l] = slope[l]! + keep * direction[l]!;
      size += direction[l]! ** 2;
    }
    const length = (pace * Math.max(upper - best, 0.5)) / size;
    const next = new Float64Array(prices.length);
    for (let l = 0; l < slope.length; l++)
      next[l] = Math.min(costOf(l), Math.max(0, prices[l]! + length * direction[l]!));
    return next;
  }
}
