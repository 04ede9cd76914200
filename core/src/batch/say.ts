import { sayBytes } from '../picture/picture.js';
import { sayClock, sayCount, sayShortDate } from '../time/say.js';
import type { BatchChange, BatchField, BatchFields, BatchItem } from './batch.js';

/** Names for the numbers in a batch. */
export interface BatchNames {
  people: ReadonlyMap<number, string>;
  categories: ReadonlyMap<number, string>;
  tags: ReadonlyMap<number, string>;
}

const quoted = (text: string) => (text === '' ? 'nothing' : `“${text}”`);
const list = (words: readonly string[]) => (words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`);
const named = (names: ReadonlyMap<number, string>, id: number) => names.get(id) ?? `number ${id}`;

/** A change in words: `Byline becomes Tobias Orme`. */
export function sayChange(change: BatchChange, names: BatchNames): string {
  const tags = (ids: readonly number[]) => list(ids.map((id) => named(names.tags, id)));
  switch (change.kind) {
    case 'byline': return `Byline becomes ${change.to === null ? 'nobody' : named(names.people, change.to)}`;
    case 'category': return `Category becomes ${named(names.categories, change.to)}`;
    case 'second category': return change.to === null ? 'Second category is taken away' : `Second category becomes ${named(names.categories, change.to)}`;
    case 'tags': return [change.gain.length > 0 ? `Tags gain ${tags(change.gain)}` : '', change.lose.length > 0 ? `${change.gain.length > 0 ? 'and' : 'Tags'} lose ${tags(change.lose)}` : ''].filter(Boolean).join(' ');
    case 'categories merge': return `${list(change.from.map((id) => named(names.categories, id)))} ${change.from.length === 1 ? 'merges' : 'merge'} into ${named(names.categories, change.into)}`;
    case 'tags merge': return `Tags ${tags(change.from)} merge into ${named(names.tags, change.into)}`;
    case 'tags become': return change.to.length === 0 ? 'Tags are taken away' : `Tags become ${tags(change.to)}`;
    case 'access': return change.to === 'everyone' ? 'Everyone may read' : 'Only staff may read';
    case 'comments': return change.to ? 'Comments open' : 'Comments close';
    case 'spotlight': return change.to === null ? 'Spotlight is taken away' : `Spotlight from ${sayShortDate(change.to.from)} to ${sayShortDate(change.to.until)}`;
    case 'campaign': return change.to === '' ? 'Campaign is taken away' : `Campaign becomes ${quoted(change.to)}`;
    case 'format field': return `“${change.key}” becomes ${change.to === null ? 'empty' : quoted(String(change.to))}`;
    case 'replace': return `${change.pattern ? 'Pattern ' : ''}${quoted(change.find)} becomes ${quoted(change.with)} in ${list(change.places)}`;
    case 'lighten': return `Lead pictures become at most ${sayBytes(change.most)}`;
    case 'shift': return `Run times ${sayShift(change)}`;
    case 'spread': return `Run times go to open slots from ${sayShortDate(change.from)}`;
    case 'stage': return `Stage becomes ${change.to}`;
    case 'bin': return 'To the bin';
  }
}

function sayShift({ days, minutes }: { days: number; minutes: number }): string {
  const parts = [days === 0 ? '' : sayCount(Math.abs(days), 'day'), minutes === 0 ? '' : sayCount(Math.abs(minutes), 'minute')].filter(Boolean).join(' and ');
  return `move ${parts} ${(days || minutes) < 0 ? 'earlier' : 'later'}`;
}

/** One difference, as a preview shows it: what was, and what comes. For a set, only what goes and what comes. */
export interface Difference {
  field: BatchField;
  name: string;
  was: string;
  becomes: string;
}

export const FIELD_NAMES: Record<BatchField, string> = {
  bylineId: 'byline', title: 'title', excerpt: 'excerpt', address: 'address', body: 'text', categoryId: 'category', secondCategoryId: 'second category', tagIds: 'tags', access: 'access',
  lead: 'lead picture', comments: 'comments', spotlight: 'spotlight', campaign: 'campaign', formatValues: 'format’s fields', run: 'run time', stage: 'stage', binned: 'place',
};

/** The differences an item makes, in words. */
export function differencesOf({ before, after }: BatchItem, names: BatchNames): Difference[] {
  return (Object.keys(FIELD_NAMES) as BatchField[]).filter((field) => field in after).map((field) => {
    if (field === 'tagIds') {
      const [was, becomes] = [before.tagIds ?? [], after.tagIds ?? []];
      const only = (a: readonly number[], b: readonly number[], sign: string) => a.filter((t) => !b.includes(t)).map((t) => `${sign} ${named(names.tags, t)}`).join(', ');
      return { field, name: FIELD_NAMES.tagIds, was: only(was, becomes, '−'), becomes: only(becomes, was, '+') };
    }
    return { field, name: FIELD_NAMES[field], was: sayValue(field, before, names), becomes: sayValue(field, after, names) };
  });
}

function sayValue(field: BatchField, fields: Partial<BatchFields>, names: BatchNames): string {
  switch (field) {
    case 'bylineId': return (fields.bylineId ?? null) === null ? 'nobody' : named(names.people, fields.bylineId!);
    case 'categoryId': case 'secondCategoryId': { const id = fields[field] ?? null; return id === null ? 'none' : named(names.categories, id); }
    case 'tagIds': return (fields.tagIds ?? []).map((t) => named(names.tags, t)).join(', ');
    case 'comments': return fields.comments ? 'open' : 'closed';
    case 'access': return fields.access === 'staff' ? 'staff only' : 'everyone';
    case 'spotlight': return fields.spotlight ? `${sayShortDate(fields.spotlight.from)} to ${sayShortDate(fields.spotlight.until)}` : 'none';
    case 'lead': return !fields.lead ? 'none' : 'lighten' in fields.lead ? `at most ${sayBytes(fields.lead.most)}` : sayBytes(fields.lead.bytes);
    case 'run': return fields.run ? `${sayShortDate(fields.run.local)} ${fields.run.local.slice(0, 4)} ${sayClock(fields.run.local)}` : 'none';
    case 'binned': return fields.binned ? 'bin' : 'archive';
    case 'formatValues': return Object.entries(fields.formatValues ?? {}).map(([k, v]) => `${k}: ${String(v)}`).join(', ') || 'empty';
    case 'body': return 'its text';
    case 'address': return fields.address ? `/${fields.address}` : 'none';
    case 'title': case 'excerpt': case 'campaign': return fields[field] || 'empty';
    case 'stage': return fields.stage ?? '';
  }
}
