import { files, read } from './files.js';

/** Words that a technical editor would change, each with what is written instead. */
const RULED_OUT: [RegExp, string][] = [
  [/\banew\b/i, 'again; recomputed; retried'],
  [/\bnought\b/i, '0; none'],
  [/\bfor good\b/i, 'permanently'],
  [/\bmend(?:s|ed|ing)?\b/i, 'fix; repair'],
  [/\bwhoever\b/i, 'the person who; anyone who; the role by its name'],
  [/\btold of\b/i, 'notified; shown; reported'],
  [/\bleft be\b/i, 'skipped; omitted'],
  [/\bforesee(?:s|n|ing|r)?\b/i, 'predict; preview'],
  [/\bput right\b/i, 'fixed; corrected'],
  [/\bput to a person\b/i, 'needs a decision; waits for review'],
  [/\bbeyond chance\b/i, 'statistically clear'],
  [/\bput down\b/i, 'added'],
  [/\bsee to\b/i, 'resolve; handle'],
  [/\bcannot be had\b/i, 'is not available'],
  [/\bbefore readers\b/i, 'live; visible to readers'],
  [/\bstands? (?:here|there)\b/i, 'is; appears here'],
  [/\bas usual\b/i, 'the default'],
  [/\bthe way one goes\b/i, 'moves forward'],
  [/\bcomes? to rest\b/i, 'stops'],
  [/\bin hands\b/i, 'in use'],
  [/\b(?:takes?|taken) along\b/i, 'includes; included'],
  [/\blets? go of\b/i, 'release; close; end'],
];
/** Where words are the matter: lists of a language’s verbs, this list, and stories of the demo. */
const EXEMPT = /^demo\/|\/data\/|\/migrations\/|^core\/src\/text\/clause\.ts$|\.spec\.ts$/;
const PROSE = /\.(?:ts|mjs|html|eta|scss|md|sql)$/;

/** `path:line: word` of every word that is ruled out. */
function* ruledOut(file: string, text: string): Generator<string> {
  for (const [i, line] of text.split('\n').entries())
    for (const [word, instead] of RULED_OUT) {
      const found = word.exec(line);
      if (found) yield `${file}:${i + 1}: ${found[0]} (${instead})`;
    }
}

describe('plain English', () => {
  it('is written everywhere: code, templates, comments and docs', () => {
    const prose = files.filter((file) => PROSE.test(file) && !EXEMPT.test(file));
    expect(prose.length).toBeGreaterThan(1000);
    expect(prose.flatMap((file) => [...ruledOut(file, read(file))])).toEqual([]);
  });

  it('would be missed', () => {
    expect([...ruledOut('a.ts', '// fine\n// Whoever sees it mends it.')]).toEqual([
      'a.ts:2: mends (fix; repair)',
      'a.ts:2: Whoever (the person who; anyone who; the role by its name)',
    ]);
  });
});
