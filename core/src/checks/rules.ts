import { countLeftovers, LEFTOVER_FIELDS } from '../alike/leftovers.js';
import { TOO_ALIKE } from '../alike/minhash.js';
import { SLUG_WORDS, isFillerFree } from '../slug/slug.js';
import type { BodyNode } from '../body/schema.js';
import { sectionsOf } from '../body/sections.js';
import { bodyText, bodyWords, countWords, linksOf, nodesOf, picturesWithoutAlt } from '../body/text.js';
import { errorsOfValues } from '../formats/formats.js';
import { LEAD_WEIGHT, formatBytes } from '../picture/picture.js';
import {
  countReading,
  fleschEase,
  fleschKincaidGrade,
  runningText,
  sentencesOf,
} from '../reading/reading.js';
import { formatCount } from '../time/format.js';
import { TITLE_LENGTH } from '../titles/signals.js';
import { type CheckFacts, type CheckKey, type Finding } from './check.js';
import { pathOf } from './inner-paths.js';

export const RULES: Record<CheckKey, (facts: CheckFacts) => Finding> = {
  title: ({ title }) => {
    const words = countWords(title);
    const characters = [...title].length;
    return {
      ok: words >= 3 && words <= 10 && characters <= TITLE_LENGTH.max,
      measure: `Title of ${formatCount(words, 'word')}, ${formatCount(characters, 'character')}`,
      wanted:
        `about ${TITLE_LENGTH.words} words and ${TITLE_LENGTH.characters} characters, ` +
        `${TITLE_LENGTH.max} at most`,
      mend: 'titles',
      offer: 'Try titles',
    };
  },
  address: ({ slug }) => {
    if (slug === null)
      return {
        ok: true,
        measure: 'Web address still made from the title',
        wanted: '4 to 6 telling words',
        mend: 'address',
        offer: 'Choose one',
      };
    const words = slug.split('-');
    const filler = !isFillerFree(slug);
    const counted = words.length > 1 && /^\d{1,2}$/.test(words.at(-1)!);
    return {
      ok: words.length >= SLUG_WORDS.min && words.length <= SLUG_WORDS.max && !filler && !counted,
      measure:
        'Web address of ' +
        `${formatCount(words.length, 'word')}${filler ? ', with filler' : ''}${counted ? ', with a counting suffix' : ''}: ` +
        `/${slug}`,
      wanted: '4 to 6 telling words, no filler, no copy suffix',
      mend: 'address',
      offer: 'Choose another',
    };
  },
  category: ({ categoryId }) => ({
    ok: categoryId !== null,
    measure: categoryId === null ? 'No category' : 'Category set',
    wanted: 'a main category',
    mend: 'category',
    offer: 'Set it',
  }),
  tags: ({ tags }) => ({
    ok: tags > 0,
    measure: tags === 0 ? 'No tag' : formatCount(tags, 'tag'),
    wanted: 'at least one',
    mend: 'tags',
    offer: 'Add one',
  }),
  excerpt: ({ excerpt }) => {
    const n = sentencesOf(excerpt).length;
    return {
      ok: n === 1,
      measure: n === 0 ? 'No excerpt' : `Excerpt of ${formatCount(n, 'sentence')}`,
      wanted: 'one sentence',
      mend: 'excerpt',
      offer: n === 0 ? 'Write it' : 'Shorten it',
    };
  },
  'search description': ({ searchDescription, excerpt }) => {
    const own = searchDescription.trim() !== '';
    const n = [...(own ? searchDescription : excerpt).trim()].length;
    return {
      ok: n >= 70 && n <= 160,
      measure: own
        ? `Search description of ${formatCount(n, 'character')}`
        : n === 0
          ? 'No search description'
          : `The excerpt stands in as search description, ${formatCount(n, 'character')}`,
      wanted: '70 to 160 characters, written to be clicked',
      mend: 'search',
      offer: own ? 'Change it' : 'Write it',
    };
  },
  'lead picture': ({ lead }) => {
    if (!lead)
      return {
        ok: false,
        measure: 'No lead picture',
        wanted: 'one of 300–500 kB',
        mend: 'lead',
        offer: 'Choose one',
      };
    const ok = lead.bytes >= LEAD_WEIGHT.poor && lead.bytes <= LEAD_WEIGHT.max;
    return {
      ok,
      measure: `Lead picture weighs ${formatBytes(lead.bytes)}`,
      wanted:
        lead.bytes > LEAD_WEIGHT.max
          ? '300–500 kB loads quickly'
          : lead.bytes < LEAD_WEIGHT.poor
            ? '300–500 kB; 60 kB looks poor'
            : '300–500 kB is right, less will do',
      mend: lead.bytes > LEAD_WEIGHT.max ? 'lighten' : 'lead',
      offer: lead.bytes > LEAD_WEIGHT.max ? 'Lighten' : 'Choose another',
    };
  },
  'alternative texts': ({ body, lead }) => {
    const n = picturesWithoutAlt(body) + (lead && lead.alt.trim() === '' ? 1 : 0);
    const all = [...nodesOf(body)].filter((node) => node.type === 'picture').length + (lead ? 1 : 0);
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
      mend: 'alt',
      offer: 'Show',
      ...blockWith(
        body,
        (node) => node.type === 'picture' && String(node.attrs?.['alt'] ?? '').trim() === '',
      ),
    };
  },
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
      mend: 'heading',
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
      mend: 'link',
      offer: 'Show',
      ...blockWith(body, (node) =>
        linksOf({ type: 'doc', content: [node] }).some((l) => wrong(l.href, l.text)),
      ),
    };
  },
  leftovers: ({ leftovers }) => {
    if (!leftovers)
      return {
        ok: true,
        measure: 'Not copied from another post',
        wanted: 'nothing left over',
        mend: 'leftover',
        offer: 'Show',
      };
    const n = countLeftovers(leftovers);
    const parts = [
      leftovers.blocks.length > 0
        ? formatCount(leftovers.blocks.length, 'paragraph or picture', 'paragraphs or pictures')
        : '',
      ...leftovers.fields.map((f) => LEFTOVER_FIELDS[f]),
    ].filter(Boolean);
    return {
      ok: n === 0,
      measure:
        n === 0
          ? 'Nothing is left of the post it was copied from'
          : `Left over from the post it was copied from: ${parts.join(', ')}`,
      wanted: 'nothing left over',
      mend: 'leftover',
      offer: 'Show',
      ...(leftovers.blocks.length > 0 ? { block: leftovers.blocks[0]! } : {}),
    };
  },
  likeness: ({ alike }) => {
    const much = alike !== null && alike.share >= TOO_ALIKE;
    return {
      ok: !much,
      measure: much
        ? `Shares ${Math.round(alike.share * 100)}% of its runs of words with “${alike.title}”`
        : 'No other post is too like it',
      wanted: `less than ${Math.round(TOO_ALIKE * 100)}% shared with any post`,
      mend: 'alike',
      offer: 'Compare',
    };
  },
  reading: ({ body }) => {
    const counts = countReading(runningText(body));
    const [ease, grade] = [fleschEase(counts), fleschKincaidGrade(counts)];
    if (ease === null || grade === null || counts.words < 100)
      return {
        ok: true,
        measure: 'Too short to measure its reading level',
        wanted: 'reading ease of 50 or more',
        mend: 'measure',
        offer: 'Measure',
      };
    return {
      ok: ease >= 50,
      measure: `Reading ease ${Math.round(ease)}, grade ${Math.max(0, grade).toFixed(1)}`,
      wanted: '50 or more; plain English is 60 to 70',
      mend: 'measure',
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
      mend: 'fold',
      offer: 'Place it',
    };
  },
  length: ({ body, briefLength }) => {
    const n = bodyWords(body);
    if (briefLength === null)
      return {
        ok: n > 0,
        measure: formatCount(n, 'word'),
        wanted: n > 0 ? 'no length was asked for' : 'some text',
        mend: 'text',
        offer: 'Write on',
      };
    return {
      ok: n >= briefLength * 0.8 && n <= briefLength * 1.25,
      measure: `${formatCount(n, 'word')} of ${briefLength.toLocaleString('en-GB')}`,
      wanted:
        `${Math.round(briefLength * 0.8).toLocaleString('en-GB')} to ` +
        `${Math.round(briefLength * 1.25).toLocaleString('en-GB')}, as briefed`,
      mend: 'text',
      offer: n < briefLength ? 'Write on' : 'Shorten it',
    };
  },
  format: ({ format }) => {
    if (!format)
      return {
        ok: true,
        measure: 'No format',
        wanted: 'fields filled when there is one',
        mend: 'format',
        offer: 'Choose one',
      };
    const errors = errorsOfValues(format.fields, format.values);
    return {
      ok: errors.length === 0,
      measure:
        errors.length === 0
          ? `Fields of “${format.name}” are filled`
          : errors[0]!.sentence +
            (errors.length > 1 ? ` And ${formatCount(errors.length - 1, 'more field')}.` : ''),
      wanted: 'what the format asks for',
      mend: 'format',
      offer: 'Fill in',
    };
  },
};

function blockWith(body: BodyNode, found: (node: BodyNode) => boolean): { block?: number } {
  const at = (body.content ?? []).findIndex((block) => [...nodesOf(block)].some(found));
  return at < 0 ? {} : { block: at };
}
