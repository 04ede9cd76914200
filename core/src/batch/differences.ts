import { ACCESS_NAMES } from '../access/access.js';
import { formatBytes } from '../picture/picture.js';
import { BATCH_FIELDS, POST_FIELDS, type BatchField } from '../post/fields.js';
import type { Brief, LeadPicture } from '../post/values.js';
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
    if (field === 'tagIds' || field === 'coauthorIds') {
      const [was, becomes] = [before[field] ?? [], after[field] ?? []];
      const known = field === 'tagIds' ? names.tags : names.people;
      const only = (a: readonly number[], b: readonly number[], sign: string) =>
        a
          .filter((id) => !b.includes(id))
          .map((id) => `${sign} ${named(known, id)}`)
          .join(', ');
      return {
        field,
        name: POST_FIELDS[field].label,
        was: only(was, becomes, '−'),
        becomes: only(becomes, was, '+'),
      };
    }
    return {
      field,
      name: POST_FIELDS[field].label,
      was: formatValue(field, before, names),
      becomes: formatValue(field, after, names),
    };
  });
}

function formatValue(field: BatchField, fields: BatchItem['after'], names: BatchNames): string {
  switch (field) {
    case 'bylineId':
    case 'editorId':
    case 'proofreaderId': {
      const id = fields[field] ?? null;
      return id === null ? 'nobody' : named(names.people, id);
    }
    case 'coauthorIds':
      return (fields.coauthorIds ?? []).map((id) => named(names.people, id)).join(', ');
    case 'brief':
      return fields.brief ? formatBrief(fields.brief) : 'none';
    case 'categoryId':
    case 'secondCategoryId': {
      const id = fields[field] ?? null;
      return id === null ? 'none' : named(names.categories, id);
    }
    case 'tagIds':
      return (fields.tagIds ?? []).map((t) => named(names.tags, t)).join(', ');
    case 'comments':
      return fields.comments ? 'open' : 'closed';
    case 'access':
      return fields.access === undefined ? '' : ACCESS_NAMES[fields.access];
    case 'spotlight':
      return fields.spotlight
        ? `${formatShortDate(fields.spotlight.from)} to ${formatShortDate(fields.spotlight.until)}`
        : 'none';
    case 'leadPicture':
      return fields.leadPicture ? formatPicture(fields.leadPicture, names) : 'none';
    case 'run':
      return fields.run
        ? `${formatShortDate(fields.run.local)} ${fields.run.local.slice(0, 4)} ${formatClock(fields.run.local)}`
        : 'none';
    case 'binned':
      return fields.binned ? 'bin' : 'archive';
    case 'formatValues':
      return (
        Object.entries(fields.formatValues ?? {})
          .map(([k, v]) => `${k}: ${formatFormatValue(v)}`)
          .join(', ') || 'empty'
      );
    case 'body':
      return 'its text';
    case 'suggested':
      return fields.suggested ? 'its text with what is suggested' : 'none';
    case 'slug':
      return fields.slug ? `/${fields.slug}` : 'none';
    case 'title':
    case 'excerpt':
    case 'campaign':
      return fields[field] || 'empty';
    case 'stage':
      return fields.stage ?? '';
  }
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
