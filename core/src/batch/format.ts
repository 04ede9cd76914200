import type { FormatValue } from '../formats/formats.js';
import { formatBytes } from '../picture/picture.js';
import { formatList } from '../text/list.js';
import { formatCount, formatShortDate } from '../time/format.js';
import type { Access } from '../posts/values.js';
import { placeLabel, type BatchChange } from './changes.js';

/** Names for the numbers in a batch. */
export interface BatchNames {
  people: ReadonlyMap<number, string>;
  categories: ReadonlyMap<number, string>;
  tags: ReadonlyMap<number, string>;
  /** Bytes of pictures. */
  bytes: ReadonlyMap<number, number>;
}

const WHO_READS: Record<Access, string> = {
  everyone: 'Everyone may read',
  members: 'Only members may read',
  password: 'Only those with the password may read',
  staff: 'Only staff may read',
};

const quoted = (text: string) => (text === '' ? 'nothing' : `“${text}”`);
export const named = (names: ReadonlyMap<number, string>, id: number) => names.get(id) ?? `number ${id}`;

/** A change in words: `Byline becomes Tobias Orme`. */
export function formatChange(change: BatchChange, names: BatchNames): string {
  const tags = (ids: readonly number[]) => formatList(ids.map((id) => named(names.tags, id)));
  switch (change.kind) {
    case 'byline':
      return `Byline becomes ${change.to === null ? 'nobody' : named(names.people, change.to)}`;
    case 'category':
      return `Category becomes ${named(names.categories, change.to)}`;
    case 'second category':
      return change.to === null
        ? 'Second category is removed'
        : `Second category becomes ${named(names.categories, change.to)}`;
    case 'tags':
      return [
        change.gain.length > 0 ? `Tags gain ${tags(change.gain)}` : '',
        change.lose.length > 0 ? `${change.gain.length > 0 ? 'and' : 'Tags'} lose ${tags(change.lose)}` : '',
      ]
        .filter(Boolean)
        .join(' ');
    case 'categories merge':
      return (
        `${formatList(change.from.map((id) => named(names.categories, id)))} ` +
        `${change.from.length === 1 ? 'merges' : 'merge'} into ` +
        `${named(names.categories, change.into)}`
      );
    case 'tags merge':
      return `Tags ${tags(change.from)} merge into ${named(names.tags, change.into)}`;
    case 'tags become':
      return change.to.length === 0 ? 'Tags are removed' : `Tags become ${tags(change.to)}`;
    case 'access':
      return WHO_READS[change.to];
    case 'comments':
      return change.to ? 'Comments open' : 'Comments close';
    case 'spotlight':
      return change.to === null
        ? 'Spotlight is removed'
        : `Spotlight from ${formatShortDate(change.to.from)} to ${formatShortDate(change.to.until)}`;
    case 'campaign':
      return change.to === '' ? 'Campaign is removed' : `Campaign becomes ${quoted(change.to)}`;
    case 'format field':
      return `“${change.key}” becomes ${change.to === null ? 'empty' : quoted(formatFormatValue(change.to))}`;
    case 'replace':
      return (
        `${change.pattern ? 'Pattern ' : ''}${quoted(change.find)} becomes ` +
        `${quoted(change.with)} in ${formatList(change.places.map(placeLabel))}`
      );
    case 'lighten':
      return `Lead pictures become at most ${formatBytes(change.max)}`;
    case 'shift':
      return `Run times ${formatShift(change)}`;
    case 'spread':
      return `Run times go to open slots from ${formatShortDate(change.from)}`;
    case 'stage':
      return `Stage becomes ${change.to}`;
    case 'plan':
      return `${formatCount(change.places.length, 'post')} ${change.places.length === 1 ? 'takes its' : 'take their'} place in a plan`;
    case 'reassign':
      return `What ${named(names.people, change.from)} has in hand becomes ${named(names.people, change.to)}’s`;
    case 'bin':
      return 'To the bin';
  }
}

function formatShift({ days, minutes }: { days: number; minutes: number }): string {
  const parts = [
    days === 0 ? '' : formatCount(Math.abs(days), 'day'),
    minutes === 0 ? '' : formatCount(Math.abs(minutes), 'minute'),
  ]
    .filter(Boolean)
    .join(' and ');
  return `move ${parts} ${(days || minutes) < 0 ? 'earlier' : 'later'}`;
}

export const formatFormatValue = (value: FormatValue): string =>
  typeof value === 'object' ? formatList(value) : String(value);
