import { CHECKS } from '../checks/check.js';
import { ACCESS } from '../posts/values.js';
import { STAGES } from '../stages/stages.js';
import { formatShortDate, MONTHS } from '../time/format.js';
import { addDays, isDate } from '../time/zone.js';

/**
 * What a filter can ask of a post, and what its value is: a name of something on the blog, one of a few
 * words, a span of days, or a number.
 */
export const FILTER_KEYS = {
  byline: { takes: 'name', ask: 'who is credited' },
  category: { takes: 'name', ask: 'either of its categories' },
  tag: { takes: 'name', ask: 'one of its tags' },
  stage: { takes: 'words', ask: 'where it stands', values: STAGES as readonly string[] },
  released: { takes: 'span', ask: 'a year, month, day or span of run times' },
  changed: { takes: 'span', ask: 'when it was last changed' },
  format: { takes: 'name', ask: 'its format' },
  campaign: { takes: 'name', ask: 'the push it belongs to' },
  access: { takes: 'words', ask: 'who may read it', values: ACCESS as readonly string[] },
  checks: { takes: 'words', ask: 'what its checks say', values: ['blocking', 'warning', 'fine', ...CHECKS] },
  has: {
    takes: 'words',
    ask: 'what is filled in',
    values: [
      'picture',
      'excerpt',
      'category',
      'tags',
      'byline',
      'address',
      'run-time',
      'text',
      'format',
      'search-description',
      'spotlight',
      'comments',
      'notes',
    ],
  },
  lacks: {
    takes: 'words',
    ask: 'what is missing',
    values: [
      'picture',
      'excerpt',
      'category',
      'tags',
      'byline',
      'address',
      'run-time',
      'text',
      'format',
      'search-description',
      'spotlight',
      'comments',
      'notes',
    ],
  },
  'changed-by': { takes: 'name', ask: 'who changed it at any time' },
  batch: { takes: 'number', ask: 'the batch that changed it' },
  in: { takes: 'words', ask: 'where it lies', values: ['bin'] },
} as const satisfies Record<
  string,
  { takes: 'name' | 'words' | 'span' | 'number'; ask: string; values?: readonly string[] }
>;
export type FilterKey = keyof typeof FILTER_KEYS;

export interface FilterToken {
  key: FilterKey;
  /** Without quotation marks; never empty. */
  value: string;
  /** Posts for which it does not hold. */
  not: boolean;
}

/**
 * What a filter line asks: tokens of one key are alternatives, tokens of different keys all hold, and so do
 * the words.
 */
export interface Filter {
  /** For full-text search, with phrases in quotation marks and a minus before what must not be there. */
  words: string;
  tokens: FilterToken[];
}

const LIKE_TOKEN = /(-?)([a-z-]+):(?:"([^"]*)"|([^\s"]+))|(-?"[^"]*"?|\S+)/gu;

/**
 * Reads a filter line, such as `"raw water" -pump byline:"Tobias Orme" released:2023..2024 lacks:picture`.
 * What looks like a token of no known key stays among the words, so that a web address can be searched for.
 */
export function parseFilter(line: string): Filter {
  const tokens: FilterToken[] = [];
  const words: string[] = [];
  for (const found of line.normalize('NFC').matchAll(LIKE_TOKEN)) {
    const [whole, minus, key, quoted, plain] = found;
    const value = (quoted ?? plain ?? '').trim();
    if (key !== undefined && Object.hasOwn(FILTER_KEYS, key)) {
      if (value !== '') tokens.push({ key: key as FilterKey, value, not: minus === '-' });
    } else words.push(whole);
  }
  return { words: words.join(' '), tokens };
}

/** The token as it is typed. */
export function writeToken({ key, value, not }: FilterToken): string {
  const plain = value.replaceAll('"', '');
  return `${not ? '-' : ''}${key}:${/\s/.test(plain) || plain === '' ? `"${plain}"` : plain}`;
}

/** The line that reads as this filter: tokens first, then the words. */
export function writeFilter(filter: Filter): string {
  return [...filter.tokens.map(writeToken), filter.words].filter(Boolean).join(' ');
}

/** A span of days: from the first to before `until`; an open end is null. */
export interface DaySpan {
  from: string | null;
  until: string | null;
}

/** The days a year, month or date covers, or null when it is none. */
function daysOf(text: string): { from: string; until: string } | null {
  if (/^\d{4}$/.test(text))
    return Number(text) < 1
      ? null
      : { from: `${text}-01-01`, until: `${String(Number(text) + 1).padStart(4, '0')}-01-01` };
  const month = /^(\d{4})-(\d{2})$/.exec(text);
  if (month) {
    const [year, at] = [Number(month[1]), Number(month[2])];
    if (year < 1 || at < 1 || at > 12) return null;
    return {
      from: `${text}-01`,
      until:
        at === 12
          ? `${String(year + 1).padStart(4, '0')}-01-01`
          : `${month[1]}-${String(at + 1).padStart(2, '0')}-01`,
    };
  }
  return isDate(text) ? { from: text, until: addDays(text, 1) } : null;
}

/**
 * `2023`, `2023-05`, `2023-05-04`, and two of them with `..` between, either left out; null when it is no
 * span.
 */
export function spanOf(value: string): DaySpan | null {
  const parts = value.split('..');
  if (parts.length > 2) return null;
  const [first, last] =
    parts.length === 1
      ? [daysOf(value), daysOf(value)]
      : parts.map((p) => (p === '' ? undefined : daysOf(p)));
  if (first === null || last === null || (first === undefined && last === undefined)) return null;
  const span = { from: first?.from ?? null, until: last?.until ?? null };
  return span.from !== null && span.until !== null && span.from >= span.until ? null : span;
}

/** A span in words: `2023`, `May 2023`, `before 1 Jan 2024`. `today` leaves its own year out of dates. */
export function formatSpan(value: string, today: string): string {
  const span = spanOf(value);
  if (!span) return value;
  if (/^\d{4}$/.test(value)) return value;
  const month = /^(\d{4})-(\d{2})$/.exec(value);
  if (month) return `${MONTHS[Number(month[2]) - 1]} ${month[1]}`;
  const day = (date: string) => formatShortDate(date, today);
  if (!value.includes('..')) return day(value);
  if (span.from === null) return `before ${day(span.until!)}`;
  return span.until === null
    ? `from ${day(span.from)}`
    : `${day(span.from)} to ${day(addDays(span.until, -1))}`;
}

/** Names on the blog that tokens can mean. */
export type FilterNames = Partial<Record<FilterKey, readonly string[]>>;

/** What is wrong with a token, in a sentence, or null. `nobody` and `none` mean that there is none. */
export function tokenError({ key, value }: FilterToken, names: FilterNames): string | null {
  const rule = FILTER_KEYS[key];
  const known = 'values' in rule ? (rule.values as readonly string[]) : names[key];
  const same = (a: string) => a.toLowerCase() === value.toLowerCase();
  switch (rule.takes) {
    case 'span':
      return spanOf(value)
        ? null
        : `“${value}” is no span of days. Write 2023, 2023-05, 2023-05-04, or two with .. between.`;
    case 'number':
      return /^\d{1,9}$/.test(value) ? null : `“${value}” is no number.`;
    case 'words':
      return known!.some(same) ? null : `${key} knows ${(known as string[]).join(', ')}; not “${value}”.`;
    case 'name':
      return !known || known.some(same) || value === 'nobody' || value === 'none'
        ? null
        : `There is no ${key.replace('-', ' ')} “${value}” on this blog.`;
  }
}

export interface Completion {
  /** Replaces the word that is being typed. */
  put: string;
  /** What is shown. */
  name: string;
  hint: string;
}

const MAX_COMPLETIONS = 8;

/**
 * What the word before the caret could become: keys, and once a key is there its values. `today` gives spans
 * to choose from.
 */
export function completionsOf(word: string, names: FilterNames, today: string): Completion[] {
  const found = /^(-?)([a-z-]*)(?::"?(.*))?$/iu.exec(word);
  if (!found) return [];
  const [, minus = '', typed = '', value] = found;
  const key = typed.toLowerCase();
  if (value === undefined) {
    if (key === '') return [];
    const keys = (Object.keys(FILTER_KEYS) as FilterKey[]).filter((k) => k.startsWith(key));
    // A name typed without its key finds the key.
    const named = (['byline', 'category', 'tag', 'stage'] as const).flatMap((k) =>
      valuesOf(k, names, today)
        .filter((v) => key.length > 1 && v.toLowerCase().startsWith(key))
        .slice(0, 3)
        .map((v) => ({
          put: writeToken({ key: k, value: v, not: minus === '-' }),
          name: `${k} ${v}`,
          hint: '',
        })),
    );
    return [
      ...keys.map((k) => ({ put: `${minus}${k}:`, name: k, hint: FILTER_KEYS[k].ask })),
      ...named,
    ].slice(0, MAX_COMPLETIONS);
  }
  if (!Object.hasOwn(FILTER_KEYS, key)) return [];
  const at = key as FilterKey;
  const wanted = value.replace(/"$/, '').toLowerCase();
  const values = valuesOf(at, names, today);
  return [
    ...values.filter((v) => v.toLowerCase().startsWith(wanted)),
    ...values.filter((v) => !v.toLowerCase().startsWith(wanted) && v.toLowerCase().includes(wanted)),
  ]
    .slice(0, MAX_COMPLETIONS)
    .map((v) => ({
      put: writeToken({ key: at, value: v, not: minus === '-' }),
      name: FILTER_KEYS[at].takes === 'span' ? formatSpan(v, today) : v,
      hint: '',
    }));
}

function valuesOf(key: FilterKey, names: FilterNames, today: string): readonly string[] {
  const rule = FILTER_KEYS[key];
  if ('values' in rule) return rule.values;
  if (rule.takes !== 'span') return names[key] ?? [];
  const year = Number(today.slice(0, 4));
  return [
    today.slice(0, 7),
    `${today.slice(0, 7)}..`,
    `..${today}`,
    ...Array.from({ length: 6 }, (_, i) => String(year - i)),
  ];
}
