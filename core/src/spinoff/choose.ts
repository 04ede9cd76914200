import { wordsOf } from '../reading/reading.js';
import { overlap, pageRank, sentenceGraph, sentenceStems, stemsOfWords } from './rank.js';
import type { Source, SourceSentence } from './source.js';

/** Sentences that hang on the one before; alone they point at nothing. */
export const HANGING =
  /^(?:this|that|these|those|it|its|they|them|their|he|she|his|her|here|there|but|and|so|or|then|also|however|therefore|instead|both|such|the (?:first|second|third|last|same|other)|once (?:it|they)|if (?:it|they)|when (?:it|they)|neither|otherwise|yet)\b/i;

/** Sentences that are looked at for a piece; one further down would not be among the best in any case. */
const MAX_TRIED = 60;

export interface Ranked {
  /** Index in the source's sentences. */
  at: number;
  text: string;
  sentence: SourceSentence;
  stems: ReadonlySet<string>;
  words: number;
  score: number;
}

export interface Wanted {
  /** Words that count for more. */
  stress?: readonly string[];
  /** How often each sentence was used in earlier versions: another version takes others. */
  used?: ReadonlyMap<number, number>;
  /** Only these, when a person has shaded them. */
  only?: ReadonlySet<number> | null;
}

/** The sentences of a source with what each is worth; headings and captions are none. */
export function rankSentences(source: Source): Ranked[] {
  const told = [...source.sentences.entries()].filter(
    ([, s]) => s.kind !== 'heading' && s.kind !== 'caption',
  );
  const words = told.map(([, s]) => wordsOf(s.text));
  const stems = words.map(stemsOfWords);
  const rank = pageRank(sentenceGraph(stems));
  const mean = 1 / Math.max(1, told.length);
  const phrases = sentenceStems(source.phrases.join(' '));
  const title = sentenceStems(`${source.title} ${source.excerpt}`);
  return told.map(([at, sentence], i) => {
    // Rank says how central it is; standing alone, being near the title and opening the post make it worth
    // repeating.
    const alone = HANGING.test(sentence.text) ? 0.35 : 1;
    const length = words[i]!.length < 4 ? 0.4 : words[i]!.length > 34 ? 0.6 : 1;
    const score =
      (rank[i]! / mean) *
      alone *
      length *
      (1 + 0.6 * overlap(stems[i]!, title)) *
      (1 + 0.5 * overlap(stems[i]!, phrases)) *
      (i === 0 ? 1.25 : 1) *
      (sentence.kind === 'list' ? 0.8 : 1);
    return { at, text: sentence.text, sentence, stems: stems[i]!, words: words[i]!.length, score };
  });
}

/** A source whose sentences are ranked once, for all pieces that are made of it. */
export class RankedSource {
  readonly ranked: readonly Ranked[];

  /** Ranking takes time in proportion to the text; who has done it elsewhere hands the ranks in. */
  constructor(
    readonly source: Source,
    ranked: readonly Ranked[] = rankSentences(source),
  ) {
    this.ranked = ranked;
  }

  /** Sentences, best first, for what is wanted. */
  best({ stress = [], used = new Map(), only = null }: Wanted = {}): Ranked[] {
    const stressed = sentenceStems(stress.join(' '));
    return this.ranked
      .filter((r) => !only || only.has(r.at))
      .map((r) => ({
        ...r,
        score: (r.score * (overlap(r.stems, stressed) > 0 ? 4 : 1)) / 6 ** (used.get(r.at) ?? 0),
      }))
      .sort((a, b) => b.score - a.score || a.at - b.at);
  }

  /**
   * The best sentences that say different things, so many at most, each fitting; in the order of the post.
   */
  pick(max: number, wanted: Wanted, fits: (chosen: readonly Ranked[]) => boolean = () => true): Ranked[] {
    const chosen: Ranked[] = [];
    const left = this.best(wanted).slice(0, MAX_TRIED);
    while (chosen.length < max && left.length > 0) {
      let best = -1;
      let top = -1;
      for (const [i, r] of left.entries()) {
        // A sentence that says again what is said is worth less the more it repeats (J. Carbonell and J.
        // Goldstein, SIGIR 1998).
        const value =
          r.score * (1 - Math.min(0.95, Math.max(0, ...chosen.map((c) => overlap(c.stems, r.stems)))));
        if (value > top) [best, top] = [i, value];
      }
      const [next] = left.splice(best, 1);
      const grown = [...chosen, next!].sort((a, b) => a.at - b.at);
      if (fits(grown)) chosen.push(next!);
    }
    return chosen.sort((a, b) => a.at - b.at);
  }

  /** The headings, in order. */
  headings(): { text: string; section: number; at: number }[] {
    return [...this.source.sentences.entries()]
      .filter(([, s]) => s.kind === 'heading')
      .map(([at, s]) => ({ text: s.text, section: s.section, at }));
  }
}
