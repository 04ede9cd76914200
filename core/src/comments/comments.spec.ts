import bayes from 'bayes';
import {
  COMMENT_CORPUS,
  SPAM_FROM,
  closedSentence,
  commentsShow,
  plainComment,
  spamChance,
  spamOdds,
  spamTokens,
  stateOnArrival,
  trainFilter,
  whyClosed,
  type CommentRules,
} from './index.js';

const ON: CommentRules = { comments: true, commentsCloseDays: null };
const NOW = '2026-06-20T12:00:00Z';
const post = { comments: true, runAt: '2026-06-10T12:00:00Z' };

describe('whether readers can comment', () => {
  // Both switches are needed: common practice, no published source.
  it.each([
    [true, true, null],
    [false, true, 'blog'],
    [true, false, 'post'],
    [false, false, 'both'],
  ] as const)('blog %s, post %s: %s', (blog, own, why) => {
    expect(whyClosed({ ...ON, comments: blog }, { ...post, comments: own }, NOW)).toBe(why);
    expect(closedSentence(why, ON)).toMatch(why === null ? /can comment/ : /switch(es)? (is|are) off/);
    expect(commentsShow(why)).toBe(why === null);
  });

  it('ends some days after it went out, and what was written goes on showing', () => {
    const ten = { comments: true, commentsCloseDays: 10 };
    expect(whyClosed(ten, post, '2026-06-20T11:59:59Z')).toBeNull();
    expect(whyClosed(ten, post, NOW)).toBe('over');
    expect(commentsShow('over')).toBe(true);
    expect(closedSentence('over', ten)).toContain('10 days have passed');
    expect(whyClosed(ten, { comments: true, runAt: null }, NOW)).toBeNull();
  });
});

describe('what becomes of a comment by itself', () => {
  const fresh = { spam: 0.01, trapped: false, known: false, staff: false };
  it.each([
    ['somebody new', fresh, 'held', 'held'],
    ['somebody known', { ...fresh, known: true }, 'approved', 'held'],
    ['somebody known who sends what looks like spam', { ...fresh, known: true, spam: 0.99 }, 'held', 'held'],
    ['somebody new who sends what looks like spam', { ...fresh, spam: 0.99 }, 'spam', 'spam'],
    ['a program that fills in everything', { ...fresh, known: true, trapped: true }, 'spam', 'spam'],
    ['staff', { ...fresh, staff: true, spam: 0.99 }, 'approved', 'approved'],
  ] as const)('%s', (_, arriving, newcomers, everybody) => {
    expect(stateOnArrival(arriving, 'newcomers')).toBe(newcomers);
    expect(stateOnArrival(arriving, 'everybody')).toBe(everybody);
  });
});

describe('a comment as it is kept', () => {
  it.each([
    ['  one \r\n\r\n\r\n\r\n two\t\tthree ', 'one\n\ntwo three'],
    ['a\u0000b\u202ec', 'abc'],
    ['e\u0301', '\u00e9'],
    ['\n\n', ''],
  ])('%j becomes %j', (text, kept) => {
    expect(plainComment(text)).toBe(kept);
    expect(plainComment(kept)).toBe(kept);
  });
});

/** The same corpus learned by the package bayes 1.0.0, with the same tokens. */
async function reference(samples: readonly (typeof COMMENT_CORPUS)[number][]) {
  const classifier = bayes({ tokenizer: spamTokens });
  for (const { text, spam } of samples) await classifier.learn(text, spam ? 'spam' : 'fine');
  const log = (text: string, category: string) =>
    Object.entries(classifier.frequencyTable(spamTokens(text))).reduce(
      (sum, [token, times]) => sum + times * Math.log(classifier.tokenProbability(token, category)),
      Math.log(classifier.docCount[category]! / classifier.totalDocuments),
    );
  return {
    odds: (text: string) => log(text, 'spam') - log(text, 'fine'),
    of: (t: string) => classifier.categorize(t),
  };
}

/** Comments that are not in the corpus. */
const OTHERS: [string, boolean][] = [
  ['Thank you, the part about the pump helped me a lot.', false],
  ['Where can I find the map of the walk?', false],
  ['We moored there with our dog last summer. Lovely place.', false],
  ['I wrote about this bridge too: https://walks.example.org/bridge', false],
  ['Is it true that the lock will be closed until May?', false],
  ['Cheap pills and free spins, click now http://spin-pills.biz', true],
  ['Earn $900 daily, guaranteed, join now http://daily-cash.top', true],
  ['Great post! Visit my site for SEO services http://rank-me.xyz', true],
  ['Buy followers online, best price http://fame.click', true],
];

describe('the filter for spam', () => {
  it('says the same as another naive Bayes over the same corpus', async () => {
    const [filter, other] = [trainFilter(COMMENT_CORPUS), await reference(COMMENT_CORPUS)];
    for (const text of [...COMMENT_CORPUS.map((s) => s.text), ...OTHERS.map(([t]) => t), '', '!!! 漢字 ok'])
      expect(spamOdds(filter, text)).toBeCloseTo(other.odds(text), 8);
  });

  it('is right about nearly all of a fifth that it has not seen, as the other one is', async () => {
    let [right, agreed] = [0, 0];
    for (let fold = 0; fold < 5; fold++) {
      const seen = COMMENT_CORPUS.filter((_, i) => i % 5 !== fold);
      const unseen = COMMENT_CORPUS.filter((_, i) => i % 5 === fold);
      const [filter, other] = [trainFilter(seen), await reference(seen)];
      for (const { text, spam } of unseen) {
        const said = spamOdds(filter, text) > 0;
        if (said === spam) right++;
        if (said === ((await other.of(text)) === 'spam')) agreed++;
      }
    }
    expect(agreed).toBe(COMMENT_CORPUS.length);
    expect(right / COMMENT_CORPUS.length).toBeGreaterThan(0.95);
  });

  it.each(OTHERS)('%s', (text, spam) => {
    expect(spamChance(text) >= SPAM_FROM).toBe(spam);
  });

  it('is not moved by a text without an end', () => {
    expect(spamTokens('word '.repeat(100_000)).length).toBe(400);
    expect(Number.isFinite(spamChance('http://x.win '.repeat(10_000)))).toBe(true);
    expect(spamChance('')).toBeGreaterThan(0);
  });
});
