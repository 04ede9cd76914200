import type { Absence, Instant, LeadTime, Role, Share, Stage, WeekLoad } from '@keyroster/core';
import type { PersonRef, PersonView } from '../accounts/types.js';

/** A link of a person's own, for the readers' pages. */
export interface PersonLink {
  label: string;
  url: string;
}

/** How somebody wishes to hear of what needs them: on Today, by one mail a day as well, or not at all. */
export const NOTIFY = ['today', 'digest', 'none'] as const;
export type Notify = (typeof NOTIFY)[number];

/** Something that a person has in hand. */
export interface InHand {
  postId: number;
  title: string;
  stage: Stage;
  runLocal: string | null;
  copyDate: string | null;
  as: 'writer' | 'co-author' | 'editor' | 'proofreader';
  late: boolean;
}

/** How quick somebody is, and what that rests on. */
export interface PaceView {
  write: LeadTime;
  review: LeadTime;
  onTime: Share;
}

/** Everything about a person that the newsroom may see. */
export interface PersonPage extends PersonView {
  /** Null: the blog's. */
  zone: string | null;
  biography: string;
  pictureId: number | null;
  links: PersonLink[];
  /** Categories that they write; none: any. */
  writes: number[];
  /** Absences that are not over. */
  absences: Absence[];
  inHand: InHand[];
  /** Posts of theirs that readers see. */
  released: number;
  pace: PaceView;
  /** Only to oneself. */
  wishes: { notify: Notify; digestHour: number } | null;
}

/** What a person says of themselves; the managing editor may, too. */
export interface ProfileChanges {
  name?: string;
  zone?: string | null;
  biography?: string;
  pictureId?: number | null;
  links?: PersonLink[];
  notify?: Notify;
  digestHour?: number;
}

/** Everything that a person has in hand, or what runs in some days, to somebody else. */
export interface Reassignment {
  to: number;
  from: string | null;
  until: string | null;
}

export interface NewInvite {
  name: string;
  email: string;
  role: Role;
  categories: number[];
}

export interface InviteView {
  id: number;
  name: string;
  email: string;
  role: Role;
  madeBy: PersonRef;
  madeAt: Instant;
  expiresAt: Instant;
  state: 'open' | 'used' | 'expired';
}

/** The only time that the address is told. */
export interface InviteMade extends InviteView {
  address: string;
  /** It was mailed, too. */
  mailed: boolean;
}

/** What the invited person sees. */
export interface InviteSeen {
  blog: string;
  name: string;
  email: string;
  role: Role;
  by: string;
  expiresAt: Instant;
  /** The invited person has an account, and accepts with its password. */
  hasAccount: boolean;
}

export interface InviteSecret {
  secret: string;
}

export interface InviteAccepted extends InviteSecret {
  name: string;
  password: string;
}

export interface LoadQuery {
  /** First day; the first day of its week is taken. */
  from?: string;
  weeks?: number;
}

/** What everybody has by week, and how quick they are. */
export interface LoadView {
  /** First days of the weeks. */
  weeks: string[];
  today: string;
  people: { person: PersonRef; capacity: number | null; loads: WeekLoad[]; pace: PaceView }[];
  blog: { write: LeadTime; review: LeadTime };
}

/** A device on which somebody is signed in. */
export interface OwnSession {
  id: string;
  /** What the browser says it is. */
  device: string;
  since: Instant | null;
  until: Instant;
  current: boolean;
}
