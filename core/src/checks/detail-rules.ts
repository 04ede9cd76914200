import { SLUG_WORDS, isFillerFree } from '../slug/slug.js';
import { countWords } from '../body/text.js';
import { errorsOfValues } from '../formats/formats.js';
import { LEAD_WEIGHT, formatBytes } from '../picture/picture.js';
import { sentencesOf } from '../reading/reading.js';
import { formatCount } from '../time/format.js';
import { TITLE_LENGTH } from '../titles/title-facts.js';
import type { CheckKey, Rule } from './check.js';

/** Rules about what stands around a text: its title and address, where it is filed, its lead picture. */
export const DETAIL_RULES = {
  title: ({ title }) => {
    const characters = [...title].length;
    return {
      ok: countWords(title) > 0 && characters <= TITLE_LENGTH.max,
      measure: `Title of ${formatCount(characters, 'character')}`,
      wanted: `about ${TITLE_LENGTH.usual} characters, ${TITLE_LENGTH.max} at most`,
      fix: 'titles',
      offer: 'Try titles',
    };
  },
  address: ({ slug }) => {
    if (slug === null)
      return {
        ok: true,
        measure: 'Web address still made from the title',
        wanted: '4 to 6 telling words',
        fix: 'address',
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
      fix: 'address',
      offer: 'Choose another',
    };
  },
  category: ({ categoryId }) => ({
    ok: categoryId !== null,
    measure: categoryId === null ? 'No category' : 'Category set',
    wanted: 'a main category',
    fix: 'category',
    offer: 'Set it',
  }),
  tags: ({ tagIds }) => ({
    ok: tagIds.length > 0,
    measure: tagIds.length === 0 ? 'No tag' : formatCount(tagIds.length, 'tag'),
    wanted: 'at least one',
    fix: 'tags',
    offer: 'Add one',
  }),
  excerpt: ({ excerpt }) => {
    const n = sentencesOf(excerpt).length;
    return {
      ok: n === 1,
      measure: n === 0 ? 'No excerpt' : `Excerpt of ${formatCount(n, 'sentence')}`,
      wanted: 'one sentence',
      fix: 'excerpt',
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
      fix: 'search',
      offer: own ? 'Change it' : 'Write it',
    };
  },
  'lead picture': ({ leadPicture, leadBytes }) => {
    if (!leadPicture || leadBytes === null)
      return {
        ok: false,
        measure: 'No lead picture',
        wanted: 'one of 300–500 kB',
        fix: 'lead',
        offer: 'Choose one',
      };
    const ok = leadBytes >= LEAD_WEIGHT.poor && leadBytes <= LEAD_WEIGHT.max;
    return {
      ok,
      measure: `Lead picture weighs ${formatBytes(leadBytes)}`,
      wanted:
        leadBytes > LEAD_WEIGHT.max
          ? '300–500 kB loads quickly'
          : leadBytes < LEAD_WEIGHT.poor
            ? '300–500 kB; 60 kB looks poor'
            : '300–500 kB is right, less will do',
      fix: leadBytes > LEAD_WEIGHT.max ? 'lighten' : 'lead',
      offer: leadBytes > LEAD_WEIGHT.max ? 'Lighten' : 'Choose another',
    };
  },
  format: ({ formatId, format, formatValues }) => {
    if (formatId === null || !format)
      return {
        ok: true,
        measure: 'No format',
        wanted: 'fields filled when there is one',
        fix: 'format',
        offer: 'Choose one',
      };
    const errors = errorsOfValues(format.fields, formatValues);
    return {
      ok: errors.length === 0,
      measure:
        errors.length === 0
          ? `Fields of “${format.name}” are filled`
          : errors[0]!.sentence +
            (errors.length > 1 ? ` And ${formatCount(errors.length - 1, 'more field')}.` : ''),
      wanted: 'what the format asks for',
      fix: 'format',
      offer: 'Fill in',
    };
  },
} satisfies Partial<Record<CheckKey, Rule>>;
