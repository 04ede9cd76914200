import loadHighs from 'highs';
import { worthOf, type Choice, type Model } from './model.js';
import { gapOf, solve, type Progress } from './solve.js';
import { series } from './search.js';
import { lpOf } from './lp.js';

/** A model at random, of the build that plans have. */
function randomModel(seed: number, places: number, items: number): Model {
  const random = series(seed);
  const int = (n: number) => Math.floor(random() * n);
  const limits = Array.from({ length: 6 }, () => ({ max: int(3) }));
  const softLimits = Array.from({ length: 8 }, () => ({ max: int(2), cost: 1 + int(30) }));
  const choices: Choice[] = [];
  for (let item = 0; item < items; item++)
    for (let place = 0; place < places; place++)
      for (let way = 0; way < 2; way++)
        if (random() < 0.4)
          choices.push({
            item,
            place,
            value: int(60) - 5,
            limits: random() < 0.7 ? [int(6)] : [],
            softLimits: [...new Set([int(8), int(8)])],
          });
  return { items, places, choices, limits, softLimits };
}

/** The best worth by trying everything. */
function bruteForce(model: Model): number {
  const solution = new Int32Array(model.places).fill(-1);
  let best = 0;
  const at = (place: number): void => {
    if (place === model.places) {
      best = Math.max(best, worthOf(model, solution) ?? -Infinity);
      return;
    }
    at(place + 1);
    for (const [index, choice] of model.choices.entries()) {
      if (choice.place !== place) continue;
      solution[place] = index;
      at(place + 1);
    }
    solution[place] = -1;
  };
  at(0);
  return best;
}

const last = (model: Model): Progress => [...solve(model)].at(-1)!;

describe('solving a model', () => {
  it('finds what trying everything finds', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const model = randomModel(seed, 4, 4);
      const { worth, bound, optimal, solution } = last(model);
      expect([seed, worth]).toEqual([seed, bruteForce(model)]);
      expect(bound).toBe(worth);
      expect(optimal).toBe(true);
      expect(worthOf(model, solution)).toBe(worth);
    }
  });

  it('finds what an independent solver finds', async () => {
    const highs = await loadHighs();
    for (const seed of [101, 102, 103, 104, 105, 106]) {
      const model = randomModel(seed, 9, 14);
      const theirs = highs.solve(lpOf(model), { mip_rel_gap: 0, output_flag: false });
      expect(theirs.Status).toBe('Optimal');
      expect([seed, last(model).worth]).toEqual([seed, Math.round(theirs.ObjectiveValue)]);
    }
  });

  it('never promises less than there is, and only comes nearer', () => {
    for (let seed = 201; seed <= 215; seed++) {
      const model = randomModel(seed, 7, 9);
      const steps = [...solve(model)];
      const best = steps.at(-1)!.worth;
      for (const [i, step] of steps.entries()) {
        expect(step.bound).toBeGreaterThanOrEqual(best);
        expect(worthOf(model, step.solution)).toBe(step.worth);
        if (i === 0) continue;
        expect(step.worth).toBeGreaterThanOrEqual(steps[i - 1]!.worth);
        expect(step.bound).toBeLessThanOrEqual(steps[i - 1]!.bound);
      }
    }
  });

  it('is the same at every run', () => {
    const model = randomModel(5, 9, 14);
    expect([...solve(model)]).toEqual([...solve(model)]);
  });

  it('knows that nothing can be done where nothing can', () => {
    const none = { items: 3, places: 2, choices: [], limits: [], softLimits: [] };
    expect(last(none)).toMatchObject({ worth: 0, bound: 0, optimal: true });
    const closed: Model = {
      items: 1,
      places: 1,
      choices: [{ item: 0, place: 0, value: 9, limits: [0], softLimits: [] }],
      limits: [{ max: 0 }],
      softLimits: [],
    };
    expect(last(closed)).toMatchObject({ worth: 0, optimal: true });
  });

  it('starts from what it is given', () => {
    const model = randomModel(12, 6, 8);
    const { solution, worth } = last(model);
    expect([...solve(model, solution)][0]!.worth).toBe(worth);
  });

  it('tells the distance as a share', () => {
    expect(gapOf({ worth: 99, bound: 100 })).toBeCloseTo(0.01);
    expect(gapOf({ worth: 100, bound: 100 })).toBe(0);
    expect(gapOf({ worth: 0, bound: 0 })).toBe(0);
  });
});

describe('the worth of a solution', () => {
  const model: Model = {
    items: 2,
    places: 2,
    choices: [
      { item: 0, place: 0, value: 10, limits: [0], softLimits: [0] },
      { item: 0, place: 1, value: 8, limits: [0], softLimits: [0] },
      { item: 1, place: 1, value: 7, limits: [0], softLimits: [0] },
    ],
    limits: [{ max: 2 }],
    softLimits: [{ max: 1, cost: 4 }],
  };
  it('is worked by hand', () => {
    expect(worthOf(model, Int32Array.of(0, 2))).toBe(10 + 7 - 4);
    expect(worthOf(model, Int32Array.of(-1, 1))).toBe(8);
    expect(worthOf(model, Int32Array.of(0, 1))).toBeNull();
    expect(worthOf({ ...model, limits: [{ max: 1 }] }, Int32Array.of(0, 2))).toBeNull();
  });
});
