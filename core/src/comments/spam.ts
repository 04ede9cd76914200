import { COMMENT_CORPUS, type Sample } from './corpus.js';

/** How often each token stands in samples of either kind, and how many samples and tokens there are. */
interface Counted {
  samples: number;
  tokens: number;
  of: Map<string, number>;
}
export interface SpamFilter {
  spam: Counted;
  fine: Counted;
  vocabulary: number;
}

const LINK = /\bhttps?:\/\/([^\s/?#]+)[^\s]*/gi;
const MAX_TOKENS = 400;

/**
 * What a filter sees of a comment: its words in lower case, and of each link that there is one and where it leads. Of
 * very long texts the first 400.
 */
export function spamTokens(text: string): string[] {
  const links = [...text.matchAll(LINK)].flatMap((found) => {
    const last = found[1]!.toLowerCase().split('.').at(-1)!;
    return ['<link>', `<link .${last}>`];
  });
  const words =
    text
      .replace(LINK, ' ')
      .toLowerCase()
      .match(/\p{L}[\p{L}’']*|\p{N}+|[$€£%!]/gu) ?? [];
  return [...links, ...words].slice(0, MAX_TOKENS);
}

function count(samples: readonly Sample[], spam: boolean): Counted {
  const counted: Counted = { samples: 0, tokens: 0, of: new Map() };
  for (const sample of samples) {
    if (sample.spam !== spam) continue;
    counted.samples++;
    for (const token of spamTokens(sample.text)) {
      counted.tokens++;
      counted.of.set(token, (counted.of.get(token) ?? 0) + 1);
    }
  }
  return counted;
}

/** Counts a corpus, for `spamChance`. */
export function trainFilter(samples: readonly Sample[]): SpamFilter {
  const [spam, fine] = [count(samples, true), count(samples, false)];
  return { spam, fine, vocabulary: new Set([...spam.of.keys(), ...fine.of.keys()]).size };
}

/** The logarithm of the odds that a text is spam: above 0, spam is more likely. */
export function spamOdds({ spam, fine, vocabulary }: SpamFilter, text: string): number {
  let odds = Math.log(spam.samples / fine.samples);
  for (const token of spamTokens(text)) {
    const chance = (kind: Counted) => ((kind.of.get(token) ?? 0) + 1) / (kind.tokens + vocabulary);
    odds += Math.log(chance(spam) / chance(fine));
  }
  return odds;
}

let own: SpamFilter | undefined;

/**
 * The chance that a comment is spam, by naive Bayes with Laplace's correction (Manning, Raghavan and Schütze,
 * Introduction to Information Retrieval, 2008, section 13.2) over the corpus that ships with the program.
 */
export function spamChance(text: string): number {
  own ??= trainFilter(COMMENT_CORPUS);
  return 1 / (1 + Math.exp(-spamOdds(own, text)));
}
