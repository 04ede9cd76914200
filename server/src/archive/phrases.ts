import { LRUCache } from 'lru-cache';
import type { Queryable } from '../db/connect.js';

/** What every match of a search has to have, or not to have, beside what its index of words can tell. */
export interface Phrases {
  /** Words that stand side by side in every match. */
  pairs: readonly string[];
  /** Words that no match has, as a query of PostgreSQL's; empty when there are none. */
  without: string;
}

/** A word, a sign between words, or a bracket, as PostgreSQL writes a query. */
const TOKEN = /'((?:[^'\\]|''|\\\\)*)'(?::[*A-D]+)?|<->|<\d+>|[!&|()]/g;
const NONE: Phrases = { pairs: [], without: '' };

/**
 * The phrases of a query as PostgreSQL writes it. None where it has alternatives, since a match of one need not have
 * the words of the other. A phrase that is ruled out is left out: having its words is no reason to leave a post out.
 */
export function phrasesOf(query: string): Phrases {
  const tokens = [...query.matchAll(TOKEN)].map(([sign, word]) => ({ sign, word }));
  if (tokens.some((t) => t.sign === '|')) return NONE;
  const plain = (word: string) => word.replaceAll("''", "'").replaceAll('\\\\', '\\');
  const pairs: string[] = [];
  const without: string[] = [];
  const isAnd = (at: number) => (tokens[at]?.sign ?? '&') === '&';
  let [depth, ruledOut] = [0, 0];
  tokens.forEach(({ sign, word }, at) => {
    if (sign === '(') {
      depth++;
      if (ruledOut > 0 || tokens[at - 1]?.sign === '!') ruledOut++;
    } else if (sign === ')') {
      depth--;
      if (ruledOut > 0) ruledOut--;
    } else if (word !== undefined) {
      if (depth === 0 && tokens[at - 1]?.sign === '!' && isAnd(at - 2) && isAnd(at + 1))
        without.push(`!${sign}`);
    } else if (sign === '<->' && ruledOut === 0) {
      const [before, after] = [tokens[at - 1]?.word, tokens[at + 1]?.word];
      if (before !== undefined && after !== undefined && tokens[at - 2]?.sign !== '!')
        pairs.push(`${plain(before)} ${plain(after)}`);
    }
  });
  return pairs.length === 0 ? NONE : { pairs, without: without.join(' & ') };
}

/** What was typed last: rows, counts and ids of one search all ask, and the answer is always the same. */
const asked = new LRUCache<string, Phrases>({ max: 500 });

/** The same of what somebody typed; without a question to the database where nothing in it can be a phrase. */
export async function phrasesIn(db: Queryable, words: string): Promise<Phrases> {
  if (!/["\-/.@_]/.test(words)) return NONE;
  const known = asked.get(words);
  if (known) return known;
  const { rows } = await db.raw<{ rows: [{ query: string }] }>(
    `select websearch_to_tsquery('english', ?)::text as query`,
    [words],
  );
  const phrases = phrasesOf(rows[0].query);
  asked.set(words, phrases);
  return phrases;
}
