/// <reference lib="webworker" />
import {
  bodyText,
  checkPost,
  countWords,
  howTitlesDid,
  keyWordsOf,
  leftoversOf,
  measureTitle,
  outline,
  readingOf,
  TitleIndex,
  withInnerPaths,
  type ReadTitle,
  type WordFrequencies,
} from '@keyroster/core';
import { publishedFrequencies } from '@keyroster/core/word-frequency';
import type { Asked, MeasureKind, Measures } from './measure';

let frequencies: WordFrequencies | null = null;
let index = new TitleIndex([]);
/** The published titles of posts that have figures. */
let read: ReadTitle[] = [];

const DO: { [K in MeasureKind]: (ask: Measures[K]['ask']) => Measures[K]['answer'] } = {
  post: ({ facts, source, settings, home }) => {
    const leftovers = source && leftoversOf(facts, source);
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
    const out = titles.filter(([, , isOut]) => isOut);
    read = out.flatMap(([, title, , reads]) => (reads === null ? [] : [{ title, reads }]));
    return out.length;
  },
  facts: ({ titles, keyWords, postId }) =>
    titles.map((title) => {
      const measured = measureTitle(title, (frequencies ??= publishedFrequencies()), index, keyWords, postId);
      return { ...measured, did: howTitlesDid(measured.form, read) };
    }),
};

addEventListener('message', ({ data }: MessageEvent<Asked>) => {
  try {
    postMessage({ id: data.id, answer: (DO[data.kind] as (ask: unknown) => unknown)(data.ask) });
  } catch (error) {
    postMessage({ id: data.id, error: error instanceof Error ? error.message : 'It could not be measured.' });
  }
});
