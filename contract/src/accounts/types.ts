import type { CheckSettings, Role, StandingSlot } from '@keyroster/core';

export interface PersonRef {
  id: number;
  name: string;
  initials: string;
}

export interface PersonView extends PersonRef {
  role: Role;
  /** Null for all but oneself where one does not manage people. */
  email: string | null;
  /** Category ids given to an editor. */
  categories: number[];
  active: boolean;
  /** Posts a week that fit, or null while nobody has said. */
  capacity: number | null;
}

export interface Me extends PersonRef {
  role: Role;
  email: string;
  categories: number[];
}

export interface CategoryView {
  id: number;
  name: string;
  slug: string;
  /** 1 to 10, one of the ten category hues. */
  hue: number;
}

export interface BlogView {
  id: number;
  title: string;
  tagline: string;
  zone: string;
  /** ISO weekday on which weeks begin. */
  firstWeekday: number;
  categories: CategoryView[];
  slots: StandingSlot[];
  /** What the blog decided about checks; the others stand as usual. */
  checks: CheckSettings;
  /** Days after which the bin empties itself; null: never. */
  binDays: number | null;
}

/** Who is signed in and where. `blog` is null for visitors. */
export interface SessionView {
  me: Me | null;
  blog: BlogView | null;
  /** Nobody has an account yet: the first one is the managing editor's. */
  needsSetup: boolean;
  demo: boolean;
}

export interface SignIn {
  email: string;
  password: string;
}

export interface SetUp {
  blogTitle: string;
  zone: string;
  name: string;
  email: string;
  password: string;
}

export interface NewPerson {
  name: string;
  email: string;
  password: string;
  role: Role;
  categories: number[];
}

export interface PersonChanges {
  name?: string;
  role?: Role;
  categories?: number[];
  active?: boolean;
  password?: string;
  capacity?: number | null;
}

export interface DemoPerson {
  name: string;
  role: Role;
  email: string;
  password: string;
}
