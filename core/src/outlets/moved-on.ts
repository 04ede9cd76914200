import { overlap, sentenceStems } from './rank.js';
import type { Source } from './source.js';

/** What of a post a piece hangs on. */
export type PostText = Pick<Source, 'title' | 'sentences'>;

/** How a post has moved on since a piece was made from it. */
export interface MovedOn {
  /**
   * The gravest: sentences the piece is built from changed, else the title, else only others, else nothing.
   */
  what: 'nothing' | 'others' | 'title' | 'used';
  title: { was: string; is: string } | null;
  /**
   * Sentences the piece is built from that are gone from the text, with what is there now, if anything is
   * like it.
   */
  used: { was: string; is: string | null }[];
  /** Other sentences that went, and that came. */
  gone: number;
  come: number;
  sentence: string;
}

const plain = (text: string) => text.normalize('NFC').replace(/\s+/g, ' ').trim();
/** Two sentences that share less are two sentences, not one that was changed. */
const ALIKE = 0.4;

/** Compares the post a piece was made from with the post as it is now. */
export function movedOn(then: PostText, used: readonly number[], now: PostText): MovedOn {
  const before = then.sentences.map((s) => plain(s.text));
  const after = now.sentences.map((s) => plain(s.text));
  const [was, is] = [new Set(before), new Set(after)];
  const come = after.filter((s) => !was.has(s));
  const changed = used
    .filter((at) => before[at] !== undefined && !is.has(before[at]!))
    .map((at) => {
      const stems = sentenceStems(before[at]!);
      const like = come
        .map((text) => ({ text, share: overlap(stems, sentenceStems(text)) }))
        .sort((a, b) => b.share - a.share)[0];
      return { was: before[at]!, is: like && like.share >= ALIKE ? like.text : null };
    });
  const title = plain(then.title) === plain(now.title) ? null : { was: then.title, is: now.title };
  const gone = before.filter((s, at) => !is.has(s) && !used.includes(at)).length;
  const replaced = new Set(changed.map((c) => c.is));
  const others = come.filter((s) => !replaced.has(s)).length;
  const what = changed.length > 0 ? 'used' : title ? 'title' : gone + others > 0 ? 'others' : 'nothing';
  const sentence = {
    used:
      changed.length === 1
        ? 'A sentence that it is built from changed.'
        : `${changed.length} sentences that it is built from changed.`,
    title: 'The title changed; the sentences that it is built from stand.',
    others: 'Other sentences changed; those that it is built from stand.',
    nothing: 'The post says what it said.',
  }[what];
  return { what, title, used: changed, gone, come: others, sentence };
}

/**
 * The sentences that a piece was built from and that still stand, by their place in the post as it is now.
 */
export function stillUsed(then: PostText, used: readonly number[], now: PostText): number[] {
  const texts = new Set(used.map((at) => plain(then.sentences[at]?.text ?? '')));
  return [...now.sentences.entries()].filter(([, s]) => texts.has(plain(s.text))).map(([at]) => at);
}

/** The same with those that changed, where they are now: for rebuilding from the same places. */
export function usedNow(then: PostText, used: readonly number[], now: PostText): number[] {
  const moved = movedOn(then, used, now);
  const changed = new Set(moved.used.flatMap((u) => (u.is === null ? [] : [u.is])));
  return [
    ...new Set([
      ...stillUsed(then, used, now),
      ...[...now.sentences.entries()].filter(([, s]) => changed.has(plain(s.text))).map(([at]) => at),
    ]),
  ].sort((a, b) => a - b);
}
