import { Injectable, signal } from '@angular/core';
import { POST_FIELDS, textFieldsIn, type PostField, type TextFieldIn } from '@keyroster/core';

/** Facts of a post that a card may show, beside its title. */
const OWN_FACTS = ['byline', 'time', 'category', 'stage', 'checklist', 'reads'] as const;
/** Fields of text that have a line of their own on cards. */
export const CARD_LINES = textFieldsIn('card');
export type Fact = (typeof OWN_FACTS)[number] | TextFieldIn<'card'>;
export const FACTS: readonly Fact[] = [...OWN_FACTS, ...CARD_LINES];
export const factLabel = (fact: Fact): string =>
  fact in POST_FIELDS ? POST_FIELDS[fact as PostField].label : fact;

const KEY = 'key-roster.planner';
const FIRST: Fact[] = ['byline', 'time', 'stage', 'reads'];

export const TRAY_GROUPS = ['category', 'writer', 'rating', 'nothing'] as const;
export type TrayGrouping = (typeof TRAY_GROUPS)[number];
export const TRAY_SORTS = ['newest', 'oldest', 'best rated', 'pressing'] as const;
export type TraySort = (typeof TRAY_SORTS)[number];

interface Remembered {
  facts?: Fact[];
  view?: string;
  weeks?: string;
  group?: TrayGrouping;
  sort?: TraySort;
  pieces?: boolean;
}

/** How this person likes the planner: facts on cards, view and span; remembered on this device. */
@Injectable({ providedIn: 'root' })
export class PlannerPreferences {
  private readonly kept = signal<Remembered>(read());

  readonly facts = () => new Set(this.kept().facts ?? FIRST);
  readonly view = () => this.kept().view;
  readonly weeks = () => this.kept().weeks;
  /** Are pieces that go out shown on their days? */
  readonly pieces = () => this.kept().pieces ?? false;
  readonly group = (): TrayGrouping => TRAY_GROUPS.find((g) => g === this.kept().group) ?? 'category';
  readonly sort = (): TraySort => TRAY_SORTS.find((s) => s === this.kept().sort) ?? 'newest';

  toggle(fact: Fact): void {
    const facts = this.facts();
    if (!facts.delete(fact)) facts.add(fact);
    this.remember({ facts: FACTS.filter((f) => facts.has(f)) });
  }

  remember(part: Remembered): void {
    this.kept.update((kept) => ({ ...kept, ...part }));
    localStorage.setItem(KEY, JSON.stringify(this.kept()));
  }
}

function read(): Remembered {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Remembered;
    return { ...kept, ...(kept.facts ? { facts: FACTS.filter((f) => kept.facts!.includes(f)) } : {}) };
  } catch {
    return {};
  }
}
