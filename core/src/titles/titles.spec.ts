import { publishedLexicon } from './lexicon.js';
import { aheadOf, titlesLikeIt } from './like-titles.js';
import { keyWordsOf, scoreTitle } from './titles.js';
import { TitleIndex } from './title-index.js';
import { type SignalKey } from './signals.js';
import { ENTRY, textWidth } from './width.js';

const lexicon = publishedLexicon();
const none = new TitleIndex([]);
const signal = (title: string, key: SignalKey, keys: string[] = ['pump', 'frost']) =>
  scoreTitle(title, lexicon, none, keys).signals.find((s) => s.key === key)!;

describe('the published lists', () => {
  it('know everyday words, feeling and movement', () => {
    // SCOWL, sizes 10 and 20: everyday words, in British and in American spelling.
    for (const word of ['you', 'water', 'colour', 'color', 'turns'])
      expect([word, lexicon.familiar(word)]).toEqual([word, true]);
    for (const word of ['calorifier', 'impeller', 'windlass'])
      expect([word, lexicon.familiar(word)]).toEqual([word, false]);
    // AFINN-165: outstanding +5, bad -3.
    expect([
      lexicon.feeling('outstanding'),
      lexicon.feeling('bad'),
      lexicon.feeling('paddle'),
      lexicon.feeling('constructor'),
    ]).toEqual([5, -3, 0, 0]);
    // WordNet 3.1: run and turn are verbs of motion, know one of cognition.
    expect([
      lexicon.moves('run'),
      lexicon.moves('stopped'),
      lexicon.moves('turning'),
      lexicon.moves('closes'),
      lexicon.moves('know'),
      lexicon.moves('calorifier'),
    ]).toEqual([true, true, true, true, false, false]);
  });
});

describe('title trials', () => {
  // Common practice, no published source: about 6 words and 55 characters, 60 at most.
  it('likes about six words and no more than sixty characters', () => {
    expect(signal('Six turns that save your pump', 'words').score).toBe(1);
    expect(signal('Pump', 'words').score).toBeLessThan(0.5);
    expect(signal('x '.repeat(16), 'words').score).toBe(0);
    expect(signal('a'.repeat(55), 'characters').score).toBe(1);
    expect(signal('a'.repeat(90), 'characters').score).toBe(0);
    expect(signal('', 'characters').score).toBe(0);
  });
  it('measures the width of a search entry in Helvetica', () => {
    // Adobe core font metrics: M is 833/1000 em, i is 222/1000 em.
    expect([textWidth('MMMM', 10), textWidth('iiii', 10), textWidth('é', 10) === textWidth('e', 10)]).toEqual(
      [33.32, 8.88, true],
    );
    expect(signal('W'.repeat(40), 'width').sentence).toMatch(/cuts it at 600/);
    expect(textWidth('Six turns that save your pump', ENTRY.size)).toBeLessThan(ENTRY.room);
  });
  it('explains each signal in a sentence', () => {
    const { signals } = scoreTitle('Six turns that save your impeller', lexicon, none, ['pump', 'impeller']);
    expect(signals.map((s) => s.key)).toEqual([
      'words',
      'characters',
      'width',
      'familiar',
      'feeling',
      'drive',
      'concrete',
      'early',
      'apart',
    ]);
    expect(signals.every((s) => s.score >= 0 && s.score <= 1 && /[.]$/.test(s.sentence))).toBe(true);
    expect(signal('Six turns that save your impeller', 'familiar').sentence).toMatch(/telling: “impeller”/);
    expect(signal('Six turns that save your impeller', 'concrete').score).toBe(1);
    expect(signal('Notes on maintenance', 'drive').score).toBe(0);
    expect(signal('The pump in frost', 'early').score).toBe(1);
    expect(signal('What you may want to know of any old pump', 'early').score).toBeLessThan(1);
    expect(signal('Locks', 'early').sentence).toMatch(/None of/);
  });
  it('takes names only where capitals mean something', () => {
    expect(signal('Tea with Odette at lock gates', 'concrete').score).toBe(1);
    expect(signal('Everything You Must Know Today', 'concrete').score).toBe(0);
  });
  it('counts against a title that it was used before', () => {
    const earlier = new TitleIndex([{ id: 1, title: 'Six turns that save your pump' }]);
    const at = (index: TitleIndex) => scoreTitle('Six turns that save your pump', lexicon, index, ['pump']);
    const apart = (index: TitleIndex) => at(index).signals.find((s) => s.key === 'apart')!;
    expect([apart(none).score, apart(earlier).score]).toEqual([1, 0]);
    expect(apart(earlier).sentence).toBe('Shares 100% of its words with “Six turns that save your pump”.');
    expect(at(earlier).score).toBeLessThan(at(none).score);
  });
  it('ranks a telling title before a dull one', () => {
    const score = (title: string) => scoreTitle(title, lexicon, none, ['pump']).score;
    expect(score('Six turns that save your pump')).toBeGreaterThan(score('Pump maintenance notes'));
  });
  it('keeps a distance from titles already used, but not from itself', () => {
    const index = new TitleIndex([
      { id: 7, title: 'Winter-proofing a raw water pump' },
      { id: 8, title: 'Blacking a hull' },
    ]);
    expect(index.nearest('A raw water pump in winter', null)).toMatchObject({ id: 7 });
    expect(index.nearest('A raw water pump in winter', 7)).toBeNull();
    expect(scoreTitle('Winter-proofing a raw water pump', lexicon, index, []).signals.at(-1)!.score).toBe(0);
  });
  it('says ahead of what share', () => {
    expect([aheadOf(0.5, [0.1, 0.5, 0.9, 0.9]), aheadOf(0.5, []), aheadOf(1, [0, 0])]).toEqual([
      0.375,
      null,
      1,
    ]);
  });
  it('finds what a text is about', () => {
    expect(
      keyWordsOf(
        {
          text: 'The pump froze. A pump that freezes leaks, and the pumps of friends do too.',
          headings: ['The impeller'],
          category: 'Engine room',
        },
        4,
      ),
    ).toEqual(expect.arrayContaining(['pump', 'impeller', 'engine']));
  });
  it('says how titles like it did, once fifty are measured', () => {
    const measured = (n: number) =>
      Array.from({ length: n }, (_, i) => {
        const title = i % 2 ? 'Six turns that save your pump' : 'Maintenance';
        return { signals: scoreTitle(title, lexicon, none, []).signals, reads: i % 2 ? 300 : 100 };
      });
    const of = (title: string, n: number) =>
      titlesLikeIt(scoreTitle(title, lexicon, none, []).signals, measured(n));
    expect(of('Seven knots that hold your boat', 49)).toBeNull();
    expect(of('Seven turns that save your boat', 60)).toEqual({ count: 15, reads: 300, all: 200 });
    expect(of('Notes', 60)).toEqual({ count: 15, reads: 100, all: 200 });
  });
});
