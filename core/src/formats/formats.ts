import { safeHref } from '../body/schema.js';
import { isDate } from '../time/zone.js';

/** Kinds of field that a format may have. */
export const FIELD_KINDS = ['line', 'text', 'lines', 'number', 'minutes', 'date', 'link', 'choice'] as const;
export type FieldKind = (typeof FIELD_KINDS)[number];

export const FIELD_KIND_NAMES: Record<FieldKind, string> = {
  line: 'one line',
  text: 'some text',
  lines: 'a list, one on a line',
  number: 'a number',
  minutes: 'minutes',
  date: 'a date',
  link: 'a web address',
  choice: 'a choice',
};

export interface FormatField {
  /** Stands for the field in stored values; never changes. */
  key: string;
  label: string;
  kind: FieldKind;
  required: boolean;
  hint: string;
  /** With `choice`: what there is to choose from. */
  choices: readonly string[];
}

/** Values by the field's key: text for most, a number for numbers and minutes, texts for lists. */
export type FormatValue = string | number | readonly string[];
export type FormatValues = Readonly<Record<string, FormatValue>>;

export interface ValueError {
  key: string;
  sentence: string;
}

const isEmpty = (value: FormatValue | undefined) =>
  value === undefined ||
  (typeof value === 'string'
    ? value.trim() === ''
    : Array.isArray(value) && value.every((v) => v.trim() === ''));

const KIND_CHECKS: Record<FieldKind, (value: FormatValue, field: FormatField) => string | null> = {
  line: (v) => (typeof v === 'string' && !v.includes('\n') ? null : 'takes one line'),
  text: (v) => (typeof v === 'string' ? null : 'takes some text'),
  lines: (v) => (Array.isArray(v) ? null : 'takes a list'),
  number: (v) => (typeof v === 'number' && Number.isFinite(v) ? null : 'takes a number'),
  minutes: (v) =>
    typeof v === 'number' && Number.isInteger(v) && v > 0 && v <= 100_000 ? null : 'takes whole minutes',
  date: (v) => (typeof v === 'string' && isDate(v) ? null : 'takes a date'),
  link: (v) =>
    typeof v === 'string' && /^https?:/i.test(v) && safeHref(v) === v
      ? null
      : 'takes a web address that begins with https://',
  choice: (v, field) =>
    typeof v === 'string' && field.choices.includes(v) ? null : `takes one of ${field.choices.join(', ')}`,
};

/**
 * What is wrong with one value; null when it may stand. An empty value may always stand while one is writing.
 */
export function errorOfValue(field: FormatField, value: FormatValue | undefined): string | null {
  if (isEmpty(value)) return null;
  const error = KIND_CHECKS[field.kind](value!, field);
  return error && `“${field.label}” ${error}.`;
}

/** The value that typed text means in a field: numbers for numbers and minutes, a list for lines; null when empty. */
export function formatValueOf(field: FormatField, typed: string): FormatValue | null {
  const text = typed.trim();
  if (text === '') return null;
  if (field.kind === 'lines')
    return text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean);
  if (field.kind !== 'number' && field.kind !== 'minutes') return text;
  const number = Number(text.replace(',', '.'));
  return Number.isFinite(number) ? number : text;
}

/** Required fields that are empty and values that do not fit, in the order of the fields. */
export function errorsOfValues(fields: readonly FormatField[], values: FormatValues): ValueError[] {
  return fields.flatMap((field): ValueError[] => {
    const value = values[field.key];
    if (isEmpty(value))
      return field.required ? [{ key: field.key, sentence: `“${field.label}” is empty.` }] : [];
    const error = errorOfValue(field, value);
    return error ? [{ key: field.key, sentence: error }] : [];
  });
}

/** Fields as people define them, or a sentence that says what is wrong. */
export function errorOfFields(fields: readonly FormatField[]): string | null {
  const keys = new Set<string>();
  for (const field of fields) {
    if (field.label.trim() === '') return 'Every field needs a name.';
    if (keys.has(field.key)) return `Two fields are called “${field.label}”.`;
    keys.add(field.key);
    if (field.kind === 'choice' && field.choices.filter((c) => c.trim() !== '').length < 2)
      return `“${field.label}” needs at least two things to choose from.`;
  }
  return null;
}
