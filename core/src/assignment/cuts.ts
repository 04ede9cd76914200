import type { Choice, Model } from './model.js';

/** How far beyond 1 the shares of a set have to be before it is worth a limit of its own. */
const MARGIN = 0.04;

/**
 * Limits that every solution keeps anyhow, but that the relaxation breaks: of all choices that share at least
 * two of an item, a place and a limit of one, no two can be in. (The cliques of the three-index assignment
 * problem: E. Balas and M. J. Saltzman, Facets of the three-index assignment polytope, Discrete Applied
 * Mathematics 23, 1989.) The most broken first, at most `most`; each as the indexes of its choices.
 */
export function cliqueCuts(model: Model, shares: Float64Array, most: number): number[][] {
  const { choices } = model;
  const sums = new Map<string, number>();
  const add = (key: string, share: number) => sums.set(key, (sums.get(key) ?? 0) + share);
  const near = new Map<number, { items: Set<number>; places: Set<number> }>();
  for (const [index, { item, place, limits }] of choices.entries()) {
    const share = shares[index]!;
    if (share < 0.01) continue;
    add(`ip ${item} ${place}`, share);
    for (const l of limits) {
      if (model.limits[l]!.max !== 1) continue;
      add(`il ${item} ${l}`, share);
      add(`pl ${place} ${l}`, share);
      add(`ipl ${item} ${place} ${l}`, share);
      const there = near.get(l) ?? { items: new Set(), places: new Set() };
      there.items.add(item);
      there.places.add(place);
      near.set(l, there);
    }
  }
  const of = (key: string) => sums.get(key) ?? 0;
  const found: { item: number; place: number; limit: number; sum: number }[] = [];
  for (const [limit, { items, places }] of near)
    for (const item of items)
      for (const place of places) {
        const sum =
          of(`ip ${item} ${place}`) +
          of(`il ${item} ${limit}`) +
          of(`pl ${place} ${limit}`) -
          2 * of(`ipl ${item} ${place} ${limit}`);
        if (sum > 1 + MARGIN) found.push({ item, place, limit, sum });
      }
  found.sort((a, b) => b.sum - a.sum);
  return found.slice(0, most).map(({ item, place, limit }) => {
    const shared = (c: Choice) =>
      Number(c.item === item) + Number(c.place === place) + Number(c.limits.includes(limit));
    return [...choices.entries()].filter(([, c]) => shared(c) >= 2).map(([index]) => index);
  });
}

/** The model with the cuts as further limits of one. */
export function withCuts(model: Model, cuts: readonly (readonly number[])[]): Model {
  const more = new Map<number, number[]>();
  for (const [c, members] of cuts.entries())
    for (const index of members) {
      const list = more.get(index);
      if (list) list.push(model.limits.length + c);
      else more.set(index, [model.limits.length + c]);
    }
  return {
    ...model,
    limits: [...model.limits, ...cuts.map(() => ({ max: 1 }))],
    choices: model.choices.map((choice, index) =>
      more.has(index) ? { ...choice, limits: [...choice.limits, ...more.get(index)!] } : choice,
    ),
  };
}

/** Prices of a model for the same with cuts: what is new costs nothing yet. */
export function widen(prices: Float64Array, limits: number, cuts: number): Float64Array {
  const wide = new Float64Array(prices.length + cuts);
  wide.set(prices.subarray(0, limits));
  wide.set(prices.subarray(limits), limits + cuts);
  return wide;
}
