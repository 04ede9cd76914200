import { stemOf } from '../text/stem.js';
import { wordsOf } from '../reading/reading.js';
import { contentWords } from '../slug/slug.js';

/**
 * Words that a text is about: its telling words by how often they come, those of the headings and the
 * category counted thrice.
 */
export function keyWordsOf(
  parts: { text: string; headings: readonly string[]; category: string | null },
  max = 8,
): string[] {
  const uses = new Map<string, { word: string; times: number }>();
  const count = (text: string, weight: number) => {
    for (const word of wordsOf(text)) {
      const plain = contentWords(`${word} zz`, 1)[0]!;
      if (plain === 'zz' || /^\d/.test(plain) || plain.length < 3) continue;
      const stem = stemOf(plain);
      const entry = uses.get(stem) ?? { word: plain, times: 0 };
      entry.times += weight;
      uses.set(stem, entry);
    }
  };
  count(parts.text.slice(0, 60_000), 1);
  for (const h of parts.headings) count(h, 3);
  if (parts.category) count(parts.category, 3);
  return [...uses.values()]
    .filter((u) => u.times > 1)
    .sort((a, b) => b.times - a.times || a.word.localeCompare(b.word))
    .slice(0, max)
    .map((u) => u.word);
}
