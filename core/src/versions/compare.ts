import { diffArrays } from 'diff';
import { bodyText } from '../body/text.js';
import { EMPTY_BODY, type BodyNode } from '../body/schema.js';

/** Words that stand in both texts, in the later alone, or in the earlier alone. */
export interface TextPart {
  kind: 'same' | 'added' | 'removed';
  text: string;
}

/** What became of a block between two texts. */
export interface ComparedBlock {
  /** `form`: the same words, set in another way. */
  kind: 'same' | 'added' | 'removed' | 'changed' | 'form';
  type: string;
  parts: TextPart[];
  /** Where it stands in either text; null where it does not. */
  before: number | null;
  after: number | null;
}

/** Beyond so many differing words two passages are told as one taken out and one put in. */
const MAX_EDITS = 4000;
/** Runs of blocks longer than this are paired in order, and not by likeness. */
const MAX_RUN = 80;
/** Blocks less alike than this are not the same block, rewritten. */
const ALIKE = 0.35;

const WORDS = /[\p{L}\p{N}][\p{L}\p{M}\p{N}'’-]*|\s+|[^\s]/gu;
const wordsOf = (text: string): string[] => text.match(WORDS) ?? [];

/** Compares two passages word by word; words and what stands between them are never cut. */
export function compareWords(before: string, after: string): TextPart[] {
  if (before === after) return before === '' ? [] : [{ kind: 'same', text: before }];
  const changes = diffArrays(wordsOf(before), wordsOf(after), { maxEditLength: MAX_EDITS });
  if (!changes)
    return [
      { kind: 'removed', text: before },
      { kind: 'added', text: after },
    ];
  return changes.map(({ added, removed, value }) => ({
    kind: added ? 'added' : removed ? 'removed' : 'same',
    text: value.join(''),
  }));
}

/** A block as it is told: its words, or what it shows. */
export function blockWords(block: BodyNode): string {
  const words = bodyText({ type: 'doc', content: [block] }).trim();
  if (words !== '') return words;
  const { alt, caption, title, href, label, invitation } = (block.attrs ?? {}) as Record<string, unknown>;
  return [alt, caption, title, label, invitation, href].filter((v) => typeof v === 'string' && v).join(', ');
}

/** Compares two texts, block by block in the order of the later one, and changed blocks word by word. */
export function compareBodies(before: BodyNode, after: BodyNode): ComparedBlock[] {
  const [earlier, later] = [before, after].map((b) => b.content ?? EMPTY_BODY.content!) as [
    BodyNode[],
    BodyNode[],
  ];
  const changes = diffArrays(
    earlier.map((b) => JSON.stringify(b)),
    later.map((b) => JSON.stringify(b)),
  );
  const blocks: ComparedBlock[] = [];
  let [i, j] = [0, 0];
  for (let at = 0; at < changes.length; at++) {
    const { added, removed, count } = changes[at]!;
    if (!added && !removed) {
      for (let n = 0; n < count; n++) blocks.push(compared(earlier, later, i++, j++));
      continue;
    }
    // What was taken out and what was put in at one place belong together.
    const next = changes[at + 1];
    const pair = next && (added ? next.removed : next.added) ? next.count : 0;
    if (pair > 0) at++;
    const [out, put] = removed ? [count, pair] : [pair, count];
    blocks.push(...compareRun(earlier, later, [i, i + out], [j, j + put]));
    i += out;
    j += put;
  }
  return blocks;
}

function compared(
  earlier: readonly BodyNode[],
  later: readonly BodyNode[],
  i: number | null,
  j: number | null,
): ComparedBlock {
  const [old, now] = [i === null ? null : earlier[i]!, j === null ? null : later[j]!];
  const type = (now ?? old)!.type;
  if (!old)
    return { kind: 'added', type, parts: [{ kind: 'added', text: blockWords(now!) }], before: i, after: j };
  if (!now)
    return {
      kind: 'removed',
      type,
      parts: [{ kind: 'removed', text: blockWords(old) }],
      before: i,
      after: j,
    };
  const parts = compareWords(blockWords(old), blockWords(now));
  const isSame = parts.every((p) => p.kind === 'same');
  const kind = !isSame ? 'changed' : JSON.stringify(old) === JSON.stringify(now) ? 'same' : 'form';
  return { kind, type, parts, before: i, after: j };
}

/** Blocks that came in place of others: the most alike are told as one block that changed, in order. */
function compareRun(
  earlier: readonly BodyNode[],
  later: readonly BodyNode[],
  [fromOld, toOld]: [number, number],
  [fromNew, toNew]: [number, number],
): ComparedBlock[] {
  const pairs = pairsIn(earlier.slice(fromOld, toOld), later.slice(fromNew, toNew));
  const blocks: ComparedBlock[] = [];
  let [i, j] = [fromOld, fromNew];
  for (const [a, b] of [...pairs, [toOld - fromOld, toNew - fromNew] as const]) {
    while (i < fromOld + a) blocks.push(compared(earlier, later, i++, null));
    while (j < fromNew + b) blocks.push(compared(earlier, later, null, j++));
    if (i < toOld && j < toNew) blocks.push(compared(earlier, later, i++, j++));
  }
  return blocks;
}

/** Pairs in ascending order whose likeness together is greatest. */
function pairsIn(old: readonly BodyNode[], now: readonly BodyNode[]): [number, number][] {
  if (old.length > MAX_RUN || now.length > MAX_RUN)
    return Array.from({ length: Math.min(old.length, now.length) }, (_, n): [number, number] => [
      n,
      n,
    ]).filter(([a, b]) => likeness(old[a]!, now[b]!) >= ALIKE);
  const best = Array.from({ length: old.length + 1 }, () => new Float64Array(now.length + 1));
  const alike = old.map((a) => now.map((b) => likeness(a, b)));
  for (let a = old.length - 1; a >= 0; a--)
    for (let b = now.length - 1; b >= 0; b--) {
      const paired = alike[a]![b]! >= ALIKE ? alike[a]![b]! + best[a + 1]![b + 1]! : 0;
      best[a]![b] = Math.max(paired, best[a + 1]![b]!, best[a]![b + 1]!);
    }
  const pairs: [number, number][] = [];
  let [a, b] = [0, 0];
  while (a < old.length && b < now.length) {
    const here = alike[a]![b]!;
    if (here >= ALIKE && best[a]![b] === here + best[a + 1]![b + 1]!) pairs.push([a++, b++]);
    else if (best[a + 1]![b]! >= best[a]![b + 1]!) a++;
    else b++;
  }
  return pairs;
}

/** Share of words that two blocks have in common (Dice 1945), 0 to 1; blocks of different types are less alike. */
function likeness(a: BodyNode, b: BodyNode): number {
  const [x, y] = [a, b].map(
    (block) =>
      new Set(
        blockWords(block)
          .toLowerCase()
          .match(/[\p{L}\p{N}]+/gu) ?? [],
      ),
  ) as [Set<string>, Set<string>];
  if (x.size + y.size === 0) return a.type === b.type ? 1 : 0;
  let both = 0;
  for (const word of x) if (y.has(word)) both++;
  return ((2 * both) / (x.size + y.size)) * (a.type === b.type ? 1 : 0.8);
}

/**
 * The later text with a passage as it was: blocks `before` of the earlier text in place of blocks `after` of the
 * later one, each from one index up to another.
 */
export function restorePassage(
  earlier: BodyNode,
  later: BodyNode,
  before: readonly [number, number],
  after: readonly [number, number],
): BodyNode {
  const content = [...(later.content ?? [])];
  content.splice(after[0], after[1] - after[0], ...(earlier.content ?? []).slice(before[0], before[1]));
  return { type: 'doc', content: content.length > 0 ? content : EMPTY_BODY.content! };
}
