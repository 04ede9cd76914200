import { IN, OPEN, OUT } from './bound.js';
import type { Choice, Model } from './model.js';

/** What a place is decided on: which item it gets, or which limit its choice counts towards. */
type Question = (choice: Choice) => string[];
const QUESTIONS: Question[] = [
  ({ place, item }) => [`${place} item ${item}`],
  ({ place, limits }) => limits.map((l) => `${place} limit ${l}`),
];

/**
 * Splits a part of the search in two that hold all of its solutions between them: one in which a place gets a
 * choice of some kind or stays empty, one in which it gets none of that kind. The kind is the one about which
 * the relaxation is least decided, going by the share that each choice had in it; a set of choices is split,
 * not a single one, so that both halves are smaller by much. Empty when nothing is left to decide.
 */
export function splitOf(model: Model, states: Uint8Array, shares: Float64Array): Uint8Array[] {
  const open = [...model.choices.entries()].filter(([index]) => states[index] === OPEN);
  const byKind = new Map<string, number>();
  for (const [index, choice] of open)
    for (const question of QUESTIONS)
      for (const kind of question(choice)) byKind.set(kind, (byKind.get(kind) ?? 0) + shares[index]!);
  let kind = '';
  let most = 0.02;
  for (const [name, share] of byKind) {
    const doubt = Math.min(share, 1 - share);
    if (doubt > most) {
      most = doubt;
      kind = name;
    }
  }
  const isKind = (choice: Choice) => QUESTIONS.some((question) => question(choice).includes(kind));
  const place = Number(kind.split(' ')[0]);
  const parts = [true, false].map((wanted) => {
    const part = Uint8Array.from(states);
    for (const [index, choice] of open)
      if (kind !== '' && choice.place === place && isKind(choice) !== wanted) part[index] = OUT;
    return part;
  });
  const smaller = parts.every((part) => open.some(([index]) => part[index] === OUT));
  return smaller ? parts : splitByOne(model, states, shares, open);
}

/** The choice that the relaxation comes nearest to has to be in, or is out. */
function splitByOne(
  { choices }: Model,
  states: Uint8Array,
  shares: Float64Array,
  open: readonly [number, Choice][],
): Uint8Array[] {
  if (open.length === 0) return [];
  const on = open.reduce((best, [index]) => (shares[index]! > shares[best]! ? index : best), open[0]![0]);
  const { place, item } = choices[on]!;
  const within = Uint8Array.from(states);
  for (const [index, choice] of open) if (choice.place === place || choice.item === item) within[index] = OUT;
  within[on] = IN;
  const without = Uint8Array.from(states);
  without[on] = OUT;
  return [within, without];
}
