/// <reference lib="webworker" />
import {
  aheadOf,
  bodyText,
  checkPost,
  countWords,
  keyWordsOf,
  leftoversOf,
  outline,
  readingOf,
  scoreTitle,
  TitleIndex,
  titlesLikeIt,
  withInnerPaths,
  type Lexicon,
  type MeasuredTitle,
} from '@keyroster/core';
import { publishedLexicon } from '@keyroster/core/lexicon';
import type { Asked, MeasureKind, Measures } from './measure';

let lexicon: Lexicon | null = null;
let index = new TitleIndex([]);
/** Scores of the published titles, for the rank. */
let published: number[] = [];
let measured: MeasuredTitle[] = [];

const known = () => (lexicon ??= publishedLexicon());

const DO: { [K in MeasureKind]: (ask: Measures[K]['ask']) => Measures[K]['answer'] } = {
  post: ({ facts, copy, source, settings, home }) => {
    const leftovers = source && leftoversOf(copy, source);
    const text = bodyText(facts.body);
    return {
      checks: checkPost({ ...facts, body: withInnerPaths(facts.body, home), leftovers }, settings),
      words: countWords(text),
      leftovers,
      keyWords: keyWordsOf({ text, headings: outline(facts.body).map((h) => h.text), category: null }),
    };
  },
  reading: (body) => readingOf(body),
  titles: (titles) => {
    index = new TitleIndex(titles.map(([id, title]) => ({ id, title })));
    const out = titles
      .filter(([, , isOut]) => isOut)
      .map(([id, title, , reads]) => ({ reads, ...scoreTitle(title, known(), index, [], id) }));
    published = out.map((t) => t.score);
    measured = out.flatMap(({ signals, reads }) => (reads === null ? [] : [{ signals, reads }]));
    return published.length;
  },
  scores: ({ titles, keyWords, postId }) =>
    titles.map((title) => {
      const scored = scoreTitle(title, known(), index, keyWords, postId);
      return {
        ...scored,
        ahead: aheadOf(scored.score, published),
        like: titlesLikeIt(scored.signals, measured),
      };
    }),
};

addEventListener('message', ({ data }: MessageEvent<Asked>) => {
  try {
    postMessage({ id: data.id, answer: (DO[data.kind] as (ask: unknown) => unknown)(data.ask) });
  } catch (error) {
    postMessage({ id: data.id, error: error instanceof Error ? error.message : 'It could not be measured.' });
  }
});
