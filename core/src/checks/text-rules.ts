import type { BodyNode } from '../body/schema.js';
import { sectionsOf } from '../body/sections.js';
import { bodyText, bodyWords, countWords, linksOf, nodesOf, picturesWithoutAlt } from '../body/text.js';
import { countReading, fleschEase, fleschKincaidGrade, runningText } from '../reading/reading.js';
import { formatCount } from '../time/format.js';
import { pathOf } from './inner-paths.js';
import type { CheckKey, Rule } from './check.js';

/** Rules about the text itself. */
export const TEXT_RULES = {
  headings: ({ body }) => {
    const sections = sectionsOf(body);
    const wrong = sections.find((s) => s.skips || s.text.trim() === '');
    const levels =
      sections
        .slice(0, 8)
        .map((s) => s.level)
        .join(', ') + (sections.length > 8 ? ' …' : '');
    const measure =
      sections.length === 0
        ? 'No headings'
        : wrong
          ? wrong.text.trim() === ''
            ? 'A heading without words'
            : `“${wrong.text}” skips a level: headings run ${levels}`
          : `Headings run ${levels} without a skip`;
    const needs = sections.length === 0 && bodyWords(body) > 600;
    return {
      ok: !wrong && !needs,
      measure: needs ? 'No headings in a text of more than 600 words' : measure,
      wanted: 'from level 2 down, one step at a time',
      fix: 'heading',
      offer: 'Show',
      ...(wrong ? { block: wrong.from } : {}),
    };
  },
  links: ({ body, pages }) => {
    const links = linksOf(body);
    const empty = links.filter((l) => l.text.trim() === '' || l.href.trim() === '' || l.href === '#');
    const lost = links
      .map((l) => ({ ...l, page: pages[pathOf(l.href) ?? ''] }))
      .filter((l) => l.page === 'missing' || l.page === 'unpublished');
    const first = lost[0];
    const measure =
      links.length === 0
        ? 'No links'
        : empty.length > 0
          ? formatCount(empty.length, 'empty link')
          : first
            ? `“${first.text}” leads to ` +
              `${first.page === 'missing' ? 'nothing' : 'a post that is not published'}: ` +
              `${first.href}`
            : `${formatCount(links.length, 'link')}, none lost`;
    const wrong = (href: string, text: string) =>
      empty.some((l) => l.href === href && l.text === text) || lost.some((l) => l.href === href);
    return {
      ok: empty.length === 0 && lost.length === 0,
      measure,
      wanted: 'every link leads to something readers can see',
      fix: 'link',
      offer: 'Show',
      ...blockWith(body, (node) =>
        linksOf({ type: 'doc', content: [node] }).some((l) => wrong(l.href, l.text)),
      ),
    };
  },
  'alternative texts': ({ body, leadPicture: lead, leadBytes }) => {
    const hasLead = lead !== null && leadBytes !== null;
    const n = picturesWithoutAlt(body) + (hasLead && lead.alt.trim() === '' ? 1 : 0);
    const all = [...nodesOf(body)].filter((node) => node.type === 'picture').length + (hasLead ? 1 : 0);
    return {
      ok: n === 0,
      measure:
        n === 0
          ? all === 0
            ? 'No picture needs an alternative text'
            : all === 1
              ? 'The picture has its alternative text'
              : `All ${all} pictures have alternative texts`
          : `${formatCount(n, 'picture')} without alternative text`,
      wanted: 'one for every picture',
      fix: 'alt',
      offer: 'Show',
      ...blockWith(
        body,
        (node) => node.type === 'picture' && String(node.attrs?.['alt'] ?? '').trim() === '',
      ),
    };
  },
  reading: ({ body }) => {
    const counts = countReading(runningText(body));
    const [ease, grade] = [fleschEase(counts), fleschKincaidGrade(counts)];
    if (ease === null || grade === null || counts.words < 100)
      return {
        ok: !counts.tooLong && counts.unmeasured === 0,
        measure:
          counts.tooLong || counts.unmeasured > 0
            ? 'Too long to measure its reading level'
            : 'Too short to measure its reading level',
        wanted: 'reading ease of 50 or more',
        fix: 'measure',
        offer: 'Measure',
      };
    return {
      ok: ease >= 50,
      measure: `Reading ease ${Math.round(ease)}, grade ${Math.max(0, grade).toFixed(1)}`,
      wanted: '50 or more; plain English is 60 to 70',
      fix: 'measure',
      offer: 'See where',
    };
  },
  'fold line': ({ body }) => {
    const blocks = body.content ?? [];
    const at = blocks.findIndex((n) => n.type === 'foldLine');
    const short = bodyWords(body) < 150;
    const above = at < 0 ? 0 : countWords(bodyText({ type: 'doc', content: blocks.slice(0, at) }));
    return {
      ok: short || (at > 0 && above > 0),
      measure:
        at < 0
          ? short
            ? 'Too short to need a fold line'
            : 'No fold line'
          : above === 0
            ? 'Nothing stands above the fold line'
            : `Fold line after ${formatCount(above, 'word')}`,
      wanted: 'after the opening',
      fix: 'fold',
      offer: 'Place it',
    };
  },
  length: ({ body, brief: { length } }) => {
    const n = bodyWords(body);
    if (length === null)
      return {
        ok: n > 0,
        measure: formatCount(n, 'word'),
        wanted: n > 0 ? 'no length was asked for' : 'some text',
        fix: 'text',
        offer: 'Write on',
      };
    return {
      ok: n >= length * 0.8 && n <= length * 1.25,
      measure: `${formatCount(n, 'word')} of ${length.toLocaleString('en-GB')}`,
      wanted:
        `${Math.round(length * 0.8).toLocaleString('en-GB')} to ` +
        `${Math.round(length * 1.25).toLocaleString('en-GB')}, as briefed`,
      fix: 'text',
      offer: n < length ? 'Write on' : 'Shorten it',
    };
  },
} satisfies Partial<Record<CheckKey, Rule>>;

function blockWith(body: BodyNode, found: (node: BodyNode) => boolean): { block?: number } {
  const at = (body.content ?? []).findIndex((block) => [...nodesOf(block)].some(found));
  return at < 0 ? {} : { block: at };
}
