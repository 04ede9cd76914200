import { wordsOf } from '../reading/reading.js';
import { overlap, overlapping, pageRank, sentenceGraph, sentenceStems, stemsOfWords } from './rank.js';
import type { Source, SourceSentence } from './source.js';
import { isUsable, isSelfContained } from './self-contained.js';

/** Sentences that are looked at for a piece; one further down would not be among the best in any case. */
const MAX_TRIED = 60;
/** What the first sentence of a post is worth beside others: it says what the post is about. */
const LEAD = 2;
/** What a sentence is worth that speaks of what is to be stressed. */
const STRESSED = 20;
/** What a sentence that opens its paragraph is worth beside others. */
const OPENING = 1.6;
/** Where a passage may begin. */
const MAX_STARTS = 24;
/** A passage is as good as its beginning; what follows counts less and less. */
const FADING = 0.5;

export interface Ranked {
  /** Index in the source's sentences. */
  at: number;
  text: string;
  sentence: SourceSentence;
  stems: ReadonlySet<string>;
  words: number;
  score: number;
  /** Can it be told on as it is: a whole sentence that neither asks nor refers to another place? */
  usable: boolean;
  /** Does it open its paragraph? Such a sentence says what the others go on from. */
  opens: boolean;
  /** The sentence without which it says nothing; null when it stands alone, -1 when there is none. */
  needs: number | null;
}

export interface Wanted {
  /** Words that count for more. */
  stress?: readonly string[];
  /** How often each sentence was used in earlier versions: another version takes others. */
  used?: ReadonlyMap<number, number>;
  /** Only these. */
  only?: ReadonlySet<number> | null;
  /** Does a heading stand before it? Then the first sentence under it goes on from that. */
  underHeading?: boolean;
  /** Those that a person has shaded: they are used as they are, whatever they hang on. */
  shaded?: ReadonlySet<number> | null;
}

/** The sentences of a source with what each is worth; headings and captions are none. */
export function rankSentences(source: Source): Ranked[] {
  const sentences = [...source.sentences.entries()].filter(
    ([, s]) => s.kind !== 'heading' && s.kind !== 'caption',
  );
  const words = sentences.map(([, s]) => wordsOf(s.text));
  const stems = words.map(stemsOfWords);
  const rank = pageRank(sentenceGraph(stems));
  const mean = 1 / Math.max(1, sentences.length);
  const phrases = sentenceStems(source.phrases.join(' '));
  const title = sentenceStems(`${source.title} ${source.excerpt}`);
  return sentences.map(([at, sentence], i) => {
    // Rank says how central it is; standing alone, being near the title and opening the post make it worth
    // repeating.
    const hanging = !isSelfContained(sentence.text);
    const before = source.sentences[at - 1];
    const needs = !hanging ? null : before?.block === sentence.block ? at - 1 : -1;
    const alone = hanging ? 0.5 : 1;
    const length = words[i]!.length < 4 ? 0.4 : words[i]!.length > 34 ? 0.6 : 1;
    const score =
      (rank[i]! / mean) *
      alone *
      length *
      (1 + 0.6 * overlap(stems[i]!, title)) *
      (1 + 0.5 * overlap(stems[i]!, phrases)) *
      (i === 0 ? LEAD : 1) *
      (sentence.kind === 'list' ? 0.3 : 1);
    return {
      at,
      text: sentence.text,
      sentence,
      stems: stems[i]!,
      words: words[i]!.length,
      score,
      usable: isUsable(sentence, words[i]!.length),
      opens: before?.block !== sentence.block,
      needs,
    };
  });
}

/** A source whose sentences are ranked once, for all pieces that are made of it. */
export class RankedSource {
  readonly ranked: readonly Ranked[];

  /** Ranking takes time in proportion to the text. */
  constructor(readonly source: Source) {
    this.ranked = rankSentences(source);
  }

  /** Sentences, best first, for what is wanted. */
  best({ stress = [], used = new Map(), only = null }: Wanted = {}): Ranked[] {
    const stressed = sentenceStems(stress.join(' '));
    return this.ranked
      .filter((r) => !only || only.has(r.at))
      .map((r) => ({
        ...r,
        score: (r.score * (overlap(r.stems, stressed) > 0 ? STRESSED : 1)) / 6 ** (used.get(r.at) ?? 0),
      }))
      .sort((a, b) => b.score - a.score || a.at - b.at);
  }

  /**
   * Those that say something by themselves, best first: rather such as open a paragraph; from the middle of one
   * only those that speak of what the post is about.
   */
  alone(wanted: Wanted = {}): Ranked[] {
    const isAble = (r: Ranked) =>
      r.usable && r.needs === null && (r.opens || r.sentence.kind === 'quote' || this.shared(r) > 0);
    return this.best(wanted)
      .filter((r) => wanted.shaded?.has(r.at) || isAble(r))
      .map((r) => ({ ...r, score: r.score * (r.opens || r.sentence.kind === 'quote' ? OPENING : 1) }))
      .sort((a, b) => b.score - a.score || a.at - b.at);
  }

  /** How many telling words a sentence shares with the title, the excerpt and the key phrases. */
  shared(r: Ranked): number {
    const { title, excerpt, phrases } = this.source;
    this.subject ??= sentenceStems(`${title} ${excerpt} ${phrases.join(' ')}`);
    return overlapping(r.stems, this.subject);
  }
  private subject: ReadonlySet<string> | null = null;

  /** So many sentences at most, fitting, in the order of the post: those that a person shaded, else a passage. */
  pick(max: number, wanted: Wanted, fits: (chosen: readonly Ranked[]) => boolean = () => true): Ranked[] {
    return wanted.shaded ? this.scattered(max, wanted, fits) : this.passage(max, wanted, fits);
  }

  /**
   * The best run of sentences of one section, as they follow each other there, beginning with one that stands
   * alone: sentences from here and there make no sense in a row.
   */
  private passage(max: number, wanted: Wanted, fits: (chosen: readonly Ranked[]) => boolean): Ranked[] {
    const worth = new Map(this.best(wanted).map((r) => [r.at, r.score]));
    let best: Ranked[] = [];
    let top = 0;
    const under = wanted.underHeading
      ? this.best(wanted).filter(
          (r) => r.usable && this.ranked[this.placeOf(r) - 1]?.sentence.section !== r.sentence.section,
        )
      : [];
    for (const first of [...under, ...this.alone(wanted)].slice(0, MAX_STARTS)) {
      const run: Ranked[] = [];
      let value = 0;
      for (let i = this.placeOf(first); i < this.ranked.length; i++) {
        const r = this.ranked[i]!;
        const follows =
          r.sentence.section === first.sentence.section && r.sentence.kind === first.sentence.kind;
        if (run.length === max || !worth.has(r.at) || (run.length > 0 && (!follows || !r.usable))) break;
        if (!fits([...run, r])) break;
        run.push(r);
        value += (run.length === 1 ? first.score : worth.get(r.at)!) * FADING ** (run.length - 1);
      }
      if (value > top) [best, top] = [run, value];
    }
    return best;
  }

  private placeOf(r: Ranked): number {
    return this.ranked.findIndex((other) => other.at === r.at);
  }

  /** The best sentences that say different things, wherever they stand. */
  private scattered(max: number, wanted: Wanted, fits: (chosen: readonly Ranked[]) => boolean): Ranked[] {
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
