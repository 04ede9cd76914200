import spec from 'commonmark-spec';
import { checkBody, fileIds, pictureIds, type BodyNode } from '@keyroster/core';
import { readMarkdown } from '../documents/markdown.js';
import { bodyMarkdown, yamlText } from './markdown.js';
import { parse } from 'yaml';
import { BLOCKS, normal, p, t } from '../testing/round-trips.js';

const { tests } = spec as unknown as { tests: { number: number; markdown: string }[] };
const again = (body: BodyNode) => readMarkdown(bodyMarkdown(body)).body;

describe('a post as Markdown', () => {
  // CommonMark 0.31.2 (package commonmark-spec), every example: what was brought in, put out and brought in
  // again is the same text.
  it.each(tests.map((t) => [t.number, t.markdown.replace(/→/g, '\t')] as const))(
    'example %i of CommonMark comes back',
    (_, markdown) => {
      const { body } = readMarkdown(markdown);
      expect(normal(again(body))).toEqual(normal(body));
    },
  );

  it.each(BLOCKS)('%s comes back', (_, block) => {
    const body: BodyNode = {
      type: 'doc',
      content: [p(t('Before.')), { type: 'foldLine' }, block, p(t('After.'))],
    };
    expect(checkBody(body)).toMatchObject({ ok: true });
    expect(again(body)).toEqual(body);
    expect([pictureIds(again(body)), fileIds(again(body))]).toEqual([pictureIds(body), fileIds(body)]);
  });

  it('writes front matter that a YAML reader reads as it was', () => {
    for (const value of [
      'Frost on the steps',
      'yes',
      '12:30',
      'a: b',
      '"quoted"',
      'line\nbreak',
      '- dash',
      '# hash',
      '',
      '2026-11-27',
      'it’s “fine”',
    ])
      expect(parse(`v: ${yamlText(value)}`)).toEqual({ v: value });
  });
});
