import { stemOf } from '../text/stem.js';
import { wordsOf } from '../reading/reading.js';
import { isTelling } from './rank.js';

/** In how many posts of the archive each stem comes, and how many posts there are. */
export interface Archive {
  posts: number;
  holding: ReadonlyMap<string, number>;
}

export interface KeyPhrase {
  text: string;
  weight: number;
}

const COUNTS = /^(?:\d+|one|two|three|four|five|six|seven|eight|nine|ten|once|twice|first|last)$/i;

/**
 * What a post is about, against the archive: runs of telling words, each word weighed by how often it comes
 * here and how seldom elsewhere (tf · ln((N + 1) / (n + 1)); K. Spärck Jones, 1972), a run by its heaviest
 * word and its mean, and a little for each more word, and only when it comes twice or is in the title.
 * Heaviest first, none inside another.
 */
export function keyPhrases(
  title: string,
  texts: readonly string[],
  archive: Archive,
  max: number,
): KeyPhrase[] {
  const times = new Map<string, number>();
  const runs = new Map<string, { text: string; stems: string[]; times: number; inTitle: boolean }>();
  for (const [at, text] of [title, ...texts].entries()) {
    for (const clause of text.split(/[^\p{L}\p{N}\p{M}\s'’-]+/u)) {
      let run: string[] = [];
      const end = (): void => {
        for (let from = 0; from < run.length; from++) {
          for (let to = from + 1; to <= Math.min(run.length, from + 3); to++) {
            const words = run.slice(from, to);
            const stems = words.map((w) => stemOf(w.toLowerCase()));
            const key = stems.join(' ');
            const seen = runs.get(key) ?? {
              text: words.join(' ').toLowerCase(),
              stems,
              times: 0,
              inTitle: false,
            };
            seen.times++;
            if (at === 0) seen.inTitle = true;
            runs.set(key, seen);
          }
        }
        for (const word of run)
          times.set(stemOf(word.toLowerCase()), (times.get(stemOf(word.toLowerCase())) ?? 0) + 1);
        run = [];
      };
      for (const word of wordsOf(clause)) {
        if (word.length > 2 && !COUNTS.test(word) && isTelling(word)) run.push(word);
        else end();
      }
      end();
    }
  }
  const weigh = (stem: string) =>
    (times.get(stem) ?? 0) * Math.log((archive.posts + 1) / ((archive.holding.get(stem) ?? 0) + 1) + 1);
  const found = [...runs.values()]
    .filter((r) => r.times > 1 || r.inTitle)
    .map((r) => ({
      text: r.text,
      stems: r.stems,
      weight:
        ((Math.max(...r.stems.map(weigh)) + r.stems.reduce((sum, s) => sum + weigh(s), 0) / r.stems.length) /
          2) *
        (1 + 0.3 * (r.stems.length - 1)),
    }))
    .sort((a, b) => b.weight - a.weight || (a.text < b.text ? -1 : 1));
  const chosen: typeof found = [];
  for (const phrase of found) {
    if (chosen.length >= max) break;
    if (!chosen.some((c) => c.stems.some((s) => phrase.stems.includes(s)))) chosen.push(phrase);
  }
  return chosen.map(({ text, weight }) => ({ text, weight }));
}
