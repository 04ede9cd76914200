import type { ChangeField } from '@keyroster/contract';
import { WEEKDAYS } from '@keyroster/core';

/** What people call the ten hues, in their order. */
export const COLOURS = [
  'blue',
  'violet',
  'rust',
  'green',
  'olive',
  'teal',
  'rose',
  'indigo',
  'brown',
  'slate',
];

/** What the fields are called that people change, where a change of them is spoken of. */
const LABELS: Readonly<Record<ChangeField, string>> = {
  weekday: 'Weekday',
  time: 'Time',
  categoryId: 'Category',
  format: 'Kind of post',
  from: 'First day',
  to: 'Last day',
  until: 'Last day',
  everyWeeks: 'Every so many weeks',
  exceptions: 'Dates skipped or moved',
  note: 'Note',
  name: 'Name',
  hue: 'Colour',
  role: 'Role',
  categories: 'Categories',
  active: 'Can sign in',
  capacity: 'Posts a week',
  writes: 'Categories they write',
  zone: 'Time zone',
  biography: 'Biography',
  pictureId: 'Picture',
  links: 'Links',
  alt: 'Alternative text',
  caption: 'Caption',
  credit: 'Credit',
  licence: 'Licence',
  source: 'Source',
  tags: 'Tags',
  focus: 'Focus',
  binned: 'In the bin',
  left: 'Unsubscribed',
  text: 'Text',
  kind: 'Kind',
  protocol: 'How it takes pieces',
  address: 'Address',
  settings: 'Settings',
  limits: 'Lengths',
  voice: 'Voice',
  knowsKeys: 'Never takes a piece twice',
  paused: 'Paused',
  closed: 'Closed',
  hint: 'Hint',
  fields: 'Fields',
  starterText: 'Text to start from',
  retired: 'Retired',
  formats: 'Formats',
  items: 'Items',
  assignee: 'For',
  personId: 'Person',
  daysBefore: 'Days before',
  holds: 'Holds the post back',
  done: 'Done',
  about: 'What it is for',
  outletIds: 'Outlets',
  stops: 'Pieces',
  formatId: 'Format',
  campaignId: 'Campaign',
  byItself: 'Makes its pieces by itself',
  title: 'Title',
  intro: 'Introduction',
  parts: 'Parts',
  slug: 'Address',
  host: 'Host',
  path: 'Path',
  look: 'Look',
  coverId: 'Cover',
  coverAlt: 'Alternative text of the cover',
  postIds: 'Posts',
  published: 'Published',
  subject: 'Subject',
  whole: 'Posts in full',
  tagline: 'Tagline',
  firstWeekday: 'First day of the week',
  checks: 'Checks',
  binDays: 'Days in the bin',
  postsPerPage: 'Posts on a page',
  addressPattern: 'Addresses of posts',
  letter: 'Readers can sign up for the letter',
  letterOpens: 'Opened letters are counted',
  letterClicks: 'Clicks in letters are counted',
  comments: 'Readers can comment',
  commentsHold: 'Comments that wait to be read',
  commentsCloseDays: 'Days until comments close',
  members: 'Readers can sign up as members',
  categoriesInSearch: 'Pages of categories in search engines',
  tagsInSearch: 'Pages of tags in search engines',
  editorsSchedule: 'Editors may schedule in their categories',
  wantedPerWeek: 'Posts wanted in a week',
  start: 'Start here',
  spotlightOrder: 'Order on top',
  rotation: 'Posts that take turns',
  menu: 'Menu',
  panels: 'Side panels',
  around: 'In another site',
};
export const fieldLabel = (field: string): string => LABELS[field as ChangeField];

/** Names by id, of what fields refer to. */
export interface Names {
  category?: (id: number) => string;
}

const MAX_SHOWN = 200;

/** A value as people read it. */
export function valueInWords(value: unknown, field = '', { category }: Names = {}): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (value === null || value === undefined || value === '' || (Array.isArray(value) && value.length === 0))
    return 'empty';
  if ((field === 'weekday' || field === 'firstWeekday') && typeof value === 'number')
    return WEEKDAYS[value - 1] ?? String(value);
  if (field === 'hue') return COLOURS[Number(value) - 1] ?? String(value);
  if (category && typeof value === 'number' && field === 'categoryId') return category(value) || 'deleted';
  if (category && Array.isArray(value) && (field === 'categories' || field === 'writes'))
    return value.map((id) => category(id as number) || 'deleted').join(', ');
  if (typeof value === 'string')
    return `“${value.length > MAX_SHOWN ? `${value.slice(0, MAX_SHOWN)}…` : value}”`;
  if (typeof value === 'number') return field.endsWith('Id') ? `number ${value}` : String(value);
  if (Array.isArray(value) && value.every((v) => typeof v === 'string')) return value.join(', ');
  return Array.isArray(value)
    ? `${value.length} ${value.length === 1 ? 'entry' : 'entries'}`
    : 'another value';
}
