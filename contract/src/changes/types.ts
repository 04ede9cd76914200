import type { Instant } from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';
import type { FieldValues } from '../versioned.js';

/**
 * What people change one at a time, with the fields that are compared and written down, named as in the bodies of the
 * routes that change them.
 */
export const CHANGE_FIELDS = {
  slot: ['weekday', 'time', 'categoryId', 'format', 'from', 'until', 'everyWeeks', 'exceptions'],
  absence: ['from', 'to', 'note'],
  tag: ['name'],
  category: ['name', 'hue'],
  person: ['name', 'role', 'categories', 'active', 'capacity', 'writes'],
  profile: ['name', 'zone', 'biography', 'pictureId', 'links'],
  picture: ['name', 'alt', 'caption', 'credit', 'licence', 'source', 'tags', 'focus', 'binned'],
  subscriber: ['name', 'left'],
  template: ['name', 'text'],
  outlet: [
    'name',
    'kind',
    'protocol',
    'address',
    'settings',
    'limits',
    'voice',
    'knowsKeys',
    'paused',
    'closed',
  ],
  format: ['name', 'hint', 'fields', 'starterText', 'retired'],
  checklist: ['name', 'formats', 'categories', 'items'],
  chore: ['text', 'assignee', 'personId', 'daysBefore', 'holds', 'done'],
  campaign: ['name', 'about', 'from', 'until', 'outletIds'],
  pattern: ['name', 'stops', 'formatId', 'categoryId', 'campaignId', 'byItself'],
  serial: ['title', 'intro', 'parts'],
  special: ['title', 'intro', 'slug', 'host', 'look', 'coverId', 'coverAlt', 'postIds', 'published'],
  letter: ['subject', 'intro', 'whole', 'postIds'],
  blog: ['title', 'tagline', 'zone', 'firstWeekday', 'checks', 'binDays', 'host', 'path'],
  site: [
    'postsPerPage',
    'addressPattern',
    'letter',
    'letterOpens',
    'letterClicks',
    'comments',
    'commentsHold',
    'commentsCloseDays',
    'members',
    'categoriesInSearch',
    'tagsInSearch',
    'editorsSchedule',
    'wantedPerWeek',
    'start',
    'spotlightOrder',
    'rotation',
    'menu',
    'panels',
    'look',
    'around',
  ],
} as const satisfies Record<string, readonly string[]>;
export type ChangeKind = keyof typeof CHANGE_FIELDS;
export type ChangeField = (typeof CHANGE_FIELDS)[ChangeKind][number];

/** One change in the log: who changed what, when, from what to what. */
export interface ChangeView {
  id: number;
  kind: ChangeKind;
  /** What it is called now, or was called when it was removed. */
  name: string;
  by: PersonRef;
  at: Instant;
  /** Null where it was added. */
  was: FieldValues | null;
  /** Null where it was removed. */
  became: FieldValues | null;
  /** Can it be undone? Not what was added or removed, and nothing that is only somebody's own to decide. */
  undoable: boolean;
}

export interface ChangesQuery {
  kind?: ChangeKind;
  /** Only changes before this one. */
  before?: number;
}

export interface ChangesPage {
  /** The newest first. */
  changes: ChangeView[];
  more: boolean;
}
