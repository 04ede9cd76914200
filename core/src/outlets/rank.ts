import { stemOf } from '../text/stem.js';
import { isFillerFree } from '../slug/slug.js';
import { wordsOf } from '../reading/reading.js';

/**
 * A word that so many sentences share tells none of them apart; leaving it out keeps a long text from taking
 * its square in time.
 */
const TOO_COMMON = 300;
const DAMPING = 0.85;
const ROUNDS = 100;
const CLOSE = 1e-7;

/** Edges of a weighted, undirected graph: for each node its neighbours and their weights. */
export type Graph = readonly ReadonlyMap<number, number>[];

/** Is this word worth counting: no function word of English? Words of other languages all are. */
export const isTelling = (word: string) => isFillerFree(word.toLowerCase());

/** Telling words of a sentence by their stems, in any script (words by UAX #29). */
export const sentenceStems = (text: string) => stemsOfWords(wordsOf(text));

export function stemsOfWords(words: readonly string[]): Set<string> {
  return new Set(words.filter(isTelling).map((w) => stemOf(w.toLowerCase())));
}

/**
 * How alike sentences are: words they share, over the logarithms of their lengths, so that long ones gain
 * nothing by their length (R. Mihalcea and P. Tarau, "TextRank: Bringing Order into Texts", EMNLP 2004,
 * section 4.1). A sentence of one word has length ln 2.
 * Takes time in the pairs that share a word, not in all pairs. Words in more than 300 sentences count for
 * none.
 */
export function sentenceGraph(sentences: readonly ReadonlySet<string>[]): Graph {
  const holders = new Map<string, number[]>();
  for (const [i, words] of sentences.entries()) {
    for (const word of words) {
      const held = holders.get(word);
      if (held) held.push(i);
      else holders.set(word, [i]);
    }
  }
  const length = sentences.map((s) => Math.log(Math.max(2, s.size)));
  const graph: Map<number, number>[] = sentences.map(() => new Map());
  for (const list of holders.values()) {
    if (list.length > TOO_COMMON) continue;
    for (const i of list) for (const j of list) if (i !== j) graph[i]!.set(j, (graph[i]!.get(j) ?? 0) + 1);
  }
  for (const [i, edges] of graph.entries())
    for (const [j, shared] of edges) edges.set(j, shared / (length[i]! + length[j]!));
  return graph;
}

/**
 * Weighted PageRank by power iteration, damping 0.85; ranks sum to 1 (S. Brin and L. Page, 1998; weighted as
 * in TextRank).
 * What nodes without neighbours hold is shared out evenly.
 */
export function pageRank(graph: Graph): number[] {
  const n = graph.length;
  if (n === 0) return [];
  const out = graph.map((edges) => [...edges.values()].reduce((sum, w) => sum + w, 0));
  // What each neighbour gets of a node's rank, laid out once: the rounds go over it a hundred times.
  const shares = graph.map((edges, i) => ({
    to: Uint32Array.from(edges.keys()),
    share: Float64Array.from(edges.values(), (w) => (DAMPING * w) / out[i]!),
  }));
  let rank = new Array<number>(n).fill(1 / n);
  for (let round = 0; round < ROUNDS; round++) {
    const lost = rank.reduce((sum, r, i) => sum + (out[i] === 0 ? r : 0), 0);
    const next = new Array<number>(n).fill((1 - DAMPING + DAMPING * lost) / n);
    for (const [i, { to, share }] of shares.entries())
      for (let k = 0; k < to.length; k++) next[to[k]!]! += rank[i]! * share[k]!;
    const moved = next.reduce((sum, r, i) => sum + Math.abs(r - rank[i]!), 0);
    rank = next;
    if (moved < CLOSE) break;
  }
  return rank;
}

/** How many telling words two sentences share. */
export function overlapping(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  let shared = 0;
  for (const word of a) if (b.has(word)) shared++;
  return shared;
}

/** The same as a share of the smaller. */
export const overlap = (a: ReadonlySet<string>, b: ReadonlySet<string>): number =>
  a.size === 0 || b.size === 0 ? 0 : overlapping(a, b) / Math.min(a.size, b.size);
