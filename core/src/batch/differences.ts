import { ACCESS_NAMES } from '../access/access.js';
import { formatBytes } from '../picture/picture.js';
import {
  BATCH_FIELDS,
  POST_FIELDS,
  type BatchField,
  type FieldSpec,
  type ReferenceKind,
  type TextFieldName,
} from '../posts/fields.js';
import type { Brief, LeadPicture, PostValues } from '../posts/values.js';
import { formatClock, formatCount, formatShortDate } from '../time/format.js';
import type { BatchItem } from './batch.js';
import { named, formatFormatValue, type BatchNames } from './format.js';

/**
 * One difference, as a preview shows it: what was, and what comes. For a set, only what goes and what comes.
 */
export interface DifferenceInWords {
  field: BatchField;
  name: string;
  was: string;
  becomes: string;
}

/** The differences an item makes, in words. */
export function differencesOf({ before, after }: BatchItem, names: BatchNames): DifferenceInWords[] {
  return BATCH_FIELDS.filter((field) => field in after).map((field) => {
    const name = POST_FIELDS[field].label;
    const spec: FieldSpec = POST_FIELDS[field];
    if (spec.kind === 'references') {
      const [was, becomes] = [before, after].map((values) => (values[field] ?? []) as readonly number[]);
      const only = (a: readonly number[], b: readonly number[], sign: string) =>
        a
          .filter((id) => !b.includes(id))
          .map((id) => `${sign} ${nameIn(names, spec.to, id)}`)
          .join(', ');
      return { field, name, was: only(was!, becomes!, '−'), becomes: only(becomes!, was!, '+') };
    }
    return {
      field,
      name,
      was: formatValue(field, before, names),
      becomes: formatValue(field, after, names),
    };
  });
}

/** Formats and pictures have no names here, only numbers. */
const nameIn = ({ people, categories, tags }: BatchNames, kind: ReferenceKind, id: number): string => {
  const known: Partial<Record<ReferenceKind, ReadonlyMap<number, string>>> = {
    person: people,
    category: categories,
    tag: tags,
  };
  return named(known[kind] ?? new Map(), id);
};

/** Texts, and what is named by its id, say themselves; every other field says here how. */
type SpokenField = Exclude<BatchField, TextFieldName | Where<'reference' | 'references'>>;
type Where<K> = { [F in BatchField]: (typeof POST_FIELDS)[F] extends { kind: K } ? F : never }[BatchField];
const SPOKEN: {
  [F in SpokenField]: (value: PostValues[F], names: BatchNames) => string;
} = {
  brief: formatBrief,
  comments: (open) => (open ? 'open' : 'closed'),
  access: (access) => ACCESS_NAMES[access],
  spotlight: (days) => (days ? `${formatShortDate(days.from)} to ${formatShortDate(days.until)}` : 'none'),
  leadPicture: (picture, names) => (picture ? formatPicture(picture, names) : 'none'),
  run: (run) =>
    run ? `${formatShortDate(run.local)} ${run.local.slice(0, 4)} ${formatClock(run.local)}` : 'none',
  binned: (binned) => (binned ? 'bin' : 'archive'),
  formatValues: (values) =>
    Object.entries(values)
      .map(([k, v]) => `${k}: ${formatFormatValue(v)}`)
      .join(', ') || 'empty',
  body: () => 'its text',
  suggested: (suggested) => (suggested ? 'its text with what is suggested' : 'none'),
  slug: (slug) => (slug ? `/${slug}` : 'none'),
  stage: (stage) => stage,
};

function formatValue(field: BatchField, values: BatchItem['after'], names: BatchNames): string {
  const spec: FieldSpec = POST_FIELDS[field];
  const value = values[field];
  if (value === undefined) return '';
  if (spec.kind === 'text') return (value as string) || 'empty';
  if (spec.kind === 'reference')
    return value === null
      ? spec.to === 'person'
        ? 'nobody'
        : 'none'
      : nameIn(names, spec.to, value as number);
  return SPOKEN[field as SpokenField](value as never, names);
}

function formatBrief({ copyDate, length, angle }: Brief): string {
  const parts = [
    copyDate === null ? '' : `copy due ${formatShortDate(copyDate)}`,
    length === null ? '' : formatCount(length, 'word'),
    angle,
  ];
  return parts.filter(Boolean).join(', ') || 'empty';
}

function formatPicture({ media, maxBytes }: LeadPicture, names: BatchNames): string {
  if (maxBytes !== undefined) return `at most ${formatBytes(maxBytes)}`;
  const bytes = names.bytes.get(media);
  return bytes === undefined ? `picture ${media}` : formatBytes(bytes);
}
