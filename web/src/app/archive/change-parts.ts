import { ACCESS, ACCESS_NAMES, STAGES, type BatchChange } from '@keyroster/core';
import { choicesFrom, type Choice } from '../ui/fields';

/** The kinds that are chosen here; plans and reassigning have screens of their own. */
export type ChangeKind = Exclude<BatchChange['kind'], 'plan' | 'reassign'>;
export const CHANGE_KINDS: Choice<ChangeKind>[] = [
  { value: 'byline', label: 'Byline becomes …' },
  { value: 'category', label: 'Category becomes …' },
  { value: 'second category', label: 'Second category becomes …' },
  { value: 'tags', label: 'Tags gain or lose …' },
  { value: 'tags become', label: 'Tags become …' },
  { value: 'tags merge', label: 'Tags merge …' },
  { value: 'categories merge', label: 'Categories merge …' },
  { value: 'stage', label: 'Stage becomes …' },
  { value: 'shift', label: 'Run times move by …' },
  { value: 'spread', label: 'Run times go to open slots …' },
  { value: 'access', label: 'Who may read …' },
  { value: 'comments', label: 'Comments open or close …' },
  { value: 'spotlight', label: 'Spotlight …' },
  { value: 'campaign', label: 'Campaign becomes …' },
  { value: 'format field', label: 'A format’s field becomes …' },
  { value: 'replace', label: 'Find and replace …' },
  { value: 'lighten', label: 'Lead pictures lightened …' },
  { value: 'bin', label: 'To the bin' },
];

/** What a field of the form offers comes from the blog. */
export type Offer = 'people' | 'categories' | 'all categories' | 'tags' | 'campaigns' | 'format fields';
export interface Part {
  label: string;
  as: 'choice' | 'names' | 'name' | 'text' | 'lines' | 'number' | 'date';
  offer?: Offer | Choice<string>[];
  /** What choosing nobody or nothing is called. */
  none?: string;
  placeholder?: string;
  hint?: string;
  min?: number;
  max?: number;
  start?: string;
  /** Asked only when the first field holds this. */
  when?: string;
}

const COMMAS = 'separated by commas';

/** What is asked for each kind of change: at most two fields, whose values a change is made of. */
export const PARTS: Record<ChangeKind, { parts: readonly Part[]; hint?: string }> = {
  byline: { parts: [{ label: 'Byline', as: 'choice', offer: 'people', none: 'nobody' }] },
  category: { parts: [{ label: 'Category', as: 'choice', offer: 'categories' }] },
  'second category': {
    parts: [{ label: 'Second category', as: 'choice', offer: 'all categories', none: 'none' }],
  },
  tags: {
    parts: [
      { label: 'Gain', as: 'names', offer: 'tags', max: 400, placeholder: COMMAS },
      { label: 'Lose', as: 'names', offer: 'tags', max: 400, placeholder: COMMAS },
    ],
  },
  'tags become': {
    parts: [
      {
        label: 'Tags',
        as: 'names',
        offer: 'tags',
        max: 400,
        placeholder: `${COMMAS}; none takes all away`,
      },
    ],
  },
  'tags merge': {
    parts: [
      { label: 'Tags', as: 'names', offer: 'tags', max: 400, placeholder: COMMAS },
      { label: 'Merge into', as: 'name', offer: 'tags', max: 80 },
    ],
    hint: 'In these posts. The tags themselves stay; to end them, with redirects, merge them under Formats.',
  },
  'categories merge': {
    parts: [
      { label: 'Category', as: 'choice', offer: 'all categories' },
      { label: 'Merges into', as: 'choice', offer: 'categories' },
    ],
    hint: 'As first or second category, in these posts. To end a category, with redirects, merge it on the Site page.',
  },
  lighten: {
    parts: [{ label: 'At most, in kB', as: 'number', min: 50, max: 10_000, start: '400' }],
    hint: '300 to 500 kB is right for a page. The heavy ones stay in the library.',
  },
  stage: {
    parts: [
      { label: 'Stage', as: 'choice', offer: choicesFrom(STAGES.filter((s) => s !== 'published')) },
      {
        label: 'What should change?',
        as: 'lines',
        max: 4000,
        hint: 'Goes to each writer as a note.',
        when: 'drafting',
      },
    ],
  },
  shift: {
    parts: [
      { label: 'Days', as: 'number', min: -36_500, max: 36_500, start: '0' },
      { label: 'Minutes', as: 'number', min: -1440, max: 1440, start: '0' },
    ],
    hint: 'Later, or earlier with a minus. The clock on the wall counts: 08:00 stays 08:00.',
  },
  spread: {
    parts: [{ label: 'From', as: 'date', start: 'today' }],
    hint: 'In the order of the table, each to the next open slot of its category.',
  },
  access: {
    parts: [
      {
        label: 'Who may read',
        as: 'choice',
        offer: ACCESS.map((value) => ({ value, label: ACCESS_NAMES[value] })),
      },
    ],
  },
  comments: { parts: [{ label: 'Comments', as: 'choice', offer: choicesFrom(['open', 'closed']) }] },
  spotlight: {
    parts: [
      { label: 'From', as: 'date' },
      { label: 'Until', as: 'date' },
    ],
    hint: 'Both empty takes it away.',
  },
  campaign: {
    parts: [
      { label: 'Campaign', as: 'name', offer: 'campaigns', max: 120, placeholder: 'empty takes it away' },
    ],
  },
  'format field': {
    parts: [
      { label: 'Field', as: 'choice', offer: 'format fields' },
      {
        label: 'Becomes',
        as: 'lines',
        max: 4000,
        placeholder: 'empty takes it away; a list has one thing on a line',
      },
    ],
  },
  replace: {
    parts: [
      { label: 'Find', as: 'text', max: 500 },
      { label: 'Replace with', as: 'text', max: 2000 },
    ],
  },
  bin: { parts: [], hint: 'Readers no longer see them. They wait in the bin and can be restored.' },
};
