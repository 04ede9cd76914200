import { LRUCache } from 'lru-cache';
import type { Reader } from '../db/connect.js';

/** A word, a sign between words, or a bracket, as PostgreSQL writes a query. */
const TOKEN = /'((?:[^'\\]|''|\\\\)*)'(?::[*A-D]+)?|<->|<\d+>|[!&|()]/g;

/**
 * The pairs of neighbouring words that every match of a query has, from the query as PostgreSQL writes it: those of its
 * phrases. None where it has alternatives, since a match of one need not have the words of the other; none of what is
 * ruled out.
 */
export function pairsAskedFor(query: string): string[] {
  const tokens = [...query.matchAll(TOKEN)].map(([sign, word]) => ({ sign, word }));
  if (tokens.some((t) => t.sign === '|')) return [];
  const plain = (word: string) => word.replaceAll("''", "'").replaceAll('\\\\', '\\');
  const pairs: string[] = [];
  let ruledOut = 0;
  tokens.forEach(({ sign, word }, at) => {
    if (sign === '(' && (ruledOut > 0 || tokens[at - 1]?.sign === '!')) ruledOut++;
    else if (sign === ')' && ruledOut > 0) ruledOut--;
    if (sign !== '<->' || word !== undefined || ruledOut > 0) return;
    const [before, after] = [tokens[at - 1]?.word, tokens[at + 1]?.word];
    if (before !== undefined && after !== undefined && tokens[at - 2]?.sign !== '!')
      pairs.push(`${plain(before)} ${plain(after)}`);
  });
  return pairs;
}

/** What was typed last: rows, counts and ids of one search all ask, and the answer is always the same. */
const asked = new LRUCache<string, string[]>({ max: 500 });

/** The same of what somebody typed; without a question to the database where nothing in it can be a phrase. */
export async function pairsIn(db: Reader, words: string): Promise<string[]> {
  if (!/["\-/.@_]/.test(words)) return [];
  const known = asked.get(words);
  if (known) return known;
  const { rows } = await db.raw<{ rows: [{ query: string }] }>(
    `select websearch_to_tsquery('english', ?)::text as query`,
    [words],
  );
  const pairs = pairsAskedFor(rows[0].query);
  asked.set(words, pairs);
  return pairs;
}
