import fc from 'fast-check';
import { entryParts, titleFrom } from './entry.js';
import { readForm, readJson } from './request.js';

const form = (query: string) => readForm([...new URLSearchParams(query)]);

/** Examples of Micropub, W3C Recommendation of 23 May 2017, sections 3.3 to 3.5; their text from memory. */
describe('the examples of the Recommendation', () => {
  it('3.3: an entry by form, with one category and with several', () => {
    expect(form('h=entry&content=hello+world&category[]=foo&category[]=bar')).toEqual({
      ok: true,
      request: { action: 'create', entry: { content: ['hello world'], category: ['foo', 'bar'] } },
    });
    expect(form('h=entry&content=Micropub+test&category=one')).toMatchObject({
      request: { entry: { category: ['one'] } },
    });
  });

  it('3.3.1: an entry in JSON, HTML as an object, a picture with its alternative text', () => {
    const answer = readJson({
      type: ['h-entry'],
      properties: {
        content: [{ html: '<b>Hello</b> <i>World</i>' }],
        category: ['foo', 'bar'],
        photo: [
          { value: 'https://photos.example.com/globe.gif', alt: 'Spinning globe animation' },
          'https://photos.example.com/592829482876343254.jpg',
        ],
      },
    });
    expect(answer.ok && answer.request.action === 'create' && entryParts(answer.request.entry)).toEqual({
      parts: {
        content: { kind: 'html', text: '<b>Hello</b> <i>World</i>' },
        tags: ['foo', 'bar'],
        photos: [
          { url: 'https://photos.example.com/globe.gif', alt: 'Spinning globe animation' },
          { url: 'https://photos.example.com/592829482876343254.jpg', alt: '' },
        ],
      },
      leftOut: [],
    });
  });

  it('3.3.2: nested objects have no place in a post, and are named', () => {
    const { parts, leftOut } = entryParts({
      summary: ['Weighed 70.64 kg'],
      weight: [{ type: ['h-measure'], properties: { num: ['70.64'], unit: ['kg'] } }],
    });
    expect([parts, leftOut]).toEqual([{ excerpt: 'Weighed 70.64 kg' }, ['weight']]);
  });

  it.each([
    [
      '3.4.1: replace',
      { replace: { content: ['hello moon'] } },
      { replace: { content: ['hello moon'] }, add: {}, remove: {}, drop: [] },
    ],
    [
      '3.4.2: add',
      { add: { category: ['micropub', 'indieweb'] } },
      { replace: {}, add: { category: ['micropub', 'indieweb'] }, remove: {}, drop: [] },
    ],
    [
      '3.4.3: remove a value',
      { delete: { category: ['indieweb'] } },
      { replace: {}, add: {}, remove: { category: ['indieweb'] }, drop: [] },
    ],
    [
      '3.4.3: remove a property',
      { delete: ['category'] },
      { replace: {}, add: {}, remove: {}, drop: ['category'] },
    ],
  ])('%s', (_, body, expected) => {
    const url = 'https://aaronpk.example/post/100';
    expect(readJson({ action: 'update', url, ...body })).toEqual({
      ok: true,
      request: { action: 'update', url, ...expected },
    });
  });

  it('3.5: delete and undelete, by form and in JSON', () => {
    const url = 'https://aaronpk.example/post/100';
    for (const action of ['delete', 'undelete'] as const) {
      const expected = { ok: true, request: { action, url } };
      expect(form(`action=${action}&url=${encodeURIComponent(url)}`)).toEqual(expected);
      expect(readJson({ action, url })).toEqual(expected);
    }
  });
});

describe('what is no request', () => {
  it.each([
    ['another kind of thing', form('h=event&name=Meeting'), /Only entries/],
    ['an update by form', form('action=update&url=x'), /sent as JSON/],
    ['an unknown action', readJson({ action: 'publish', url: 'x' }), /“action” must be/],
    ['no post', readJson({ action: 'delete' }), /which post/],
    ['a value that is no list', readJson({ type: ['h-entry'], properties: { name: 'A' } }), /must be a list/],
    ['an empty update', readJson({ action: 'update', url: 'x' }), /says nothing/],
    ['a list', readJson([]), /JSON object/],
    ['a flood', readJson({ type: ['h-entry'], properties: { category: Array(201).fill('a') } }), /More than/],
  ])('is told so: %s', (_, answer, sentence) => {
    expect(answer.ok ? '' : answer.sentence).toMatch(sentence);
  });

  it('never throws, and never lets a name of the language through', () => {
    fc.assert(
      fc.property(fc.json(), (json) => {
        const answer = readJson(JSON.parse(json));
        if (answer.ok && answer.request.action === 'create') entryParts(answer.request.entry);
      }),
    );
    const forged = readJson(JSON.parse('{"type":["h-entry"],"properties":{"__proto__":["x"],"name":["A"]}}'));
    expect(forged).toEqual({ ok: true, request: { action: 'create', entry: { name: ['A'] } } });
    expect(({} as Record<string, unknown>)['0']).toBeUndefined();
  });
});

describe('a title for what has none', () => {
  it.each([
    ['The gate stuck. We waited.', 'The gate stuck'],
    ['Who wound the paddle? Nobody knew.', 'Who wound the paddle?'],
    ['Short', 'Short'],
    ['', 'Untitled'],
    [
      'Nobody had oiled the paddle gear at the top lock since before the long frost, so it shrieked',
      'Nobody had oiled the paddle gear at the top lock since …',
    ],
  ])('%s', (text, title) => expect(titleFrom(text)).toBe(title));

  it('is never longer than a title may be', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary' }), (text) => [...titleFrom(text)].length <= 62));
  });
});
