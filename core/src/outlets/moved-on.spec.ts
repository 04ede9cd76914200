import { movedOn, usedNow, type BodyNode } from '../index.js';
import { BODY, source } from './testing.js';

describe('a post that moves on', () => {
  const then = source();
  const used = [1, 4];
  const edited = (from: string, to: string, title = then.title) => ({
    ...source(JSON.parse(JSON.stringify(BODY).replace(from, to)) as BodyNode),
    title,
  });

  it('says what changed, and whether it matters to the piece', () => {
    expect(movedOn(then, used, source())).toMatchObject({
      what: 'nothing',
      sentence: 'The post says what it said.',
    });
    expect(movedOn(then, used, edited('ten minutes', 'a quarter of an hour'))).toMatchObject({
      what: 'others',
      gone: 1,
      come: 1,
    });
    expect(movedOn(then, used, edited('zzz', '', 'Packing a gland'))).toMatchObject({
      what: 'title',
      title: { was: 'How to pack a stern gland', is: 'Packing a gland' },
    });
    expect(
      movedOn(then, used, edited('Two drops a minute under way', 'Three drops a minute under way')),
    ).toMatchObject({
      what: 'used',
      used: [{ was: expect.stringMatching(/^Two drops/), is: expect.stringMatching(/^Three drops/) }],
      come: 0,
    });
    expect(movedOn(then, used, { title: then.title, sentences: then.sentences.slice(2) })).toMatchObject({
      what: 'used',
      used: [{ is: null }],
    });
  });

  it('finds the sentences a piece is to be built from again', () => {
    const now = edited('Two drops a minute under way', 'Three drops a minute under way');
    expect(usedNow(then, used, now).map((at) => now.sentences[at]!.text)).toEqual([
      expect.stringMatching(/^Three drops/),
      then.sentences[4]!.text,
    ]);
  });
});
