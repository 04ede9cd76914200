import { stemmer } from 'stemmer';
import { telling } from '../address/address.js';
import { countWords } from '../body/text.js';
import { stemsOf } from '../likeness/likeness.js';
import { wordsOf } from '../reading/reading.js';
import type { Lexicon } from './lexicon.js';
import { ENTRY, textWidth } from './width.js';

export const SIGNALS = ['words', 'characters', 'width', 'familiar', 'feeling', 'drive', 'concrete', 'early', 'apart'] as const;
export type SignalKey = (typeof SIGNALS)[number];

/** One measure of a title. */
export interface Signal {
  key: SignalKey;
  /** 0 to 1: how well it does by common practice. */
  score: number;
  sentence: string;
}

export const SIGNAL_NAMES: Record<SignalKey, string> = {
  words: 'Words', characters: 'Characters', width: 'Width in a search entry', familiar: 'Familiar words, one telling', feeling: 'Feeling',
  drive: 'A word that moves', concrete: 'Something concrete', early: 'Key words early', apart: 'Unlike earlier titles',
};

/**
 * How much each signal counts in the rank; common practice puts length and words first (no published source). Key words
 * count nothing: what an old post was about when its title was chosen cannot be measured any more, and the rank compares.
 */
const WEIGHTS: Record<SignalKey, number> = { words: 2, characters: 2, width: 1, familiar: 2, feeling: 1, drive: 1.5, concrete: 1.5, early: 0, apart: 1.5 };
const ALL_WEIGHTS = Object.values(WEIGHTS).reduce((a, b) => a + b, 0);

/** Titles are about 6 words and 55 characters, 60 at most (common practice, no published source). */
export const TITLE_LENGTH = { words: 6, characters: 55, most: 60 } as const;

export interface UsedTitle {
  id: number;
  title: string;
}

export interface ScoredTitle {
  signals: Signal[];
  /** 0 to 1. */
  score: number;
  /** The earlier title it is nearest to, if any word is shared. */
  nearest: { id: number; title: string; share: number } | null;
}

/** Earlier titles by stem, so that a new one is compared only with those that share a word with it. */
export class TitleIndex {
  private readonly sizes: Uint16Array;
  /** How many stems each title shares with the one in hand; all nought between two questions. */
  private readonly shared: Uint16Array;
  private readonly byStem = new Map<string, number[]>();

  constructor(private readonly titles: readonly UsedTitle[]) {
    this.sizes = new Uint16Array(titles.length);
    this.shared = new Uint16Array(titles.length);
    titles.forEach(({ title }, at) => {
      const stems = [...stemsOf(title).keys()];
      this.sizes[at] = stems.length;
      for (const stem of stems) {
        const places = this.byStem.get(stem);
        if (places) places.push(at);
        else this.byStem.set(stem, [at]);
      }
    });
  }

  /** The title that shares most, by Jaccard index of stems, the older of two; the post itself is left out. */
  nearest(title: string, besides: number | null): { id: number; title: string; share: number } | null {
    const stems = [...stemsOf(title).keys()];
    const touched: number[] = [];
    for (const stem of stems) {
      for (const at of this.byStem.get(stem) ?? []) if (this.shared[at]!++ === 0) touched.push(at);
    }
    let best: { at: number; share: number } | null = null;
    for (const at of touched) {
      const n = this.shared[at]!;
      this.shared[at] = 0;
      if (this.titles[at]!.id === besides) continue;
      const share = n / (stems.length + this.sizes[at]! - n);
      if (!best || share > best.share || (share === best.share && this.titles[at]!.id < this.titles[best.at]!.id)) best = { at, share };
    }
    return best && { ...this.titles[best.at]!, share: best.share };
  }
}

/** Falls from 1 at `best` to 0 at `none`. */
const fall = (value: number, best: number, none: number) => Math.min(1, Math.max(0, (none - value) / (none - best)));

/** Measures one title. `keyWords` are the words that the post is about, most important first. */
export function scoreTitle(title: string, lexicon: Lexicon, index: TitleIndex, keyWords: readonly string[], postId: number | null = null): ScoredTitle {
  const written = wordsOf(title);
  const words = written.map((w) => w.toLowerCase().replace(/’/g, "'"));
  const signals = [
    lengthInWords(title), lengthInCharacters(title), width(title), familiar(written, words, lexicon), feeling(words, lexicon), drive(words, lexicon),
    concrete(title, written), early(title, keyWords),
  ];
  const nearest = index.nearest(title, postId);
  signals.push(apart(nearest));
  return { signals, score: signals.reduce((sum, s) => sum + s.score * WEIGHTS[s.key], 0) / ALL_WEIGHTS, nearest };
}

function lengthInWords(title: string): Signal {
  const n = countWords(title);
  const score = n === 0 ? 0 : n <= TITLE_LENGTH.words ? fall(TITLE_LENGTH.words - n, 1, 5) : fall(n, TITLE_LENGTH.words + 2, 16);
  return { key: 'words', score, sentence: `${n} ${n === 1 ? 'word' : 'words'}; about ${TITLE_LENGTH.words} are read in one look.` };
}

function lengthInCharacters(title: string): Signal {
  const n = [...title].length;
  const score = n === 0 ? 0 : n < 25 ? n / 25 : fall(n, TITLE_LENGTH.characters, 85);
  return { key: 'characters', score, sentence: `${n} characters; ${TITLE_LENGTH.characters} are right, ${TITLE_LENGTH.most} at most.` };
}

function width(title: string): Signal {
  const px = Math.round(textWidth(title, ENTRY.size));
  return { key: 'width', score: px === 0 ? 0 : fall(px, ENTRY.room, ENTRY.room * 1.5), sentence: px > ENTRY.room ? `${px} px: a search entry cuts it at ${ENTRY.room}.` : `${px} px of the ${ENTRY.room} a search entry has.` };
}

function familiar(written: readonly string[], words: readonly string[], lexicon: Lexicon): Signal {
  if (words.length === 0) return { key: 'familiar', score: 0, sentence: 'No words yet.' };
  const rare = written.filter((_, i) => !/^\d/.test(words[i]!) && (lexicon.zipf(words[i]!) ?? lexicon.zipf(words[i]!.replace(/'s$/, '')) ?? 0) < 3.5);
  const share = 1 - rare.length / words.length;
  const score = fall(1 - share, 0.35, 0.9) * (rare.length > 0 ? 1 : 0.6);
  const sentence = rare.length === 0 ? 'Every word is familiar; a telling one among them would stand out.'
    : `${Math.round(share * 100)}% familiar words; telling: ${rare.slice(0, 4).map((w) => `“${w}”`).join(', ')}.`;
  return { key: 'familiar', score, sentence };
}

function feeling(words: readonly string[], lexicon: Lexicon): Signal {
  const felt = words.filter((w) => lexicon.feeling(w) !== 0);
  const sum = felt.reduce((total, w) => total + Math.abs(lexicon.feeling(w)), 0);
  return { key: 'feeling', score: Math.min(1, sum / 3), sentence: felt.length === 0 ? 'No word with feeling in it, glad or grim.' : `Feeling in ${felt.slice(0, 3).map((w) => `“${w}” (${lexicon.feeling(w) > 0 ? '+' : '−'}${Math.abs(lexicon.feeling(w))})`).join(', ')}.` };
}

function drive(words: readonly string[], lexicon: Lexicon): Signal {
  const moving = words.filter((w) => lexicon.moves(w));
  return { key: 'drive', score: moving.length > 0 ? 1 : 0, sentence: moving.length > 0 ? `Moves: ${moving.slice(0, 3).map((w) => `“${w}”`).join(', ')}.` : 'No verb that moves something.' };
}

const NUMBER_WORDS = new Set('two three four five six seven eight nine ten eleven twelve thirteen twenty thirty forty fifty hundred thousand'.split(' '));

function concrete(title: string, written: readonly string[]): Signal {
  const numbers = written.filter((w) => /^\d/.test(w) || NUMBER_WORDS.has(w.toLowerCase()));
  // In a title set like a sentence, a capital after the first word marks a name; set Like This, none can be told.
  const capitals = written.slice(1).filter((w) => /^\p{Lu}/u.test(w) && w !== 'I' && !/^I['’]/.test(w));
  const headline = written.length > 3 && capitals.length >= (written.length - 1) * 0.7;
  const names = headline ? [] : capitals;
  const found = [...numbers, ...names];
  return { key: 'concrete', score: found.length > 0 || /["“”]/.test(title) ? 1 : 0, sentence: found.length > 0 ? `Concrete: ${found.slice(0, 3).map((w) => `“${w}”`).join(', ')}.` : 'No number and no name to hold on to.' };
}

function early(title: string, keyWords: readonly string[]): Signal {
  if (keyWords.length === 0) return { key: 'early', score: 0.5, sentence: 'The post has no text yet that would say what its key words are.' };
  const keys = new Set(keyWords.map((w) => stemmer(w)));
  const stems = wordsOf(title).map((w) => stemmer(telling(w, 1)[0] ?? ''));
  const at = stems.findIndex((s) => keys.has(s));
  if (at < 0) return { key: 'early', score: 0, sentence: `None of the post’s key words (${keyWords.slice(0, 3).join(', ')}) is in it.` };
  return { key: 'early', score: at < 3 ? 1 : fall(at, 2, 8), sentence: `The first key word is word ${at + 1}${at < 3 ? '.' : '; within the first three it is seen.'}` };
}

function apart(nearest: ScoredTitle['nearest']): Signal {
  const share = nearest?.share ?? 0;
  return { key: 'apart', score: fall(share, 0.2, 0.8), sentence: nearest && share > 0.2 ? `Shares ${Math.round(share * 100)}% of its words with “${nearest.title}”.` : 'No earlier title is near it.' };
}

/** Ahead of what share of these scores, 0 to 1; equal ones count half (the percentile rank). Null when there are none. */
export function aheadOf(score: number, scores: readonly number[]): number | null {
  if (scores.length === 0) return null;
  let below = 0;
  for (const s of scores) below += s < score - 1e-9 ? 1 : s <= score + 1e-9 ? 0.5 : 0;
  return below / scores.length;
}

/** Words that a text is about: its telling words by how often they come, those of the headings and the category counted thrice. */
export function keyWordsOf(parts: { text: string; headings: readonly string[]; category: string | null }, most = 8): string[] {
  const uses = new Map<string, { word: string; times: number }>();
  const count = (text: string, weight: number) => {
    for (const word of wordsOf(text)) {
      const plain = telling(`${word} zz`, 1)[0]!;
      if (plain === 'zz' || /^\d/.test(plain) || plain.length < 3) continue;
      const stem = stemmer(plain);
      const entry = uses.get(stem) ?? { word: plain, times: 0 };
      entry.times += weight;
      uses.set(stem, entry);
    }
  };
  count(parts.text.slice(0, 60_000), 1);
  for (const h of parts.headings) count(h, 3);
  if (parts.category) count(parts.category, 3);
  return [...uses.values()].filter((u) => u.times > 1).sort((a, b) => b.times - a.times || a.word.localeCompare(b.word)).slice(0, most).map((u) => u.word);
}

/** A published title with its signals and how often its post was read. */
export interface MeasuredTitle {
  signals: readonly Signal[];
  reads: number;
}

/** How titles like one did: medians of reads, of those like it and of all. */
export interface LikeTitles {
  count: number;
  reads: number;
  all: number;
}

/** Fewer measured posts say more about chance than about titles. */
export const FEWEST_MEASURED = 50;
/** So many neighbours are asked. */
const NEIGHBOURS = 15;

/** How the titles that are measured most alike did here; null with fewer than 50 measured posts. */
export function titlesLikeIt(signals: readonly Signal[], measured: readonly MeasuredTitle[]): LikeTitles | null {
  if (measured.length < FEWEST_MEASURED) return null;
  const counted = (list: readonly Signal[]) => list.filter((s) => WEIGHTS[s.key] > 0).map((s) => s.score * WEIGHTS[s.key]);
  const own = counted(signals);
  const apart = (m: MeasuredTitle) => counted(m.signals).reduce((sum, v, i) => sum + (v - own[i]!) ** 2, 0);
  const near = measured.map((m) => ({ reads: m.reads, d: apart(m) })).sort((a, b) => a.d - b.d).slice(0, NEIGHBOURS);
  return { count: near.length, reads: median(near.map((n) => n.reads)), all: median(measured.map((m) => m.reads)) };
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
