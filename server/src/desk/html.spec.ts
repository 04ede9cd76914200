import spec from 'commonmark-spec';
import { bodyHtml, checkBody, fileIds, importHtml, pictureIds, type BodyNode } from '@keyroster/core';
import { parseHtml } from '../documents/parse-html.js';
import { readMarkdown } from '../documents/markdown.js';
import { BLOCKS, normal, p, t } from '../testing/round-trips.js';

const { tests } = spec as unknown as { tests: { number: number; markdown: string }[] };

const source = (id: number, path: string) =>
  id === 0 ? undefined : { src: `https://blog.example/${path}`, type: 'video/mp4', width: 1200, height: 800 };
/** As export.ts puts a body out. */
const html = (body: BodyNode) =>
  bodyHtml(body, (id) => source(id, `media/${id}/column`), {
    headingIds: true,
    foldMark: true,
    files: (id) => source(id, `files/${id}`),
    signUpAction: 'https://blog.example/letter',
  });
const again = (body: BodyNode) =>
  importHtml(parseHtml(`<!doctype html><title>x</title><article><h1>A title</h1>${html(body)}</article>`))
    .body;

/** Contents are drawn of headings. */
const HEADING: BodyNode = { type: 'heading', attrs: { level: 2 }, content: [t('After')] };

describe('a post as HTML', () => {
  // CommonMark 0.31.2 (package commonmark-spec), every example.
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
      content: [p(t('Before.')), { type: 'foldLine' }, block, HEADING],
    };
    expect(checkBody(body)).toMatchObject({ ok: true });
    expect(again(body)).toEqual(body);
    expect([pictureIds(again(body)), fileIds(again(body))]).toEqual([pictureIds(body), fileIds(body)]);
  });
});
