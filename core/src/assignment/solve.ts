import { OPEN, OUT, Relaxation, type Bound, type Node } from './bound.js';
import { cliqueCuts, widen, withCuts } from './cuts.js';
import { splitOf } from './branching.js';
import type { Model, Solution } from './model.js';
import { Draft, improve, series, shake, type Lists } from './search.js';

/** How far a search has come. The best solution so far is worth `worth`; none is worth more than `bound`. */
export interface Progress {
  solution: Solution;
  worth: number;
  bound: number;
  /** Proven: no solution is worth more. */
  optimal: boolean;
}

/** How far `worth` may be from the best possible, as a share of it; 0 once it is proven. */
export const gapOf = ({ worth, bound }: Pick<Progress, 'worth' | 'bound'>): number =>
  bound <= worth ? 0 : (bound - worth) / Math.max(1, Math.abs(bound));

const ROUNDS = 400;
const PATIENCE = 10;
const NODE_ROUNDS = 24;
const CUT_ROUNDS = 6;
const CUTS = 60;
const LIST = 40;
/** How much the last round counts in the shares of choices. */
const FRESH = 0.15;
const SHAKES = 30;
/** Values are whole numbers, so a bound of 17.3 is one of 17; the rest is for rounding. */
const whole = (upper: number) => Math.floor(upper + 1e-6);

/**
 * Solves a model step by step and says after each how far it has come: choices by regret, local search and
 * prices first, then branch and bound by the best bound, until the optimum is proven. Stop when you like;
 * what was yielded last holds. Pure: the same model gives the same steps.
 */
export function* solve(model: Model, start?: Solution): Generator<Progress, void, void> {
  yield* new Search(model, start).run();
}

/** A part with its bound lowered, and how large a share of the last rounds each choice was in. */
interface Lowered {
  node: Node;
  shares: Float64Array;
}

class Search {
  private relaxation: Relaxation;
  /** The model with limits that every solution keeps anyhow, for better bounds. */
  private tight: Model;
  private readonly draft: Draft;
  /** Choices that may still be in a better solution than the best known. */
  private readonly alive: Uint8Array;
  private lists: Lists;
  private best: Solution;
  private worth = 0;
  private bound = Infinity;
  private readonly random = series(1);

  constructor(
    private readonly model: Model,
    start?: Solution,
  ) {
    this.tight = model;
    this.relaxation = new Relaxation(model);
    this.draft = new Draft(model);
    this.alive = new Uint8Array(model.choices.length).fill(1);
    this.best = new Int32Array(model.places).fill(-1);
    const falls = new Float64Array(model.choices.length);
    for (const [index, choice] of model.choices.entries()) falls[index] = -choice.value;
    this.lists = this.listsBy(falls);
    if (start) this.tryFrom(start, 0);
  }

  *run(): Generator<Progress, void, void> {
    this.tryFrom(this.best, 4000);
    const root: Node = { prices: this.relaxation.noPrices(), upper: Infinity, states: this.alive };
    let solved = yield* this.lower(root, ROUNDS, true);
    for (let i = 0; i < CUT_ROUNDS && whole(solved.node.upper) > this.worth; i++) {
      const cuts = cliqueCuts(this.tight, solved.shares, CUTS);
      if (cuts.length === 0) break;
      const prices = widen(solved.node.prices, this.tight.limits.length, cuts.length);
      this.tight = withCuts(this.tight, cuts);
      this.relaxation = new Relaxation(this.tight);
      solved = yield* this.lower({ ...solved.node, prices }, ROUNDS, true);
    }
    this.bound = Math.min(this.bound, whole(solved.node.upper));
    yield this.progress();
    for (let i = 0; i < SHAKES && this.bound > this.worth; i++) {
      this.shakeUp(10);
      yield this.progress();
    }
    if (this.bound > this.worth) yield* this.branch(solved);
    this.bound = this.worth;
    yield this.progress();
  }

  private progress(): Progress {
    const bound = Math.max(this.worth, this.bound);
    return { solution: this.best, worth: this.worth, bound, optimal: bound <= this.worth };
  }

  /** The best `LIST` choices of each place. */
  private listsBy(falls: Float64Array): Lists {
    const lists: number[][] = Array.from({ length: this.model.places }, () => []);
    for (const [index, { place }] of this.model.choices.entries())
      if (this.alive[index]) lists[place]!.push(index);
    return lists.map((list) => list.sort((a, b) => falls[a]! - falls[b]! || a - b).slice(0, LIST));
  }

  /** Repairs and improves a solution, and keeps it when it is the best so far. */
  private tryFrom(solution: Solution, steps: number): void {
    this.draft.become(solution);
    improve(this.draft, this.lists, steps);
    if (this.draft.worth <= this.worth) return;
    this.worth = this.draft.worth;
    this.best = Int32Array.from(this.draft.chosen);
  }

  /** Looks for a better solution by shaking the best one, so many times. */
  private shakeUp(times: number): void {
    let from = this.best;
    let worth = this.worth;
    for (let i = 0; i < times && this.bound > this.worth; i++) {
      this.draft.become(from);
      shake(this.draft, this.lists, this.random);
      improve(this.draft, this.lists, 1200);
      // As good is good enough to go on from: it leads away from where one is stuck.
      if (this.draft.worth < worth) continue;
      from = Int32Array.from(this.draft.chosen);
      worth = this.draft.worth;
      if (worth > this.worth) {
        this.worth = worth;
        this.best = from;
      }
    }
  }

  /** Lowers the bound of a node by better prices, and looks for solutions near what the relaxation says. */
  private *lower(node: Node, rounds: number, atRoot = false): Generator<Progress, Lowered, void> {
    const { states } = node;
    const shares = new Float64Array(states.length);
    if (!atRoot)
      for (let index = 0; index < states.length; index++)
        if (!this.alive[index] && states[index] === OPEN) states[index] = OUT;
    let prices = node.prices;
    let lowest = prices;
    let bound = this.relaxation.bound(prices, states);
    let last = bound;
    let upper = Math.min(node.upper, bound.upper);
    const direction = new Float64Array(prices.length);
    let pace = 1;
    let since = 0;
    for (let round = 1; round <= rounds && whole(upper) > this.worth && pace > 0.005; round++) {
      const next = this.relaxation.step(prices, bound, this.worth, pace, direction);
      if (!next) break;
      prices = next;
      bound = this.relaxation.bound(prices, states);
      for (let index = 0; index < shares.length; index++) shares[index]! *= 1 - FRESH;
      for (const index of bound.relaxed) if (index >= 0) shares[index]! += FRESH;
      if (bound.upper < upper - 1e-3) {
        upper = bound.upper;
        last = bound;
        lowest = prices;
        since = 0;
      } else if (++since >= PATIENCE) {
        pace /= 2;
        since = 0;
        prices = lowest;
        bound = last;
      }
      if (atRoot && round % 5 === 0) {
        this.lists = this.listsBy(bound.falls);
        this.tryFrom(bound.relaxed, 1500);
        this.prune(last, states);
        this.bound = whole(upper);
        yield this.progress();
      }
    }
    if (!atRoot && whole(upper) > this.worth) this.tryFrom(last.relaxed, 300);
    this.prune(last, states);
    return { node: { ...node, prices: lowest, upper }, shares };
  }

  /** Choices with which no solution of a part can be better than the best known are out in it. */
  private prune({ falls, upper }: Bound, states: Uint8Array): void {
    for (let index = 0; index < falls.length; index++)
      if (states[index] === OPEN && whole(upper - falls[index]! + 1e-3) <= this.worth) states[index] = OUT;
  }

  private *branch(root: Lowered): Generator<Progress, void, void> {
    const open = [root];
    while (open.length > 0) {
      // The most promising part first, so that the bound falls with every step.
      let at = 0;
      for (let i = 1; i < open.length; i++) if (open[i]!.node.upper > open[at]!.node.upper) at = i;
      const { node, shares } = open.splice(at, 1)[0]!;
      this.bound = Math.min(this.bound, whole(node.upper));
      if (whole(node.upper) <= this.worth) return;
      const parts = splitOf(this.model, node.states, shares);
      for (const states of parts) {
        const child = { ...node, states };
        const solved = yield* this.lower(child, NODE_ROUNDS);
        if (whole(solved.node.upper) > this.worth) open.push(solved);
      }
      this.shakeUp(2);
      yield this.progress();
    }
  }
}
