import type { Model, Solution } from './model.js';

/**
 * A solution while it is being worked on: choices are put in and taken out, and the worth is kept along.
 * It never breaks a limit and never uses an item twice.
 */
export class Draft {
  readonly chosen: Solution;
  readonly placeOf: Int32Array;
  private readonly used: Int32Array;
  private readonly crowd: Int32Array;
  worth = 0;

  constructor(readonly model: Model) {
    this.chosen = new Int32Array(model.places).fill(-1);
    this.placeOf = new Int32Array(model.items).fill(-1);
    this.used = new Int32Array(model.limits.length);
    this.crowd = new Int32Array(model.softLimits.length);
  }

  /** May it be put in as things stand? Its place and its item must be free. */
  fits(index: number): boolean {
    const { limits, place, item } = this.model.choices[index]!;
    if (this.chosen[place]! >= 0 || this.placeOf[item]! >= 0) return false;
    for (const l of limits) if (this.isFull(l)) return false;
    return true;
  }

  isFull(limit: number): boolean {
    return this.used[limit]! >= this.model.limits[limit]!.max;
  }

  /** What putting it in adds to the worth. */
  gain(index: number): number {
    const { value, softLimits } = this.model.choices[index]!;
    let gain = value;
    for (const l of softLimits) {
      const soft = this.model.softLimits[l]!;
      if (this.crowd[l]! >= soft.max) gain -= soft.cost;
    }
    return gain;
  }

  put(index: number): void {
    const { limits, softLimits, place, item } = this.model.choices[index]!;
    this.worth += this.gain(index);
    for (const l of limits) this.used[l]!++;
    for (const l of softLimits) this.crowd[l]!++;
    this.chosen[place] = index;
    this.placeOf[item] = place;
  }

  /** Takes out what is in a place; returns it, or -1. */
  vacate(place: number): number {
    const index = this.chosen[place]!;
    if (index < 0) return -1;
    const { limits, softLimits, item } = this.model.choices[index]!;
    for (const l of limits) this.used[l]!--;
    for (const l of softLimits) this.crowd[l]!--;
    this.chosen[place] = -1;
    this.placeOf[item] = -1;
    this.worth -= this.gain(index);
    return index;
  }

  reset(): void {
    for (let place = 0; place < this.model.places; place++) this.vacate(place);
  }

  /** Stands as `solution` says, as far as limits allow. */
  become(solution: Solution): void {
    this.reset();
    for (const index of solution) if (index >= 0 && this.fits(index)) this.put(index);
  }
}

/** The choices of each place, the most promising first; what a search looks through. */
export type Lists = readonly (readonly number[])[];

/** The best choice of a place as things stand, or -1 when none adds anything. */
function bestFor(draft: Draft, list: readonly number[]): number {
  let best = -1;
  let most = 0;
  for (const index of list) {
    if (draft.model.choices[index]!.value <= most || !draft.fits(index)) continue;
    const gain = draft.gain(index);
    if (gain > most) {
      most = gain;
      best = index;
    }
  }
  return best;
}

/**
 * Fills empty places, the one first that would lose most if its best choice went to another: greedy by
 * regret.
 */
export function fill(draft: Draft, lists: Lists): void {
  for (;;) {
    let best = -1;
    let regret = -1;
    for (const [place, list] of lists.entries()) {
      if (draft.chosen[place]! >= 0) continue;
      let first = -1;
      let most = 0;
      let second = 0;
      for (const index of list) {
        if (draft.model.choices[index]!.value <= second || !draft.fits(index)) continue;
        const gain = draft.gain(index);
        if (gain > most) {
          if (first < 0 || draft.model.choices[first]!.item !== draft.model.choices[index]!.item)
            second = most;
          most = gain;
          first = index;
        } else if (gain > second && draft.model.choices[index]!.item !== draft.model.choices[first]!.item)
          second = gain;
      }
      if (first >= 0 && most - second > regret) {
        regret = most - second;
        best = first;
      }
    }
    if (best < 0) return;
    draft.put(best);
  }
}

/** The place whose choice counts towards a full limit and is missed least. */
function leastIn(draft: Draft, limit: number): number {
  let least = -1;
  let worth = Infinity;
  for (let place = 0; place < draft.model.places; place++) {
    const index = draft.chosen[place]!;
    if (index < 0) continue;
    const choice = draft.model.choices[index]!;
    if (choice.value < worth && choice.limits.includes(limit)) {
      worth = choice.value;
      least = place;
    }
  }
  return least;
}

/**
 * Puts `index` in, whatever stands in its way: what is in its place, what has its item, and what fills a
 * limit goes out, and the places that become empty are filled again. Returns whether the worth grew; else
 * all is as before.
 */
function force(draft: Draft, index: number, lists: Lists): boolean {
  const { place, item, limits } = draft.model.choices[index]!;
  const before = draft.worth;
  const out: number[] = [];
  const emptied: number[] = [];
  const vacate = (from: number) => {
    const taken = draft.vacate(from);
    if (taken < 0) return;
    out.push(taken);
    if (from !== place) emptied.push(from);
  };
  vacate(place);
  if (draft.placeOf[item]! >= 0) vacate(draft.placeOf[item]!);
  for (const limit of limits)
    if (draft.isFull(limit) && leastIn(draft, limit) >= 0) vacate(leastIn(draft, limit));
  const put: number[] = [];
  if (draft.fits(index)) {
    draft.put(index);
    put.push(place);
    for (const empty of emptied) {
      const refill = bestFor(draft, lists[empty]!);
      if (refill < 0) continue;
      draft.put(refill);
      put.push(empty);
    }
    if (draft.worth > before) return true;
  }
  for (const from of put) draft.vacate(from);
  for (const back of out) draft.put(back);
  return false;
}

/** Improves until no single choice put in by force makes it better, or `steps` of them were tried. */
export function improve(draft: Draft, lists: Lists, steps: number): void {
  fill(draft, lists);
  let left = steps;
  for (let better = true; better && left > 0;) {
    better = false;
    for (const list of lists)
      for (const index of list) {
        if (draft.chosen[draft.model.choices[index]!.place] === index) continue;
        if (left-- <= 0) return;
        if (force(draft, index, lists)) better = true;
      }
    if (better) fill(draft, lists);
  }
}

/** The next of a series of numbers from 0 to 1 that look random and are the same at every run (mulberry32). */
export function series(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/**
 * Empties some places, neighbours or any, and fills them in an order by chance: a step away from a solution
 * that single choices no longer improve.
 */
export function shake(draft: Draft, lists: Lists, random: () => number): void {
  const { places } = draft.model;
  const count = Math.min(places, 3 + Math.floor(random() * 8));
  const first = Math.floor(random() * places);
  const near = random() < 0.6;
  const emptied = new Set<number>();
  for (let i = 0; i < count; i++) emptied.add(near ? (first + i) % places : Math.floor(random() * places));
  for (const place of emptied) draft.vacate(place);
  for (const place of [...emptied].sort(() => random() - 0.5)) {
    const fitting = lists[place]!.filter((index) => draft.fits(index));
    fitting.sort((a, b) => draft.gain(b) - draft.gain(a));
    const index = fitting[Math.floor(random() ** 3 * Math.min(6, fitting.length))];
    if (index !== undefined && draft.gain(index) > 0) draft.put(index);
  }
}
