import type { Tone } from './instruction.js';

/** Lines that lead to the post, by tone; another version takes another. */
export const CALLS: Record<Tone, readonly string[]> = {
  plain: ['Read it:', 'The whole of it:', 'More on this:', 'It is all here:'],
  warm: [
    'Read it over a cup of something:',
    'Sit down with it:',
    'We hope it helps:',
    'For a quiet half hour:',
  ],
  brisk: ['Read it today:', 'Start here:', 'The short way to it:', 'Do it now:'],
  formal: ['The full article:', 'Read the article:', 'The article in full:', 'Further reading:'],
  playful: [
    'Go on, have a look:',
    'You know you want to:',
    'There is more where that came from:',
    'Curious?',
  ],
};

export const GREETINGS: Record<Tone, string> = {
  plain: 'Hello,',
  warm: 'Dear reader,',
  brisk: 'Hello,',
  formal: 'Dear reader,',
  playful: 'Hello there,',
};
export const CLOSINGS: Record<Tone, string> = {
  plain: 'Until next time,',
  warm: 'With warm wishes,',
  brisk: 'More soon,',
  formal: 'With kind regards,',
  playful: 'Yours, with a grin,',
};

/** A tag as networks write it: `winter boating` is `#WinterBoating`. Signs that end a tag are left out. */
export function hashtag(tag: string): string {
  const words = tag
    .normalize('NFC')
    .split(/[^\p{L}\p{N}\p{M}]+/u)
    .filter(Boolean);
  return words.length === 0
    ? ''
    : `#${words.map((w, i) => (words.length === 1 && i === 0 ? w : w[0]!.toUpperCase() + w.slice(1))).join('')}`;
}

/** Sentences in a row; scripts that part sentences without a space get none. */
export function joined(sentences: readonly string[]): string {
  return sentences.reduce(
    (text, next) =>
      text === ''
        ? next
        : `${text}${/[\u3000-\u303f\u4e00-\u9fff\u3040-\u30ff\uff00-\uffef]$/u.test(text) ? '' : ' '}${next}`,
    '',
  );
}
