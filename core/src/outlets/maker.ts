import { countWords } from '../body/text.js';
import { isImperative } from '../text/clause.js';
import type { Ranked, RankedSource, Wanted } from './choose.js';
import { type Instruction, readInstruction } from './instruction.js';
import { fitSentence, lengthOf } from './length.js';
import type { MadePiece, PieceAsk } from './piece.js';
import { overlapping, sentenceStems } from './rank.js';
import { isOpenQuestion } from './self-contained.js';
import { CALLS, hashtag, joined } from './words.js';

/** What a rule makes of a source; or a sentence why it cannot. */
export type Draft = Partial<Omit<MadePiece, 'remarks' | 'used'>> & { used: readonly (Ranked | number)[] };
export type Rule = (maker: Maker) => Draft | string;

export const signs = (text: string) => lengthOf(text, { unit: 'graphemes', linkCost: null });

/** How many words a card can hold and still be read in passing, in graphemes. */
export const CARD = 70;
export const QUOTE = 150;
export const MAX_PARTS = 8;

/** What a rule works with: the source, and what outlet and instruction allow. */
export class Maker {
  readonly read: Instruction;
  readonly turn: number;
  readonly wanted: Wanted;
  readonly tags: string[];
  readonly link: string;

  constructor(
    readonly ranked: RankedSource,
    readonly ask: PieceAsk,
  ) {
    const { limits } = ask.outlet;
    this.read = readInstruction(ask.instruction);
    const earlier = ask.earlier ?? [];
    this.turn = earlier.length;
    const used = new Map<number, number>();
    for (const version of earlier) for (const at of version.used) used.set(at, (used.get(at) ?? 0) + 1);
    const shaded = ask.only ? new Set(ask.only) : null;
    this.wanted = { stress: this.read.stress, used, only: shaded, shaded };
    this.tags =
      this.read.tags === false
        ? []
        : this.source.tags
            .map(hashtag)
            .filter(Boolean)
            .slice(0, Math.min(limits.tags, this.read.tags ? limits.tags : 3));
    this.link = (this.read.link ?? true) && limits.links ? this.source.url : '';
  }

  /** The headings without numbers of their own. */
  headings(max: number): { text: string; at: number; section: number }[] {
    return this.ranked
      .headings()
      .slice(0, max)
      .map((h) => ({ ...h, text: h.text.replace(/^\d{1,2}[.):]\s+/u, '') }));
  }

  get source() {
    return this.ranked.source;
  }
  /** The line that leads to the post; '' without a link. */
  get call(): string {
    return this.link === '' ? '' : `${this.choice(CALLS[this.read.tone])} ${this.link}`;
  }
  /** One of several, another for each version. */
  choice<T>(from: readonly T[]): T {
    return from[this.turn % from.length]!;
  }

  fits(text: string): boolean {
    const { length } = this.ask.outlet.limits;
    if (length && lengthOf(text, length) > length.max) return false;
    const { max } = this.read;
    return (
      !max ||
      max.unit === 'sentences' ||
      (max.unit === 'words' ? countWords(text.replace(/https?:\/\/\S+|#\S+/g, '')) : signs(text)) <= max.n
    );
  }

  /** How many sentences, within what the instruction allows. */
  max(usual: number): number {
    const { max } = this.read;
    if (!max) return usual;
    return max.unit === 'sentences'
      ? Math.max(1, max.n)
      : max.unit === 'words'
        ? Math.max(usual, Math.ceil(max.n / 12))
        : usual;
  }

  /** Blocks one under the other; those that are empty leave no gap. */
  stack(...blocks: string[]): string {
    return blocks.filter(Boolean).join('\n\n');
  }

  /** A text with whom it is for before it, and with a question behind it when one is to be asked. */
  say(text: string): string {
    return this.stack(this.audience, text, this.read.question ? this.questionAfter(text) : '');
  }

  /** Whom it is for, as a line of its own: what follows is a sentence that somebody else began. */
  get audience(): string {
    return this.read.audience === '' ? '' : `For ${this.read.audience}:`;
  }

  /** A question that goes with what was said: about a way to do something, or about anything. */
  questionAfter(text: string): string {
    const said = text.startsWith(this.audience) ? text.slice(this.audience.length).trim() : text;
    return this.choice(isImperative(said) ? STEP_QUESTIONS : QUESTIONS);
  }

  /** Questions of the post that stand alone. */
  asked(): Ranked[] {
    return this.ranked.best(this.wanted).filter((r) => isOpenQuestion(r.text));
  }

  /**
   * As many of the best sentences as fit in the frame; failing that the best one made shorter; tags go first
   * when there is no room, then the call.
   */
  fill(
    usual: number,
    frame: (text: string, call: string, tags: string) => string,
    wanted: Wanted = this.wanted,
  ): { text: string; used: Ranked[] } | null {
    for (const [call, tags] of [
      [this.call, this.tags.join(' ')],
      [this.call, ''],
      [this.link, ''],
      ['', ''],
    ] as const) {
      const whole = (chosen: readonly Ranked[]) =>
        frame(this.say(joined(chosen.map((c) => c.text))), call, tags);
      const chosen = this.ranked.pick(this.max(usual), wanted, (c) => this.fits(whole(c)));
      if (chosen.length > 0) return { text: whole(chosen), used: chosen };
      const best = this.ranked.alone(wanted)[0];
      const short = best && fitSentence(best.text, (text) => this.fits(frame(this.say(text), call, tags)));
      // A stump of a few signs is worth less than the tags and the call that left no room for more.
      if (best && short && (short.length > 40 || short === best.text || (call === '' && tags === '')))
        return { text: frame(this.say(short), call, tags), used: [best] };
    }
    return null;
  }

  /** Telling words of the title and of the author's own sentence about the post. */
  private get heading(): ReadonlySet<string> {
    return sentenceStems(`${this.source.title} ${this.source.excerpt}`);
  }

  /** Does a sentence, alone on a card, say what the post is about? */
  private isForCard(r: Ranked): boolean {
    return (
      this.wanted.shaded?.has(r.at) === true ||
      r.sentence.kind === 'quote' ||
      // Who “you” and “I” are is not on the card.
      (r.sentence.kind !== 'list' &&
        !/^(?:you|I|we|my|our|your)\b/iu.test(r.text) &&
        overlapping(r.stems, this.heading) >= 2)
    );
  }

  /** Short things to draw on a card, best first: a telling sentence, else the title. */
  card(max: number): { words: string; used: (Ranked | number)[] } {
    const short = this.ranked
      .alone(this.wanted)
      .filter((r) => signs(r.text) <= max && r.words >= 3 && !r.text.includes('http') && this.isForCard(r));
    // A card says one thing: the strongest short sentence, never one that only half the post stands behind.
    const best = short[0];
    if (best) return { words: best.text.replace(/[.;:,]$/u, ''), used: [best] };
    const headings = this.ranked.headings().filter((h) => signs(h.text) <= max);
    const lines = [this.source.title, ...headings.map((h) => h.text)];
    const words = this.choice(lines);
    return {
      words: fitSentence(words, (t) => signs(t) <= max) ?? words,
      used: headings.filter((h) => h.text === words).map((h) => h.at),
    };
  }
}

export const TOO_LITTLE =
  'The post has no sentence that says something by itself and fits here. Shade those that shall be used all the same.';

const QUESTIONS = ['What do you make of it?', 'What has been your experience?', 'What would you add?'];
const STEP_QUESTIONS = ['Do you do it the same way?', 'How do you do it?', 'What would you add?'];
